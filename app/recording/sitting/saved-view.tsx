import { useEffect } from "react";
import { Link, useNavigate } from "react-router";
import { entryLine, notMeasuredLine } from "#core/report/entry-line.ts";
import type { Device } from "../device/device.ts";
import type { WaitingItem } from "../device/queue.ts";
import { enqueueTakingBack, Undo } from "../take-back.tsx";
import { reopenSitting } from "./reopen.ts";
import type { Queued } from "#core/sync/queued.ts";
import { readingOf } from "./sheet.ts";
import type { Sheet, Sitting } from "#core/sync/kept.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { say } from "#app/ui/say.ts";

/** What a sitting left behind, for the screen after it. */
export interface SavedSitting {
  sitting: Sitting;
  /** All its sheets, also those that made no line. */
  sheets: readonly Sheet[];
  lines: { item: Queued; sheet: Sheet; at: number }[];
}

function lineOf({ item, sheet, at }: SavedSitting["lines"][number]): {
  sentence: string;
  note: string | null;
} {
  const { title, measure } = sheet.goal;
  if (item.kind === "absent") return { sentence: `${title}: absent.`, note: null };
  if (item.kind === "not measured") return notMeasuredLine(title, item.reason, item.note);
  if (item.kind !== "entry" && item.kind !== "second") return { sentence: title, note: null };
  const reading = readingOf(sheet, at);
  if (!("entry" in reading)) return { sentence: title, note: item.note };
  const circumstances = {
    ...(item.support ? { support: item.support } : {}),
    ...(item.interrupted ? { interrupted: true } : {}),
  };
  return entryLine(title, { measure, entry: reading.entry, score: reading.score, circumstances }, item.note);
}

/** The margin after a sitting: each line as it will read in each student's report, and whether the server has it. */
export function SavedView({
  device,
  saved,
  waiting,
  onSend,
}: {
  device: Device;
  saved: SavedSitting;
  waiting: readonly WaitingItem[];
  onSend: () => void;
}) {
  const navigate = useNavigate();
  async function undo(): Promise<void> {
    // First the marks are on the disk again, then what they became is taken back.
    const again = await reopenSitting(device, saved.sitting, saved.sheets);
    await enqueueTakingBack(
      device,
      saved.lines.map(({ item }) => item),
    );
    onSend();
    await navigate(`/record?sitting=${again}`, { replace: true });
    say("Undone: nothing of the sitting is saved, and it is open again with all its marks.");
  }
  const left = new Map(waiting.map(({ item, refused }) => [item.id, refused]));
  const stateOf = ({ id, kind }: Queued) =>
    !left.has(id)
      ? kind === "second"
        ? "saved beside the first observer’s"
        : "in the report"
      : left.get(id)
        ? "not taken, see below"
        : "saved on this device";
  useEffect(() => say(`Saved: ${saved.lines.map((line) => lineOf(line).sentence).join(" ")}`), [saved]);
  return (
    <div className="mx-auto w-full max-w-3xl">
      <header className="sitting-head">
        <PageTitle title="The sitting is saved" className="font-serif text-lg font-semibold" />
        <span className="ml-auto flex flex-wrap gap-2">
          <Undo onUndo={undo}>Undo, back to the sitting</Undo>
          <Link to="/record" className="btn btn-primary h-11">
            New sitting
          </Link>
          <Link to="/caseload" className="btn btn-plain h-11">
            Caseload
          </Link>
          {saved.lines.some(({ item }) => item.kind === "entry" && item.entry.kind === "rubric") ? (
            <Link to="/packets?of=assessment" className="btn btn-plain h-11">
              A page for each student
            </Link>
          ) : null}
        </span>
      </header>
      {saved.sitting.students.map((student) => {
        const lines = saved.lines.filter(({ item }) => item.studentId === student.studentId);
        return lines.length === 0 ? null : (
          <section
            key={student.studentId}
            className="mt-5 border-l border-rule pl-5"
            aria-label={student.screenName}
          >
            <h2 className="text-fine font-bold text-soft" dir="auto">
              {student.screenName}:{" "}
              <Link className="link" to={`/students/${student.studentId}/report`}>
                report
              </Link>
            </h2>
            {lines.map((line) => {
              const { sentence, note } = lineOf(line);
              return (
                <article key={line.item.id} className="arrived -ml-3 mt-1.5 rounded-lg px-3 py-2">
                  <p className="font-serif leading-relaxed" dir="auto">
                    {sentence} {note}
                  </p>
                  <p className="text-fine text-soft" role="status">
                    {stateOf(line.item)}
                    {line.item.kind === "entry" && !left.has(line.item.id) ? (
                      <>
                        {" · "}
                        <Link className="link" to={`/students/${student.studentId}/entries/${line.item.id}`}>
                          correct or remove
                        </Link>
                      </>
                    ) : null}
                    {line.item.kind === "second" && !left.has(line.item.id) ? (
                      <>
                        {" · "}
                        <Link className="link" to={`/students/${student.studentId}/beside/${line.item.id}`}>
                          how far you agree
                        </Link>
                      </>
                    ) : null}
                  </p>
                </article>
              );
            })}
          </section>
        );
      })}
    </div>
  );
}
