import { useEffect, useMemo, useRef, useState } from "react";
import { useFetcher, useLocation } from "react-router";
import type { Span } from "#core/goal-wording/working-text.ts";
import type { action as readWording } from "#app/routes/student/wording.ts";
import { forgettingDraft } from "#app/kit/tab-draft.ts";
import { readTexts, useDraft } from "#app/kit/use-draft.ts";
import type { SetUpFields } from "./fields.tsx";
import { proposedValues } from "./proposed-values.ts";
import { filledWording } from "./read-set-up.ts";
import type { SetUpValues } from "./set-up-values.ts";

const readAfter = 350;

/** What a measure with a prompt ladder begins with: the school's first. */
function firstLadder([ladder]: readonly { levels: string[]; misses: string[] }[]): SetUpValues {
  return ladder
    ? {
        levels: ladder.levels.join("\n"),
        misses: ladder.misses.join("\n"),
        credited: ladder.levels[0] ?? "",
      }
    : {};
}

const draftName = ({ pathname, search }: { pathname: string; search: string }) =>
  `set-up ${pathname}${search}`;
const draftKind = {
  reads: readTexts,
  isTyped: (typed: SetUpValues) => Object.keys(typed).length > 0,
};

/** Runs the action of a set-up page and deletes what was typed once it is saved, or what it was typed for is removed. */
export async function savingSetUp<T>(request: Request, action: () => Promise<T>): Promise<T> {
  const page = new URL(request.url);
  const intent = (await request.clone().formData()).get("intent");
  // A word on the goal, or a phase, leads elsewhere too and saves nothing of what is typed.
  const ends = [null, "", "save", "remove"].some((one) => one === intent);
  return forgettingDraft(
    draftName(page),
    action,
    (location) =>
      ends && !location.startsWith("/sign-in") && new URL(location, page).pathname !== page.pathname,
  );
}

/** Where a form begins. */
export interface SetUpStart {
  values: SetUpValues;
  /** What the wording proposed when the form began: only what a later reading says otherwise changes a field. */
  known: SetUpValues;
  spans: Span[];
}

/**
 * What stands in the fields of a set-up: where it began, what the wording proposes while it is typed, and above both what
 * a person typed. What is typed is stored for this tab.
 *
 * @param fills does the wording fill fields? It does not in a goal that is there already.
 */
export function useSetUpForm({
  start,
  fills,
  typed: typedBefore,
  problems,
  ladders,
  iepTo = null,
}: {
  start: SetUpStart;
  fills: boolean;
  typed: SetUpValues | undefined;
  problems: Readonly<Record<string, string>>;
  ladders: readonly { levels: string[]; misses: string[] }[];
  /** The end of the student's IEP year, for a wording that names it without a date. */
  iepTo?: string | null;
}) {
  const {
    content: typed,
    setContent: setTyped,
    ...draft
  } = useDraft<SetUpValues>(draftName(useLocation()), typedBefore ?? {}, draftKind);
  const { submit, data: lastRead } = useFetcher<typeof readWording>();
  /** What was read of a wording that its person has begun anew. */
  const [dropped, setDropped] = useState<typeof lastRead>();
  const read = lastRead === dropped ? undefined : lastRead;
  const proposal = read?.proposal ?? null;
  const proposed = useMemo(
    () => (proposal ? proposedValues(proposal, ladders, iepTo) : null),
    [proposal, ladders, iepTo],
  );
  const values = useMemo<SetUpValues>(() => {
    const changed = Object.entries(proposed?.values ?? {}).filter(
      ([name, value]) => start.known[name] !== value,
    );
    return {
      ...firstLadder(ladders),
      ...start.values,
      ...(fills ? Object.fromEntries(changed) : {}),
      ...typed,
    };
  }, [start, fills, proposed, typed, ladders]);
  const wording = filledWording(values);
  const begun = filledWording(start.values);
  const asked = useRef(begun);
  useEffect(() => {
    if (wording === asked.current || wording.trim().length < 8) return;
    const timer = setTimeout(() => {
      asked.current = wording;
      void submit({ wording }, { method: "post", action: "/wording" });
    }, readAfter);
    return () => clearTimeout(timer);
  }, [wording, submit]);
  const form: SetUpFields = {
    values,
    problems,
    words: proposed?.words ?? {},
    set: (name, value) => setTyped((before) => ({ ...before, [name]: value })),
  };
  return {
    form,
    values,
    continued: draft.continued,
    startOver: () => {
      asked.current = begun;
      setDropped(lastRead);
      draft.startOver({});
    },
    /** The wording as it will stand, and the places in it that were read. */
    wording,
    spans: read?.wording === wording ? (proposal?.spans ?? []) : wording === begun ? start.spans : [],
    saysNothing: proposal !== null && proposal.spans.length === 0 && wording.trim().length > 20,
  };
}
