import type {} from "react";

declare module "react" {
  // React looks for elements of its JSX in a namespace.
  // eslint-disable-next-line @typescript-eslint/no-namespace
  namespace JSX {
    interface IntrinsicElements {
      /** Names of other students in the note beside it; `about` is the student whose record it is. */
      "names-under": { about: string };
    }
  }
}

/** Loads the watch over names where a view has a place for it: `<names-under about="…">` beside its field. */
if (typeof document !== "undefined")
  document.addEventListener("focusin", () => {
    if (document.querySelector("names-under")) void import("./names-under.ts");
  });
