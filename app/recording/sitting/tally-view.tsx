import { useState } from "react";
import { Link } from "react-router";
import { shortDate, timeOfDay } from "#core/words/dates.ts";
import { standingPresses } from "#core/sitting/tally.ts";
import type { OpenTally } from "#core/sync/kept.ts";
import { type Device, holderWords } from "../device/device.ts";
import type { Together } from "../device/use-together.ts";
import { rightTime } from "../right-time.ts";
import type { TallyItem } from "../tallies-here.ts";
import { HolderButton } from "./holder.tsx";
import { localDay, localTime } from "#core/dates/school-time.ts";
import { itemOf, TallyClosing } from "./tally-closing.tsx";
import { useSittingKeys } from "./sitting-keys.ts";
import { useHolder, useNow } from "./use-sitting.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

/** The last press of this person that counts. */
const lastOf = (tally: OpenTally, by: string) =>
  standingPresses(tally.presses).findLast((press) => press.by === by);

function goalOf({ pack }: Device, of: OpenTally) {
  const student = pack.students.find(({ studentId }) => studentId === of.studentId);
  const goal = student?.goals.find(({ goalId }) => goalId === of.goalId);
  return student && goal ? { student, goal } : null;
}

function TallyCard({
  device,
  tally,
  place,
  today,
  undoable,
  record,
  onClosed,
}: {
  device: Device;
  tally: OpenTally;
  place: number;
  today: string;
  /** Is this the tally whose last press the key undoes? */
  undoable: boolean;
  record: (item: TallyItem) => void;
  onClosed: (said: string) => void;
}) {
  const { timeZone } = device.pack;
  const [closing, setClosing] = useState(false);
  const found = goalOf(device, tally);
  if (!found) return null;
  const { student, goal } = found;
  const counted = goal.measure.kind === "count" && goal.measure.counted ? goal.measure.counted : "counted";
  const standing = standingPresses(tally.presses);
  const last = standing.at(-1);
  const me = holderWords(device);
  const mine = lastOf(tally, me);
  const isPast = tally.on !== today;
  return (
    <li className="rounded-xl border border-base-300 bg-raised p-4">
      <div className="flex items-start gap-3">
        <p className="rounded-lg bg-neutral px-3 py-2 text-fine font-bold text-neutral-content" dir="auto">
          {student.screenName}
        </p>
        <h2 className="min-w-0 flex-1 font-serif text-[1.05rem] leading-snug break-words" dir="auto">
          <span className="font-semibold">{goal.number}</span> {goal.title}
          <span className="block font-sans text-fine text-soft">
            {isPast
              ? `${shortDate(tally.on)}, not closed yet`
              : `since ${timeOfDay(localTime(timeZone, tally.openedAt))}`}
            {last ? ` · last ${timeOfDay(localTime(timeZone, last.at))}, ${last.by}` : ""}
          </span>
        </h2>
        <p className="font-serif text-4xl leading-none font-semibold" role="status">
          {standing.length}
          <span className="sr-only"> counted</span>
        </p>
      </div>
      {isPast || closing ? null : (
        <button
          type="button"
          className="pad mt-3 w-full border-transparent bg-primary text-primary-content"
          data-key={place}
          aria-label={`+1 ${counted}, ${goal.title}, ${student.screenName}`}
          onClick={() => record({ ...itemOf(device, tally), kind: "tally press" })}
        >
          <span className="text-2xl">+1</span>
          {/* What is counted, and not what the goal hopes for: "call-outs" beside "raises a hand instead of calling out". */}
          <span dir="auto">{counted}</span>
          {place <= 9 ? <span className="pad-key opacity-80 max-sm:hidden">key {place}</span> : null}
        </button>
      )}
      {closing ? (
        <TallyClosing
          device={device}
          tally={tally}
          isPast={isPast}
          record={record}
          onDone={(closed) => {
            setClosing(false);
            if (closed)
              onClosed(`${student.screenName}, ${goal.number} ${goal.title}: closed at ${standing.length}.`);
          }}
        />
      ) : (
        <div className="mt-3 flex flex-wrap gap-2">
          {isPast ? null : (
            <button
              type="button"
              className="btn btn-plain h-11"
              data-key={undoable ? "u" : undefined}
              disabled={!mine}
              aria-label={`Undo the last of ${me}, ${goal.title}`}
              onClick={() =>
                mine && record({ ...itemOf(device, tally), kind: "tally back", pressId: mine.pressId })
              }
            >
              Undo
            </button>
          )}
          <button type="button" className="btn btn-plain h-11" onClick={() => setClosing(true)}>
            Close it …
          </button>
        </div>
      )}
      {tally.presses.length > 0 ? (
        <details className="mt-2 text-fine text-soft">
          <summary className="min-h-11 cursor-pointer py-2.5">Every one, with its time</summary>
          <ul className="columns-2 pt-1 sm:columns-3">
            {tally.presses.map(({ pressId, at, by, back }) => (
              <li key={pressId} className={back ? "line-through" : undefined}>
                {timeOfDay(localTime(timeZone, at))} {by}
                {back ? <span className="sr-only"> taken back</span> : null}
              </li>
            ))}
          </ul>
        </details>
      ) : null}
    </li>
  );
}

/** The counts that run all day, from adult to adult: any device of the circle adds to the same one. */
export function TallyView({ device, together }: { device: Device; together: Together }) {
  const { tallies, record } = together;
  const { pack } = device;
  const today = localDay(pack.timeZone, rightTime(useNow(true, 30_000), device.kept.clockAhead));
  // Whose press the next one is stands on every card.
  useHolder(device);
  const [said, setSaid] = useState("");
  const me = holderWords(device);
  const undoable = tallies
    .filter(({ on }) => on === today)
    .toSorted((a, b) => (lastOf(b, me)?.at ?? 0) - (lastOf(a, me)?.at ?? 0))[0];
  useSittingKeys(() => undefined);
  const counts = pack.students.flatMap((student) =>
    student.goals
      .filter(
        ({ goalId, measure }) =>
          measure.kind === "count" && !tallies.some((one) => one.goalId === goalId && one.on === today),
      )
      .map((goal) => ({ student, goal })),
  );
  return (
    <div className="mx-auto w-full max-w-4xl pb-10">
      <header className="sitting-head mb-4">
        <PageTitle title="All-day tallies" />
        <HolderButton device={device} />
        <Link to="/record" className="btn btn-plain ml-auto h-11">
          Sittings
        </Link>
      </header>
      <p role="status" className="mb-4 rounded-lg bg-arrival px-4 py-2 empty:hidden" dir="auto">
        {said}
      </p>
      {tallies.length > 0 ? (
        <ul className="grid items-start gap-4 md:grid-cols-2" data-shown>
          {tallies.map((tally, index) => (
            <TallyCard
              key={`${tally.goalId} ${tally.on}`}
              device={device}
              tally={tally}
              place={index + 1}
              today={today}
              undoable={tally === undoable}
              onClosed={setSaid}
              record={record}
            />
          ))}
        </ul>
      ) : (
        <p className="max-w-[44rem] py-2">
          A count that runs through the day: everyone in the circle adds to it on their own device, and each
          press keeps its time and its person. Closed, it is one entry.
        </p>
      )}
      <section aria-labelledby="start-tally" className="mt-6">
        <h2 id="start-tally" className="start-head">
          Begin one
        </h2>
        {counts.length === 0 ? (
          <p className="py-3 text-soft">
            {tallies.length > 0
              ? "Every goal that counts is running."
              : "None of your students has a goal that counts. A goal’s measure is chosen in its set-up."}
          </p>
        ) : (
          <ul>
            {counts.map(({ student, goal }) => (
              <li key={goal.goalId} className="start-row">
                <p
                  className="min-w-16 rounded-lg bg-neutral px-3 py-2 text-center text-fine font-bold text-neutral-content"
                  dir="auto"
                >
                  {student.screenName}
                </p>
                <p className="min-w-0 flex-1" dir="auto">
                  <span className="font-serif font-semibold">{goal.number}</span> {goal.title}
                </p>
                <button
                  type="button"
                  className="btn btn-plain h-11"
                  aria-label={`Begin ${goal.number} ${goal.title}, ${student.screenName}`}
                  onClick={() =>
                    record({
                      ...itemOf(device, { studentId: student.studentId, goalId: goal.goalId }),
                      kind: "tally open",
                    })
                  }
                >
                  Begin
                </button>
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  );
}
