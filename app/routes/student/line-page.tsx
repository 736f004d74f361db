import "#app/names/load-names.ts";
import { ForTeam } from "#app/recording/for-team.tsx";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import type { ReactNode } from "react";
import { Form, useParams } from "react-router";
import { Field, TextArea } from "#app/ui/field.tsx";
import { useSaid } from "#app/ui/say.ts";

/** Says that a line was removed, with a button to put it back for those who may. */
export function Removed({
  children,
  mayChange,
  busy,
  hidden,
}: {
  children: ReactNode;
  mayChange: boolean;
  busy: boolean;
  /** What goes along unseen. */
  hidden?: ReactNode;
}) {
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2">
      <p>{children}</p>
      {mayChange ? (
        <Form method="post">
          {hidden}
          <button className="btn btn-plain btn-sm" name="intent" value="restore" disabled={busy}>
            Put it back
          </button>
        </Form>
      ) : null}
    </div>
  );
}

/** The end of every correction form: the note, the reason, save and remove. */
export function CorrectionEnd({
  note,
  noteForTeam,
  reasonName,
  what,
  typed,
  problems,
  busy,
}: {
  /** Undefined where the note is written further up. */
  note?: string | null;
  /** Is the note for the team only? Undefined where that is not asked. */
  noteForTeam?: boolean;
  /** The field for the reason. */
  reasonName: string;
  /** What is removed: "entry". */
  what: string;
  typed: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
  busy: boolean;
}) {
  const { studentId = "" } = useParams();
  return (
    <>
      {note === undefined ? null : (
        <div>
          <TextArea
            label="Note"
            name="note"
            maxLength={2000}
            defaultValue={typed?.["note"] ?? note ?? ""}
            problem={problems["note"]}
            hint="Appears in the report as written."
          />
          <names-under about={studentId} />
          {noteForTeam === undefined ? null : (
            <ForTeam
              name="noteForTeam"
              value="yes"
              defaultChecked={typed ? typed["noteForTeam"] === "yes" : noteForTeam}
            />
          )}
        </div>
      )}
      <Field
        label="Reason for the change"
        name={reasonName}
        maxLength={500}
        defaultValue={typed?.[reasonName]}
        problem={problems[reasonName]}
        hint="Saved with the history, not shown in the report. Optional."
      />
      <div className="flex flex-wrap gap-3">
        <button className="btn btn-primary" name="intent" value="correct" disabled={busy}>
          {busy ? "Saving …" : "Save the correction"}
        </button>
        <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
          Remove this {what}
        </button>
      </div>
    </>
  );
}

/** A note of the history, with whom it was for. */
export const noteWithMark = (note: string | null, isForTeam: boolean | undefined): string | null =>
  note !== null && isForTeam ? `${note} (for the team only)` : note;

const acts = {
  made: "Recorded",
  corrected: "Corrected",
  removed: "Removed",
  restored: "Put back",
  joined: "Joined with another incident, and counted there",
  "told apart": "Separated again: counts on its own",
};

/** One step in the history of a thing, with what stood from then on in words. */
export interface HistoryStep {
  revision: number;
  act: keyof typeof acts;
  by: string | null;
  deviceOf?: string | null;
  on: string;
  time: string;
  reason: string | null;
  sentence: string;
  note: string | null;
}

/** Does a history tell more than the page above it: a change, or another's device? */
export const isTold = (steps: readonly HistoryStep[]): boolean =>
  steps.length > 1 || Boolean(steps[0]?.deviceOf);

/** Shows the history of a thing, the first step first: content, person, time and reason. */
export function History({ steps }: { steps: readonly HistoryStep[] }) {
  const last = steps.at(-1);
  useSaid(steps.length, last ? `${acts[last.act]}: ${last.sentence}` : "");
  return (
    <>
      <h2 className="mt-8 border-t border-base-300 pt-5 text-lg font-bold">History</h2>
      <ol className="mt-2">
        {steps.map(({ revision, act, by, deviceOf, on, time, reason, sentence, note }) => (
          <li
            key={revision}
            className="grid grid-cols-[10rem_1fr] gap-x-4 border-b border-base-300 py-2 max-sm:grid-cols-1"
          >
            <span className="text-fine text-soft">
              {`${dateWithYear(on)}, ${timeOfDay(time)}`}
              <br />
              {by ?? "no longer known"}
              {deviceOf ? <span className="block">recorded on {deviceOf}’s device</span> : null}
            </span>
            <span dir="auto">
              <b>{acts[act]}</b>
              {act === "made" || act === "corrected" ? (
                <>
                  {`: ${sentence}`}
                  {note ? <span className="font-serif"> {note}</span> : null}
                </>
              ) : null}
              {reason ? <span className="block text-fine text-soft">Reason: {reason}</span> : null}
            </span>
          </li>
        ))}
      </ol>
    </>
  );
}
