import { useCallback, useEffect, useState } from "react";
import { forgetDraft, forgettingDraft, keepDraft, readDraft } from "#app/ui/tab-draft.ts";
import type { Values } from "#app/measures/entry-form.ts";
import { hasMarks } from "#app/measures/entry-forms.ts";
import type { FieldsProps } from "#app/measures/rows.tsx";

/** A sheet that is not saved yet. It is stored for this tab, so that a reload or a wrong turn loses nothing. */
export interface EntryDraft {
  entryId: string;
  values: Values;
}

const nameOf = (goalId: string) => `sheet ${goalId}`;

function leftOf(goalId: string): EntryDraft | null {
  const parsed = readDraft(nameOf(goalId));
  if (typeof parsed !== "object" || parsed === null) return null;
  const { entryId, values } = parsed as Record<string, unknown>;
  if (typeof entryId !== "string" || typeof values !== "object" || values === null) return null;
  return Object.values(values).every((value) => typeof value === "string")
    ? { entryId, values: values as Values }
    : null;
}

/** Runs the action of a goal's form and deletes its draft once it is saved. */
export const savingEntry = <T>(goalId: string, action: () => Promise<T>): Promise<T> =>
  forgettingDraft(nameOf(goalId), action);

/** The draft of a goal: starts as `fresh`, continues what this tab had left, and is kept at each change. */
export function useEntryDraft(goalId: string, fresh: EntryDraft) {
  const [draft, setDraft] = useState(fresh);
  const [continued, setContinued] = useState(false);
  const [hydrated, setHydrated] = useState(false);
  useEffect(() => {
    const left = leftOf(goalId);
    if (left && hasMarks(left.values)) {
      setDraft(left);
      setContinued(true);
    }
    setHydrated(true);
  }, [goalId]);
  useEffect(() => {
    if (hydrated && hasMarks(draft.values)) keepDraft(nameOf(goalId), draft);
  }, [goalId, draft, hydrated]);
  /** A change is made of what stands at that moment: two marks between two paints are two marks. */
  const change = useCallback(
    (make: (before: Values) => Values) =>
      setDraft(({ entryId, values }) => ({ entryId, values: { ...values, ...make(values) } })),
    [],
  );
  const set = useCallback<FieldsProps["set"]>(
    (name, value) =>
      change((before) => ({ [name]: typeof value === "function" ? value(before[name] ?? "") : value })),
    [change],
  );
  return {
    draft,
    continued,
    hydrated,
    change,
    set,
    startOver: () => {
      forgetDraft(nameOf(goalId));
      setDraft(fresh);
      setContinued(false);
    },
  };
}
