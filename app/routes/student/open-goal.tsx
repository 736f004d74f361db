import { timeOfDay } from "#core/words/dates.ts";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { Underlined } from "#app/goal-set-up/underlined.tsx";
import { GoalChart } from "#app/ui/goal-chart.tsx";
import { useKeys } from "#app/ui/keys.ts";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import type { Deciding } from "./decide.tsx";
import { CarriedByWords, HowComputed, Says } from "./goal-says.tsx";
import type { OpenGoal } from "./open-goal.server.ts";
import { useSaid } from "#app/ui/say.ts";
import { StudentTitle } from "./student-title.tsx";

/** Few goals were rated or observed by several people: the page of the others does not carry their tables. */
const Others = lazy(() => import("./several-people.tsx"));

function EntriesTable({ goal, studentId }: { goal: OpenGoal; studentId: string }) {
  return (
    <details className="mt-3">
      <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
        The numbers as a table ({goal.rows.length})
      </summary>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full text-left text-[0.9rem]">
          <thead className="text-fine text-soft">
            <tr>
              {["Date", "Observed", "Phase", "By", "Note"].map((heading) => (
                <th key={heading} scope="col" className="py-1 pr-4 font-bold">
                  {heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {goal.rows.map((row) => (
              <tr key={row.entryId} className="border-t border-base-300 align-top">
                <td className="py-1.5 pr-4 whitespace-nowrap">
                  <Link className="link" to={`/students/${studentId}/entries/${row.entryId}`}>
                    {row.date}, {timeOfDay(row.time)}
                  </Link>
                </td>
                <td className="min-w-44 py-1.5 pr-4">
                  {row.figure}
                  {row.older ? (
                    <span className="block text-fine text-soft">measured in an earlier way</span>
                  ) : null}
                  {row.purpose ? (
                    <span className="block text-fine text-soft">{row.purpose}: shown, not counted</span>
                  ) : null}
                </td>
                <td className="py-1.5 pr-4">{row.phase}</td>
                <td className="py-1.5 pr-4 whitespace-nowrap">{row.author}</td>
                <td className="py-1.5">
                  {[row.setting && `(${row.setting})`, row.note].filter(Boolean).join(" ")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}

/** Which parts carry the result: each with its counts, and its marks over time from left to right. */
function Breakdown({ parts }: { parts: NonNullable<OpenGoal["parts"]> }) {
  const { called, sentence, rows } = parts;
  return (
    <section aria-label={`By ${called[0]}`} className="mt-5">
      <h2 className="font-serif text-[1.15rem] font-semibold">By {called[0]}</h2>
      {sentence ? (
        <p className="text-[0.97rem]">
          <i>{sentence.best}</i> {sentence.bestWords}; <i>{sentence.least}</i> {sentence.leastWords}.
        </p>
      ) : null}
      <div
        className="mt-2 max-h-[32rem] overflow-auto"
        tabIndex={0}
        role="group"
        aria-label={`Every ${called[0]}`}
      >
        <table className="w-full text-left text-[0.9375rem]">
          <thead className="sr-only">
            <tr>
              <th scope="col">{called[0]}</th>
              <th scope="col">Over time</th>
              <th scope="col">In all</th>
              <th scope="col">Latest</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.part} className="border-t border-base-300">
                <th scope="row" className="py-1.5 pr-4 font-normal" dir="auto">
                  {row.part}
                </th>
                <td className="py-1.5 pr-4">
                  <PartStrip marks={row.marks} />
                </td>
                <td className="py-1.5 pr-4">{row.words}</td>
                <td className="py-1.5 text-soft">{row.latest === null ? "" : `last: ${row.latest}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The marks of one part, oldest left: a full bar is credited, an empty one is not, a part of one is a share. */
function PartStrip({ marks }: { marks: readonly { share: number; said: string }[] }) {
  return (
    <svg width={24 * 8} height="18" viewBox={`0 0 ${24 * 8} 18`} aria-hidden="true">
      {marks.map(({ share, said }, index) => (
        <g key={index}>
          <rect
            x={index * 8 + 0.5}
            y="1.5"
            width="6"
            height="15"
            rx="1.5"
            className="fill-none stroke-soft/50"
            strokeWidth="0.8"
          />
          <rect
            x={index * 8 + 0.5}
            y={1.5 + 15 * (1 - share)}
            width="6"
            height={15 * share}
            rx="1.5"
            className="fill-data"
          >
            <title>{said}</title>
          </rect>
        </g>
      ))}
    </svg>
  );
}

/** One goal in full: its wording, its standing, its chart, its parts and its entries. */
export function OpenGoalSection({
  goal,
  studentId,
  mayRecord,
  mayEdit,
  deciding,
}: {
  goal: OpenGoal;
  studentId: string;
  mayRecord: boolean;
  mayEdit: boolean;
  deciding: Deciding;
}) {
  const navigate = useNavigate();
  const path = `/students/${studentId}/goals/${goal.goalId}`;
  const recordPath = `${path}/record`;
  const [opening, setOpening] = useState(false);
  /** To a sitting of this goal; where this device keeps none, to the form. */
  async function record(): Promise<void> {
    setOpening(true);
    const { startFromGoals } = await import("#app/recording/start-from-goals.ts");
    const sittingId = await startFromGoals([{ studentId, goalIds: [goal.goalId] }]);
    await navigate(sittingId === null ? recordPath : `/record?sitting=${sittingId}`);
  }
  const [decided] = goal.says.decisions;
  useSaid(decided?.decisionId, decided ? `Saved: ${decided.said.sentence}` : "");
  useKeys(mayRecord ? { r: () => void record() } : {});
  return (
    <section aria-label={`Goal ${goal.number}`} className="py-4">
      <div className="grid grid-cols-[3.4rem_1fr] max-sm:grid-cols-[2.6rem_1fr]">
        <p className="font-serif text-[1.7rem] leading-tight font-semibold">{goal.number}</p>
        <div className="min-w-0">
          <StudentTitle
            title={goal.title}
            className="font-serif text-[1.35rem] leading-[2.05rem] font-semibold break-words"
          />
          <p className="max-w-[42rem] font-serif text-[1.05rem] leading-relaxed break-words" dir="auto">
            <Underlined text={goal.wording} spans={goal.spans} />
          </p>
          <p className="mt-1 text-fine text-soft">
            {goal.criterion ? `Criterion ${goal.criterion}` : "No criterion set yet"}
            {goal.due ? ` · due ${goal.due}` : " · no due date yet"}
          </p>
          {goal.ended ? (
            <p className="mt-2 rounded-lg bg-base-200 px-3 py-1.5 text-[0.9375rem]">{goal.ended}</p>
          ) : null}
          {goal.kin.map((other) => (
            <p key={other.goalId} className="mt-1 text-[0.9375rem]">
              {other.said}{" "}
              <Link to={`/students/${studentId}/goals/${other.goalId}`} className="link" dir="auto">
                {other.title}
              </Link>
            </p>
          ))}
          <p className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-[0.97rem]">
            <StandingMark standing={goal.standing} />
            <span className="min-w-[16rem] flex-1">
              {goal.standing.why} {goal.standing.stale ? <b>{goal.standing.stale}</b> : null}
            </span>
          </p>
        </div>
      </div>
      {goal.chart ? (
        <div className="mt-2">
          <GoalChart
            chart={goal.chart}
            shares={goal.shares}
            description={goal.description}
            studentId={studentId}
            files={{ path, name: goal.says.file, heads: goal.heads }}
            onOpen={(page) => void navigate(`/students/${studentId}/${page}`)}
          />
          {goal.mayBeLog ? (
            <p className="no-print text-fine">
              <Link
                className="link text-soft"
                to={goal.scale === "log" ? path : `${path}?axis=log`}
                preventScrollReset
              >
                {goal.scale === "log" ? "Equal steps on the axis" : "Equal factors on the axis (log)"}
              </Link>
            </p>
          ) : null}
        </div>
      ) : (
        <p className="my-6 ml-[3.4rem] font-serif text-soft">
          No points yet. The chart begins with the first probe.
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-start gap-x-5 gap-y-3">
        {goal.latest ? (
          <p className="flex min-w-[18rem] flex-1 items-baseline gap-3">
            <span className="font-serif text-[1.7rem] leading-none font-semibold whitespace-nowrap">
              {goal.latest.value}
            </span>
            <span>
              {goal.latest.about}
              {goal.latest.interval ? (
                <span className="text-fine text-soft"> ({goal.latest.interval})</span>
              ) : null}
              .
            </span>
          </p>
        ) : null}
        {goal.running ? <p className="min-w-[18rem] flex-1 font-serif">{goal.running}</p> : null}
        <span className="no-print ml-auto flex flex-wrap gap-3">
          {goal.rows.length > 0 ? (
            <Link to={`/compare?${goal.compared}`} className="btn btn-plain">
              Compare
            </Link>
          ) : null}
          {mayEdit ? (
            <Link to={`${path}/set-up`} className="btn btn-plain">
              Set-up
            </Link>
          ) : null}
          {mayRecord ? (
            <Link
              to={recordPath}
              className="btn btn-primary"
              aria-busy={opening}
              onClick={(event) => {
                if (event.ctrlKey || event.metaKey || event.shiftKey) return;
                event.preventDefault();
                void record();
              }}
            >
              Record {goal.number}{" "}
              <kbd className="rounded border border-current px-1 text-[0.7rem] font-normal opacity-80 max-sm:hidden">
                r
              </kbd>
            </Link>
          ) : null}
        </span>
      </div>
      {/* Anew after each decision: what was typed for the last one is not there for the next. */}
      <Says
        key={deciding.typed ? "typed" : goal.says.decisions[0]?.decisionId}
        says={goal.says}
        action={path}
        setUp={`${path}/set-up`}
        deciding={deciding}
        mayTick={mayRecord && !goal.ended}
        mayDecide={mayEdit && !goal.ended}
        confirm={mayEdit && !goal.ended && goal.standing.key === "reached" ? goal : null}
      />
      {goal.parts ? <Breakdown parts={goal.parts} /> : null}
      <CarriedByWords says={goal.says} />
      {goal.raters || goal.agreement.length > 0 ? (
        <Suspense>
          <Others raters={goal.raters} agreement={goal.agreement} studentId={studentId} />
        </Suspense>
      ) : null}
      <p className="mt-3 text-fine text-soft">{goal.facts.join(" · ")}</p>
      {goal.strategy ? (
        <p className="mt-1 max-w-[44rem] text-[0.9375rem] leading-snug break-words" dir="auto">
          <b>How it is taught:</b> {goal.strategy}
        </p>
      ) : null}
      {goal.rows.length > 0 ? <EntriesTable goal={goal} studentId={studentId} /> : null}
      <HowComputed says={goal.says} csv={`${path}/points.csv`} />
    </section>
  );
}
