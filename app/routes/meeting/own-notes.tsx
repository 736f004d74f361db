import { useEffect, useId, useRef, useState } from "react";
import * as z from "zod/mini";
import { data, Link, useFetcher } from "react-router";
import { Invalid } from "#server/errors.ts";
import { authorize } from "#server/access/authorize.ts";
import { readPreparations, savePreparation } from "#server/db/meetings.ts";
import { findGoal, findStudent, listGoals } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { usePerson } from "#app/kit/use-person.ts";
import { qrOf } from "#app/kit/qr.server.ts";
import { id } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { QrSquare } from "#app/ui/qr-square.tsx";
import { useAwake } from "#app/ui/use-awake.ts";
import { useHeardPlace } from "./wall.ts";
import type { Route } from "./+types/own-notes";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "meeting.lead", params.studentId, async (scope) => {
    const { studentId } = params;
    const words = await readPreparations(scope, studentId);
    const goals = (await listGoals(scope, studentId)).filter(({ ended }) => !ended);
    return {
      ...{ studentId, personId: scope.actor.personId },
      initials: (await findStudent(scope, studentId)).initials,
      qr: qrOf(new URL(request.url).origin + `/students/${studentId}/meeting/notes`),
      pages: [
        { key: "", name: "For the whole meeting", words: words.get("") ?? "" },
        ...goals.map(({ goalId, number, title }) => ({
          ...{ key: goalId, name: `${number} ${title}`, words: words.get(goalId) ?? "" },
        })),
      ],
    };
  });
}

export const action = defineAction({
  permission: "meeting.lead",
  schema: z.object({
    goalId: z.union([id, z.literal("")]),
    words: z.string().check(z.trim(), z.maxLength(4000, "At most 4,000 characters.")),
    before: z.string().check(z.maxLength(4000)),
  }),
  async run(scope, { goalId, ...texts }, { params: { studentId } }: Submitted<{ studentId: string }>) {
    if (goalId) await findGoal(scope, studentId, goalId);
    if ((await savePreparation(scope, studentId, goalId || null, texts)) === "conflict")
      throw new Invalid({
        words:
          "Not saved: these notes were changed on another device. Copy what you typed, then reload the page.",
      });
    return data({ saved: texts.words });
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(serverAction, request);
}

/** After so long without a key what was typed is saved. */
const restMs = 800;

function Note({
  page: { key, name, words },
  isOnWall,
}: {
  page: Route.ComponentProps["loaderData"]["pages"][number];
  isOnWall: boolean;
}) {
  const fetcher = useFetcher<{ saved?: string; problems?: Record<string, string> }>({ key: `note ${key}` });
  const { state, data: answer, submit } = fetcher;
  // What stands stored, as far as this page knows: what another device writes meanwhile is not written over.
  const [stored, setStored] = useState(words);
  if (answer?.saved !== undefined && answer.saved !== stored) setStored(answer.saved);
  const timer = useRef<number | undefined>(undefined);
  const place = useRef<HTMLElement>(null);
  useEffect(() => {
    if (isOnWall) place.current?.scrollIntoView({ block: "nearest" });
  }, [isOnWall]);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const isSending = useRef(false);
  useEffect(() => {
    isSending.current = state !== "idle";
  }, [state]);
  function saveSoon(form: HTMLFormElement) {
    window.clearTimeout(timer.current);
    timer.current = window.setTimeout(() => {
      // One at a time: the next says what the one before stored.
      if (isSending.current) saveSoon(form);
      else void submit(form, { method: "post" });
    }, restMs);
  }
  const problem = answer?.problems?.["words"] ?? answer?.problems?.["form"];
  const says = useId();
  return (
    <section
      ref={place}
      className={`rounded-lg px-3 py-2 ${isOnWall ? "bg-arrival" : ""}`}
      aria-label={name}
      aria-current={isOnWall ? "true" : undefined}
    >
      <fetcher.Form method="post">
        <input type="hidden" name="goalId" value={key} />
        <input type="hidden" name="before" value={stored} />
        <label>
          <span className="font-serif text-[1.1rem] font-semibold" dir="auto">
            {name}
          </span>
          {isOnWall ? <span className="text-fine"> · on the wall now</span> : null}
          <textarea
            name="words"
            rows={isOnWall ? 5 : 2}
            maxLength={4000}
            dir="auto"
            className="textarea mt-1 w-full text-[1.1rem] leading-snug"
            defaultValue={words}
            aria-invalid={problem ? true : undefined}
            aria-describedby={says}
            onChange={({ target }) => target.form && saveSoon(target.form)}
          />
        </label>
        <p className={`min-h-5 text-fine ${problem ? "font-bold text-error" : "text-soft"}`}>
          <span id={says} role="status">
            {problem ?? (state !== "idle" ? "Saving …" : answer ? "Saved" : "")}
          </span>
          {problem ? (
            <button className="link ml-3" disabled={state !== "idle"}>
              Save again
            </button>
          ) : null}
        </p>
      </fetcher.Form>
    </section>
  );
}

/** The second screen of a meeting: what the case manager wrote for themselves. The goal on the wall is marked, where this browser shows both. */
export default function OwnNotes({
  loaderData: { studentId, personId, initials, pages, qr },
}: Route.ComponentProps) {
  usePerson(personId);
  const heard = useHeardPlace(studentId);
  const ready = useAwake();
  return (
    <main id="page" data-ready={ready || undefined} className="mx-auto grid max-w-[44rem] gap-2 px-4 py-4">
      <header>
        <PageTitle title="My notes" of={initials} />
        <p className="text-soft">Only you read these. They are in no report and on no wall.</p>
      </header>
      {pages.map((page) => (
        <Note key={page.key} page={page} isOnWall={heard !== null && heard === page.key} />
      ))}
      <details className="mt-2">
        <summary className="w-fit cursor-pointer py-1 font-bold">Read them on a phone</summary>
        <p>Sign in there; this opens the same page.</p>
        <QrSquare qr={qr} label="The address of this page, to be read by a phone" className="mt-2 size-44" />
      </details>
      <p>
        <Link className="link" to={`/students/${studentId}/meeting`}>
          The meeting
        </Link>
      </p>
    </main>
  );
}
