import { openQuestion } from "#core/sitting/read-sheet.ts";
import { isTouched, queuedFrom, readingOf } from "./sheet.ts";
import type { Sheet } from "#core/sync/kept.ts";
import type { SittingStore } from "./store.ts";
import { useSheet } from "./use-sitting.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

function wordsOf(sheet: Sheet, now: number): { said: string; problem?: string } {
  if (sheet.state === "absent") return { said: "absent" };
  if (sheet.state === "refused") return { said: "not measured, refused" };
  const reading = readingOf(sheet, now);
  if (reading.state === "problem")
    return { said: "cannot be saved yet", problem: reading.problems.map(({ message }) => message).join(" ") };
  const interrupted = sheet.state === "interrupted" ? ", interrupted" : "";
  if (reading.state === "empty")
    return { said: sheet.state === "interrupted" ? "not measured, interrupted" : "not measured" };
  return { said: `${reading.words}${interrupted}` };
}

function ReviewLine({
  store,
  goalId,
  now,
  onBack,
}: {
  store: SittingStore;
  goalId: string;
  now: number;
  onBack: (goalId: string) => void;
}) {
  const sheet = useSheet(store, goalId);
  const { goal, marks } = sheet;
  const { said, problem } = wordsOf(sheet, now);
  const question = sheet.state === null ? openQuestion(goal.measure, marks, goal.planned) : null;
  return (
    <li className="border-b border-base-300 py-2.5">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="min-w-0 flex-1">
          <button
            type="button"
            className="link inline-flex min-h-11 items-baseline gap-x-3 text-left"
            title="Back to its panel"
            onClick={() => onBack(goalId)}
          >
            <span className="font-serif font-semibold">{goal.number}</span>
            <span dir="auto">{goal.title}</span>
          </button>
        </span>
        <span className={isTouched(sheet) ? "font-bold" : "text-soft"}>{said}</span>
      </div>
      {problem ? (
        <p role="alert" className="mt-1 font-bold text-error">
          {problem}
        </p>
      ) : null}
      {question ? (
        <p className="mt-1 flex flex-wrap items-center gap-2 rounded-lg bg-arrival px-3 py-1">
          <span className="flex-1">{question.words}</span>
          {question.about === "open rows" && goal.measure.kind === "steps" ? (
            <button
              type="button"
              className="btn btn-plain h-11"
              aria-pressed={sheet.chainEnded}
              onClick={() =>
                store.change(goalId, (before) => ({ ...before, chainEnded: !before.chainEnded }))
              }
            >
              {sheet.chainEnded ? "Broken off after all" : "The rest was not reached"}
            </button>
          ) : null}
        </p>
      ) : null}
      {sheet.note ? (
        <p className="mt-1 font-serif text-soft" dir="auto">
          {sheet.note}
        </p>
      ) : null}
    </li>
  );
}

/** The whole sitting on one screen before it is kept. */
export function ReviewView({
  store,
  now,
  noSchool,
  onBack,
  onSave,
  saving,
}: {
  store: SittingStore;
  /** What is said of today where there is no school. */
  noSchool: string | null;
  /** One moment for all clocks that still run, so that the figures stand still while they are read. */
  now: number;
  onBack: (goalId: string | null) => void;
  onSave: () => void;
  saving: boolean;
}) {
  const sitting = store.sitting();
  const sheets = store.sheets();
  const kept = sheets.filter((sheet) => queuedFrom(sheet, sitting, now, 0) !== null).length;
  return (
    <div className="mx-auto flex w-full max-w-3xl flex-1 flex-col">
      <header className="sitting-head">
        <PageTitle title="Review before saving" className="font-serif text-lg font-semibold" />
        <button type="button" className="btn btn-plain ml-auto h-11" onClick={() => onBack(null)}>
          Back to the sitting
        </button>
      </header>
      {noSchool ? (
        <p className="mt-3 rounded-lg bg-arrival px-3 py-2" role="note">
          <b>{noSchool}</b> If this was observed on another day, go back and use Past observations.
        </p>
      ) : null}
      {sitting.students.map((student) => (
        <section key={student.studentId} className="mt-4" aria-label={student.screenName}>
          <h2
            className="inline-block rounded-lg bg-neutral px-4 py-1.5 text-fine font-bold text-neutral-content"
            dir="auto"
          >
            {student.screenName}
          </h2>
          <ul className="mt-1">
            {student.goalIds.map((goalId) => (
              <ReviewLine key={goalId} store={store} goalId={goalId} now={now} onBack={onBack} />
            ))}
          </ul>
        </section>
      ))}
      <div className="save-bar mt-auto">
        <button
          type="button"
          className="btn btn-primary h-12 px-8"
          disabled={kept === 0 || saving}
          onClick={onSave}
        >
          {saving ? "Saving …" : kept === 1 ? "Save 1 line" : `Save ${kept} lines`}
        </button>
        <p className="text-fine text-soft">
          {kept === 0
            ? "Nothing is marked yet, so nothing is saved."
            : "Goals not measured are recorded as not measured."}
        </p>
      </div>
    </div>
  );
}
