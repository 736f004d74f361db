import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";

/** "2 more presses and 1 taken back" */
export const lateWords = ({ more, fewer }: { more: number; fewer: number }): string =>
  listed([
    ...(more > 0 ? [`${more} more ${plural(more, "press", "presses")}`] : []),
    ...(fewer > 0 ? [`${fewer} taken back`] : []),
  ]);
