import { useLayoutEffect, useRef } from "react";
import { keyMeant } from "#app/ui/keys.ts";

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (/^(TEXTAREA|SELECT)$/.test(target.tagName) ||
    (target instanceof HTMLInputElement && target.type !== "radio" && target.type !== "checkbox"));

/** The row of a grid that a digit marks: the one in focus, or the first that is still open. */
function rowFor(panel: Element): Element | null {
  return (
    document.activeElement?.closest("[data-row]") ??
    panel.querySelector("[data-row][data-open]") ??
    panel.querySelector("[data-row]")
  );
}

/**
 * The keys of a sitting: digits, space, `u` and `n` press what bears that key in the active panel, `→` and `←` go to the
 * next panel and back. In a grid a digit marks the row in focus, or the first open one, and the next row is ready.
 */
export function useSittingKeys(step: (by: 1 | -1) => void): void {
  const latest = useRef(step);
  useLayoutEffect(() => {
    latest.current = step;
  });
  // Before the panels are painted: a key pressed as soon as they are seen is heard.
  useLayoutEffect(() => {
    // What one came to by Tab, until something else than this is pressed.
    let tabbedTo: Element | null = null;
    const leave = () => {
      tabbedTo = null;
    };
    function onKey(event: KeyboardEvent) {
      if (event.key === "Tab") setTimeout(() => (tabbedTo = document.activeElement));
      else if (!/^( |Enter|Shift)$/.test(event.key)) leave();
      if (event.defaultPrevented || event.isComposing || event.ctrlKey || event.metaKey) return;
      if (typing(event.target) || document.querySelector("dialog[open]")) return;
      const key = keyMeant(event);
      if (key === null) return;
      const inRows = event.target instanceof HTMLInputElement;
      if ((key === "arrowright" || key === "arrowleft") && !inRows) {
        event.preventDefault();
        latest.current(key === "arrowright" ? 1 : -1);
        return;
      }
      const panel = document.querySelector("[data-shown]");
      if (!panel || key.length !== 1 || key === '"' || key === "\\") return;
      // The space bar is the clock's, wherever the focus was left: by a touch, by a mark, or by a dialog that closed.
      if (key === " " && event.target === tabbedTo) return;
      const row = /^[1-9]$/.test(key) ? panel.querySelector("[data-row]") && rowFor(panel) : null;
      const pressed = (row ?? panel).querySelector<HTMLElement>(`[data-key="${key}"]`);
      if (!pressed) return;
      event.preventDefault();
      pressed.click();
      row?.nextElementSibling?.querySelector<HTMLInputElement>("input")?.focus();
    }
    window.addEventListener("keydown", onKey);
    window.addEventListener("pointerdown", leave);
    return () => {
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("pointerdown", leave);
    };
  }, []);
}
