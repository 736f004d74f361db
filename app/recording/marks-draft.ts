import { useEffect, useState } from "react";

/** Marks not yet saved, kept for this tab so that a reload or a wrong turn loses none. */
export interface MarksDraft {
  entryId: string;
  observedAt: string;
  marks: string;
  note: string;
}

const keyOf = (goalId: string) => `gentle-margin marks ${goalId}`;

function readDraft(goalId: string): MarksDraft | null {
  try {
    const parsed: unknown = JSON.parse(sessionStorage.getItem(keyOf(goalId)) ?? "null");
    if (typeof parsed !== "object" || parsed === null) return null;
    const { entryId, observedAt, marks, note } = parsed as Record<string, unknown>;
    const texts = [entryId, observedAt, marks, note];
    return texts.every((text) => typeof text === "string")
      ? { entryId: String(entryId), observedAt: String(observedAt), marks: String(marks), note: String(note) }
      : null;
  } catch {
    return null;
  }
}

export function forgetDraft(goalId: string): void {
  try {
    sessionStorage.removeItem(keyOf(goalId));
  } catch {
    // A browser that keeps nothing has nothing to forget.
  }
}

/** The draft of a goal: starts as `fresh`, continues what this tab had left, and is kept at each change. */
export function useMarksDraft(goalId: string, fresh: MarksDraft) {
  const [draft, setDraft] = useState(fresh);
  const [continued, setContinued] = useState(false);
  const [hydrated, setHydrated] = useState(false);
  useEffect(() => {
    const left = readDraft(goalId);
    if (left && (left.marks !== "" || left.note !== "")) {
      setDraft(left);
      setContinued(true);
    }
    setHydrated(true);
  }, [goalId]);
  useEffect(() => {
    if (!hydrated || (draft.marks === "" && draft.note === "")) return;
    try {
      sessionStorage.setItem(keyOf(goalId), JSON.stringify(draft));
    } catch {
      // Without storage the marks live as long as the page.
    }
  }, [goalId, draft, hydrated]);
  return {
    draft,
    continued,
    hydrated,
    /** A change is made of what stands at that moment: two marks between two paints are two marks. */
    change: (make: (before: MarksDraft) => Partial<MarksDraft>) =>
      setDraft((before) => ({ ...before, ...make(before) })),
    startOver: () => {
      forgetDraft(goalId);
      setDraft(fresh);
      setContinued(false);
    },
  };
}
