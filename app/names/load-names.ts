import type {} from "react";

declare module "react" {
  namespace JSX {
    interface IntrinsicElements {
      /** Names of other students in the note of the same `.noted`; `about` is the student whose record it is. */
      "names-under": { about: string };
    }
  }
}

/** Loads the watch over names when a note is begun that has a place for it: `<names-under about="…">` right after its field. */
if (typeof document !== "undefined")
  document.addEventListener("focusin", ({ target }) => {
    if (target instanceof HTMLElement && target.closest(".noted")?.querySelector("names-under"))
      void import("./names-under.ts");
  });
