import { useEffect, useState } from "react";
import { useAwake } from "#app/ui/use-awake.ts";
import { forgetDraft, keepDraft, readDraft } from "./tab-draft.ts";

/**
 * What stands in a form, stored for this tab at each change: begins as `fresh`, or continues what this tab had left.
 *
 * @param name of the draft; a change of it continues another one
 * @param reads turns what was stored into the content of the form; null where it is none
 * @param isTyped is there anything in it that would be lost?
 */
export function useDraft<T>(
  name: string,
  fresh: T,
  { reads, isTyped }: { reads: (left: unknown) => T | null; isTyped: (content: T) => boolean },
) {
  const [content, setContent] = useState(fresh);
  const [continued, setContinued] = useState<string | null>(null);
  const [read, setRead] = useState<string | null>(null);
  const awake = useAwake();
  // In the first drawing the page stands as the server drew it.
  if (awake && read !== name) {
    const left = reads(readDraft(name));
    if (left !== null && isTyped(left)) {
      setContent(left);
      setContinued(name);
    }
    setRead(name);
  }
  useEffect(() => {
    if (read === name && isTyped(content)) keepDraft(name, content);
  }, [name, content, read, isTyped]);
  return {
    content,
    setContent,
    /** Was a draft continued? */
    continued: continued === name,
    /** Do scripts run, and was the draft looked for? */
    awake: read === name,
    startOver: (anew: T = fresh) => {
      forgetDraft(name);
      setContent(anew);
      setContinued(null);
    },
  };
}

/** Field name → text, as a stored draft has it; null for anything else. */
export function readTexts(left: unknown): Record<string, string> | null {
  return typeof left === "object" &&
    left !== null &&
    Object.values(left).every((text) => typeof text === "string")
    ? (left as Record<string, string>)
    : null;
}
