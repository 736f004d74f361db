import { createContext } from "react";

/** The nonce of this answer's Content-Security-Policy; only the server knows it. */
export const NonceContext = createContext<string | undefined>(undefined);
