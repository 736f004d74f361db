import { useEffect, useEffectEvent } from "react";
import type { LetterKeys } from "#core/model/letter-keys.ts";

const place = "gentle-margin letter keys";

/** What single letters do for the person of this browser: as the server said last. */
function letterKeys(): LetterKeys {
  try {
    return (localStorage.getItem(place) as LetterKeys | null) ?? "plain";
  } catch {
    return "plain";
  }
}

export function setLetterKeys(way: LetterKeys): void {
  try {
    localStorage.setItem(place, way);
  } catch {
    // A browser that stores nothing takes letters as they are.
  }
}

/**
 * The key that a press means as a shortcut; null where it means none. Letters, digits and signs follow the person's choice (WCAG 2.1.4):
 * alone, together with Alt, or never. Arrows, space, Enter and Escape are no characters.
 */
export function keyMeant({ key, code, altKey }: KeyboardEvent): string | null {
  const way = key.length === 1 && key !== " " ? letterKeys() : "plain";
  if (way === "off" || altKey !== (way === "alt")) return null;
  // With Alt some keyboards write another sign.
  return ((altKey && /^(?:Key|Digit|Numpad)(.)$/.exec(code)?.[1]) || key).toLowerCase();
}

/** A field of a closed dialog keeps the focus until the next frame: a key pressed in between is not typed into it. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) &&
    !target.closest("dialog:not([open])")
  );
}

/**
 * Keyboard shortcuts: `"u"`, `"mod+k"` (Ctrl or ⌘), or two in a row such as `"g c"`. Single letters never fire while
 * typing, with a modifier held, or while a dialog is open.
 *
 * Ours: the smallest library for keys is 0.9 kB on every page (measured, gzipped) where this is 0.4, and does not know of dialogs.
 */
export function useKeys(keys: Record<string, () => void>): void {
  const actOf = useEffectEvent((name: string): (() => void) | undefined => keys[name]);
  useEffect(() => {
    let before = "";
    let beforeAt = 0;
    function onKey(event: KeyboardEvent) {
      if (event.defaultPrevented || event.isComposing) return;
      const modified = event.ctrlKey || event.metaKey;
      if (!modified && (isTyping(event.target) || document.querySelector("dialog[open]"))) return;
      const key = modified ? (event.altKey ? null : event.key.toLowerCase()) : keyMeant(event);
      if (key === null) return;
      const chord = event.timeStamp - beforeAt < 1500 ? actOf(`${before} ${key}`) : undefined;
      const act = modified ? actOf(`mod+${key}`) : (chord ?? actOf(key));
      before = key;
      beforeAt = event.timeStamp;
      if (!act) return;
      event.preventDefault();
      act();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
