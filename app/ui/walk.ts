import type { KeyboardEvent } from "react";

const steps: Partial<Record<string, (from: DOMRect, to: DOMRect) => boolean>> = {
  ArrowDown: (from, to) => to.top >= from.bottom - 2,
  ArrowUp: (from, to) => to.bottom <= from.top + 2,
  ArrowRight: (from, to) => to.left >= from.right - 2 && Math.abs(to.top - from.top) < from.height / 2,
  ArrowLeft: (from, to) => to.right <= from.left + 2 && Math.abs(to.top - from.top) < from.height / 2,
};

/** From a goal the arrow keys lead to the one that lies next that way. */
export function walk(event: KeyboardEvent<HTMLElement>): void {
  const isThatWay = steps[event.key];
  const here = (event.target as Element).closest<HTMLElement>("[data-goal]");
  if (!isThatWay || !here) return;
  const from = here.getBoundingClientRect();
  const others = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-goal]")]
    .map((element) => ({ element, box: element.getBoundingClientRect() }))
    .filter(({ element, box }) => element !== here && isThatWay(from, box))
    .map(({ element, box }) => ({
      element,
      // What lies straight ahead comes first.
      far: Math.abs(box.top - from.top) * 4 + Math.abs(box.left - from.left),
    }));
  const next = others.sort((a, b) => a.far - b.far)[0];
  if (!next) return;
  event.preventDefault();
  next.element.focus();
}
