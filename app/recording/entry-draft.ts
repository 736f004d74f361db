import { useCallback } from "react";
import { forgettingDraft } from "#app/kit/tab-draft.ts";
import { readTexts, useDraft } from "#app/kit/use-draft.ts";
import type { Values } from "#app/measures/entry-form.ts";
import { hasMarks } from "#app/measures/entry-forms.ts";
import type { FieldsProps } from "#app/measures/rows.tsx";

/** A sheet that is not saved yet. It is stored for this tab, so that a reload or a wrong turn loses nothing. */
export interface EntryDraft {
  entryId: string;
  values: Values;
}

const nameOf = (goalId: string) => `sheet ${goalId}`;

const draftKind = {
  reads(left: unknown): EntryDraft | null {
    const { entryId, values } = (left ?? {}) as Record<string, unknown>;
    const texts = readTexts(values);
    return typeof entryId === "string" && texts ? { entryId, values: texts } : null;
  },
  isTyped: ({ values }: EntryDraft) => hasMarks(values),
};

/** Runs the action of a goal's form and deletes its draft once it is saved. */
export const savingEntry = <T>(goalId: string, action: () => Promise<T>): Promise<T> =>
  forgettingDraft(nameOf(goalId), action);

/** The draft of a goal: starts as `fresh`, continues what this tab had left, and is stored at each change. */
export function useEntryDraft(goalId: string, fresh: EntryDraft) {
  const { content, setContent, ...draft } = useDraft(nameOf(goalId), fresh, draftKind);
  /** A change is made of what stands at that moment: two marks between two paints are two marks. */
  const change = useCallback(
    (make: (before: Values) => Values) =>
      setContent(({ entryId, values }) => ({ entryId, values: { ...values, ...make(values) } })),
    [setContent],
  );
  const set = useCallback<FieldsProps["set"]>(
    (name, value) =>
      change((before) => ({ [name]: typeof value === "function" ? value(before[name] ?? "") : value })),
    [change],
  );
  return { draft: content, change, set, ...draft };
}
