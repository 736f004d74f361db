import { type ReactNode, useEffect, useRef, useState } from "react";
import { Form, Link, type ShouldRevalidateFunctionArgs, useSearchParams } from "react-router";
import { v7 as newId } from "uuid";
import { discreetly } from "#core/model/discreetly.ts";
import type { AgendaReason } from "#core/report/meeting-agenda.ts";
import { shortDateWithYear } from "#core/words/dates.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { usePerson } from "#app/kit/use-person.ts";
import { usePrints } from "#app/kit/use-prints.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { ChartDrawing } from "#app/report/chart-drawing.tsx";
import { Figures } from "#app/report/goal-section.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { useKeys } from "#app/ui/keys.ts";
import { useLiveUpdates } from "#app/live/live-updates.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { SheetDialog } from "#app/ui/sheet.tsx";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import { useAwake } from "#app/ui/use-awake.ts";
import { authorize } from "#server/access/authorize.ts";
import { meetingAction } from "./meeting-actions.server.ts";
import { type MeetingShown, readMeeting } from "./read-meeting.server.ts";
import { useFullScreen, useSwipe, useTellPlace } from "./wall.ts";
import { CriterionForm, DecisionForm, NoteForm, type ThereIntent, thereWords } from "./write-there.tsx";
import type { Route } from "./+types/meeting";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "meeting.lead", params.studentId, (scope) =>
    readMeeting(scope, params.studentId, new URL(request.url).searchParams),
  );
}

export const action = meetingAction;

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(serverAction, request);
}

const withoutPage = ({ searchParams }: URL) =>
  new URLSearchParams([...searchParams].filter(([name]) => name !== "at")).toString();

/** The next page of a meeting is there already: the server is not asked. */
export function shouldRevalidate({
  currentUrl,
  nextUrl,
  formMethod,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs): boolean {
  const turned =
    currentUrl.pathname === nextUrl.pathname &&
    currentUrl.search !== nextUrl.search &&
    withoutPage(currentUrl) === withoutPage(nextUrl);
  return turned && formMethod === undefined ? false : defaultShouldRevalidate;
}

type ShownGoal = MeetingShown["goals"][number];
type Say = (text: string) => string;

const reasons: Record<AgendaReason, string> = {
  reached: "Criterion reached",
  behind: "Behind",
  due: "Due soon",
  other: "",
};

/** The first page: which goals are talked of, those that need a decision first. */
function Agenda({
  goals,
  say,
  open,
}: {
  goals: readonly ShownGoal[];
  say: Say;
  open: (goalId: string) => void;
}) {
  if (goals.length === 0)
    return (
      <p>
        No goal is open, so there is none to talk of. Questions and agreements can be written all the same.
      </p>
    );
  return (
    <ol className="meeting-agenda">
      {goals.map(({ goalId, number, title, reason }) => (
        <li key={goalId}>
          <button type="button" onClick={() => open(goalId)}>
            <b>{number}</b> <span dir="auto">{say(title)}</span>
            {reasons[reason] ? <span className="meeting-why">{reasons[reason]}</span> : null}
          </button>
        </li>
      ))}
    </ol>
  );
}

/** One goal, to be understood from four metres: a sentence, the chart, from where to where, and what changed. */
function GoalPage({
  goal: { block, caption, changed, changedLabel },
  say,
  children,
}: {
  goal: ShownGoal;
  say: Say;
  children: ReactNode;
}) {
  const { chart, figures, standing, sentences, meaning, wording } = block;
  const sentence = sentences[0] || standing?.why || meaning || wording;
  return (
    <>
      <p className="meeting-sentence" dir="auto">
        {say(sentence)}
      </p>
      <div className="meeting-chart">
        {chart ? (
          <figure>
            <figcaption>{caption}</figcaption>
            <ChartDrawing
              chart={{
                ...chart.chart,
                words: chart.chart.words.map((word) => ({ ...word, text: say(word.text) })),
                phases: chart.chart.phases.map((phase) => ({ ...phase, label: say(phase.label) })),
              }}
              description={say(chart.description)}
            />
          </figure>
        ) : (
          <p className="text-soft">No chart: nothing is measured yet, or these readers read no charts.</p>
        )}
        <div className="meeting-beside">
          <Figures figures={figures} />
          {standing ? (
            <p>
              <StandingMark standing={standing} />
            </p>
          ) : null}
          {changed.length > 0 ? (
            <section>
              <h2>{changedLabel}</h2>
              <ul>
                {changed.slice(0, 3).map((text) => (
                  <li key={text} dir="auto">
                    {say(text)}
                  </li>
                ))}
              </ul>
            </section>
          ) : null}
          {children}
        </div>
      </div>
      {sentence === wording ? null : (
        <p className="meeting-wording" dir="auto">
          {say(wording)}
        </p>
      )}
    </>
  );
}

/** What was decided, agreed and asked in this meeting: of one goal, or of all with the goal in front. */
function Written({
  notes,
  decided,
  goals,
  say,
}: Pick<MeetingShown, "notes" | "decided"> & { goals: readonly ShownGoal[]; say: Say }) {
  const goalOf = (goalId: string | null) => {
    const goal = goals.find((one) => one.goalId === goalId);
    return goal ? <b>{`${goal.number} ${say(goal.title)}: `}</b> : null;
  };
  const parts = [
    ["Decided and changed", decided.map((one) => ({ ...one, noteId: null }))],
    ...(["agreed", "question"] as const).map(
      (kind) =>
        [
          kind === "agreed" ? "Agreed" : "Questions",
          notes.filter((note) => note.kind === kind).map((note) => ({ ...note, id: note.noteId })),
        ] as const,
    ),
  ] as const;
  return parts.map(([label, lines]) =>
    lines.length === 0 ? null : (
      <section key={label} aria-label={label}>
        <h2>{label}</h2>
        <ul>
          {lines.map(({ id, noteId, goalId, words }) => (
            <li key={id} dir="auto">
              {goalOf(goalId)}
              {say(words)}
              {noteId ? (
                <Form method="post" className="no-print inline" preventScrollReset>
                  <input type="hidden" name="noteId" value={noteId} />
                  <button
                    className="link ml-3 text-fine"
                    name="intent"
                    value="take out"
                    aria-label={`Remove: ${say(words)}`}
                  >
                    Remove
                  </button>
                </Form>
              ) : null}
            </li>
          ))}
        </ul>
      </section>
    ),
  );
}

/** What was written of the goal on the wall. Where it has grown, it comes into view. */
function WrittenOfGoal({ goalId, shown, say }: { goalId: string; shown: MeetingShown; say: Say }) {
  const notes = shown.notes.filter((one) => one.goalId === goalId);
  const decided = shown.decided.filter((one) => one.goalId === goalId);
  const place = useRef<HTMLDivElement>(null);
  const count = notes.length + decided.length;
  const before = useRef(count);
  useEffect(() => {
    if (count > before.current) place.current?.scrollIntoView({ block: "nearest" });
    before.current = count;
  }, [count]);
  return (
    <div ref={place} className="meeting-written" lang="en">
      <Written {...{ notes, decided, say }} goals={[]} />
    </div>
  );
}

/** The last page: everything that was decided, agreed and asked, and the end of the meeting. */
function Agreed({ shown, say }: { shown: MeetingShown; say: Say }) {
  const { notes, decided, goals, on, today, audience, audiences } = shown;
  const [newMeetingId] = useState(() => newId());
  return (
    <>
      {notes.length + decided.length === 0 ? (
        <p>
          {on === today
            ? "Nothing is written down yet. The buttons below write a question, a decision, or what was agreed."
            : `Nothing was written down on ${shortDateWithYear(on)}.`}
        </p>
      ) : (
        <div className="meeting-written">
          <Written {...{ notes, decided, goals, say }} />
        </div>
      )}
      {on === today ? (
        <Form method="post" className="no-print mt-8">
          <input type="hidden" name="newMeetingId" value={newMeetingId} />
          <input type="hidden" name="for" value={audience} />
          <button
            className="btn btn-primary h-auto min-h-14 px-8 py-2 text-[1.2rem]!"
            name="intent"
            value="end"
          >
            End the meeting and make the edition
          </button>
          <p className="mt-2 text-soft">
            The edition for {audiences.find((one) => one.audience === audience)?.words} comes next: you look
            through it before it is made.
          </p>
        </Form>
      ) : null}
    </>
  );
}

/** A note that was just removed, and the way back. */
function TakenOut({ noteId }: { noteId: string }) {
  return (
    <Form method="post" role="status" className="no-print" preventScrollReset>
      <input type="hidden" name="noteId" value={noteId} />
      Removed.{" "}
      <button className="link font-bold" name="intent" value="put back">
        Put it back
      </button>
    </Form>
  );
}

/** The meeting on the wall: one goal at a time, by keys, a clicker, a finger or the mouse. */
export default function Meeting({ loaderData, actionData }: Route.ComponentProps) {
  const { studentId, goals, student, audience, audiences, today, on, language } = loaderData;
  const [search, setSearch] = useSearchParams();
  const pages = ["", ...goals.map(({ goalId }) => goalId), "agreed"];
  // The address follows, so that a reload comes back here. Quick presses do not wait for it.
  const [turned, setTurned] = useState(() => search.get("at") ?? "");
  const place = Math.max(0, pages.indexOf(turned));
  const at = pages[place] ?? "";
  const goal = goals.find(({ goalId }) => goalId === at) ?? null;
  const [isDiscreet, setDiscreet] = useState(false);
  const [isBlank, setBlank] = useState(false);
  const [sheet, setSheet] = useState<ThereIntent | null>(null);
  const { isFull, can, turn } = useFullScreen();
  const ready = useAwake();
  const answer = useLasting(actionData) as
    { problems?: Record<string, string>; typed?: Record<string, string>; removed?: string } | undefined;
  // What is wrong belongs to the form that was sent, of the goal it was sent for.
  const { typed: sent } = answer ?? {};
  const isOfSheet = !sent || (sent["intent"] === sheet && (sent["goalId"] ?? "") === (goal?.goalId ?? ""));
  const { problems, typed, busy } = useForm(isOfSheet ? answer : undefined);
  usePerson(loaderData.personId);
  useLiveUpdates(loaderData);
  usePrints(studentId);
  useTellPlace(studentId, at);
  const say: Say = (text) => (isDiscreet ? discreetly(text, student) : text);
  const showAt = (name: string, value: string) => {
    const there = new URLSearchParams(search);
    if (at) there.set("at", at);
    there.set(name, value);
    setSearch(there, { replace: true, preventScrollReset: true });
  };
  const turnTo = (page: string) => {
    setTurned(page);
    setBlank(false);
    showAt("at", page);
  };
  const go = (to: number) => turnTo(pages[Math.min(Math.max(to, 0), pages.length - 1)] ?? "");
  const [next, before] = [() => go(place + 1), () => go(place - 1)];
  const swipe = useSwipe(next, before);
  const [blank, discreet] = [() => setBlank(!isBlank), () => setDiscreet(!isDiscreet)];
  useKeys({
    // A clicker sends the page keys, and "b" or a full stop for a dark wall.
    ...{ arrowright: next, pagedown: next, arrowleft: before, pageup: before },
    ...{ home: () => go(0), end: () => go(pages.length - 1) },
    ...{ b: blank, ".": blank, f: turn, d: discreet },
    ...{ q: () => setSheet("question"), a: () => setSheet("agreed") },
  });
  const title = goal ? goal.title : at === "agreed" ? "What we agreed" : "What we talk about";
  const forms: readonly ThereIntent[] = goal
    ? ["question", "agreed", "decide", "criterion"]
    : ["question", "agreed"];
  const form = { problems, typed, busy, done: () => setSheet(null) };
  const ownNotes = `/students/${studentId}/meeting/notes`;
  return (
    <main
      id="page"
      className="meeting"
      {...swipe}
      data-ready={ready || undefined}
      data-blank={isBlank || undefined}
    >
      <header className="meeting-head">
        <PageTitle
          title={goal ? `Goal ${goal.number}` : title}
          of={student.initials}
          className="meeting-title"
        >
          {goal ? `${goal.number} ${say(title)}` : title}
        </PageTitle>
        <p className="meeting-whom" dir="auto">
          {isDiscreet ? student.initials : student.name} · {shortDateWithYear(on)}
        </p>
      </header>
      <section
        className="meeting-page"
        aria-label={goal ? `Goal ${goal.number}` : title}
        lang={goal ? language : undefined}
        // It may be longer than the wall is high.
        tabIndex={0}
      >
        {goal ? (
          <GoalPage goal={goal} say={say}>
            <WrittenOfGoal key={goal.goalId} goalId={goal.goalId} shown={loaderData} say={say} />
          </GoalPage>
        ) : at === "agreed" ? (
          <Agreed shown={loaderData} say={say} />
        ) : (
          <>
            <Agenda goals={goals} say={say} open={turnTo} />
            <p className="meeting-keys no-print">
              <kbd>→</kbd> or a clicker turns the page, a finger too · <kbd>b</kbd> makes the wall dark ·{" "}
              <kbd>f</kbd> full screen · <kbd>d</kbd> initials only · <kbd>q</kbd> a question · <kbd>a</kbd>{" "}
              what was agreed
            </p>
          </>
        )}
        {answer?.removed ? <TakenOut noteId={answer.removed} /> : null}
        {sheet ? null : <FormProblem>{problems["form"]}</FormProblem>}
      </section>
      <footer className="meeting-foot no-print">
        <p className="flex items-center gap-3">
          <button type="button" className="btn btn-plain" disabled={place === 0} onClick={before}>
            ← Back
          </button>
          <span role="status" className="tabular-nums">
            {place + 1} of {pages.length}
          </span>
          <button
            type="button"
            className="btn btn-primary"
            disabled={place === pages.length - 1}
            onClick={next}
          >
            Next →
          </button>
        </p>
        <p className="meeting-write">
          {forms.map((one) => (
            <button key={one} type="button" className="btn btn-plain" onClick={() => setSheet(one)}>
              + {thereWords[one]}
            </button>
          ))}
        </p>
        <p className="flex flex-wrap items-center gap-x-4 gap-y-2">
          <label className="flex min-h-8 items-center gap-2">
            Read by
            <select
              className="select w-auto"
              value={audience}
              onChange={({ target }) => showAt("for", target.value)}
            >
              {audiences.map((one) => (
                <option key={one.audience} value={one.audience}>
                  {one.words}
                </option>
              ))}
            </select>
          </label>
          <label className="flex min-h-8 items-center gap-2">
            <input type="checkbox" checked={isDiscreet} onChange={discreet} />
            Initials only
          </label>
          {can ? (
            <button type="button" className="link" onClick={turn}>
              {isFull ? "Leave full screen" : "Full screen"}
            </button>
          ) : null}
          <a
            className="link"
            href={ownNotes}
            target="gentle-margin-notes"
            onClick={(event) => {
              // A window of its own can be moved to another screen. Where the browser opens none, the link opens a tab.
              if (window.open(ownNotes, "gentle-margin-notes", "popup,width=560,height=760"))
                event.preventDefault();
            }}
          >
            My notes
          </a>
          <Link className="link" to={`/students/${studentId}/report`}>
            Report
          </Link>
        </p>
      </footer>
      {sheet ? (
        <SheetDialog label={thereWords[sheet]} onClose={form.done}>
          {sheet === "decide" && goal ? (
            <DecisionForm {...{ goal, today }} {...form} />
          ) : sheet === "criterion" && goal ? (
            <CriterionForm {...{ goal, studentId }} {...form} />
          ) : (
            <NoteForm kind={sheet === "agreed" ? "agreed" : "question"} {...{ studentId, goal }} {...form} />
          )}
        </SheetDialog>
      ) : null}
    </main>
  );
}
