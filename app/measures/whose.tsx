import { createContext, use } from "react";

/** Whose panel this is, where several students have one; null where there is only one. */
export const WhoseContext = createContext<string | null>(null);

/** Ends the name of a button with its student, so that "Correct" is one button for who hears it or speaks it. */
export function Whose() {
  const name = use(WhoseContext);
  return name === null ? null : <span className="sr-only">, {name}</span>;
}
