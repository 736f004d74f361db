import { AsyncLocalStorage } from "node:async_hooks";
import type { ServerContext } from "../access/authorize.ts";
import type { Printer } from "../exports/printer.ts";
import type { Hub } from "../live/hub.ts";

/** What each loader and action receives beside its request. */
export interface AppContext extends ServerContext {
  hub: Hub;
  nonce: string;
  /** Prints PDFs, in a process of its own. */
  printer: Printer;
  /** The folder of what pages load. */
  assets: string;
  /** Aborted once the other end has its whole answer or has left. */
  gone: AbortSignal;
}

declare module "react-router" {
  interface AppLoadContext extends AppContext {}
}

/** What the web server knows of the request at hand and a web-standard Request cannot carry. */
export const requestFacts = new AsyncLocalStorage<
  Pick<AppContext, "nonce" | "secure" | "address" | "gone">
>();
