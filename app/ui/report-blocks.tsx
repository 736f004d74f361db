import { timeOfDay } from "#core/words/dates.ts";
import { Link } from "react-router";
import type { GoalBlock, ReportBlock } from "#core/report/document.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import { StandingMark } from "./standing-mark.tsx";

function Goal({ goal: { number, wording, facts, standing } }: { goal: GoalBlock }) {
  return (
    <div className="grid grid-cols-[3rem_1fr] border-b border-base-300 py-3">
      <p className="text-[1.35rem] leading-snug font-semibold">{number}</p>
      <div>
        <p className="leading-relaxed break-words" dir="auto">
          {wording}
        </p>
        <p className="mt-1 flex flex-wrap items-baseline gap-x-3 font-sans text-[0.9rem]">
          {standing ? <StandingMark standing={standing} /> : null}
          <span className="text-soft">{facts.join(" · ")}</span>
        </p>
        {standing ? <p className="mt-1 text-[0.95rem] leading-snug">{standing.why}</p> : null}
      </div>
    </div>
  );
}

function Line({ studentId, line, arrived }: { studentId: string; line: ReportLine; arrived: boolean }) {
  return (
    <li className={`-mx-3 rounded-lg px-3 py-1.5 ${arrived ? "arrived" : ""}`}>
      <p className="leading-relaxed">
        {line.sentence} {line.note}
      </p>
      <p className="font-sans text-fine text-soft">
        {[timeOfDay(line.time), line.author].filter(Boolean).join(" · ")}
        {line.revision > 1 ? " · " : ""}
        {line.revision > 1 ? (
          <Link className="link" to={`/students/${studentId}/${line.page}`}>
            corrected, see history
          </Link>
        ) : null}
      </p>
    </li>
  );
}

/** A heading with the lines below it; what has no heading stands for itself. */
type Part =
  | Exclude<ReportBlock, { kind: "heading" | "line" }>
  | { kind: "lines"; id: string; heading: string; lines: ReportLine[] };

function partsOf(blocks: readonly ReportBlock[]): Part[] {
  const parts: Part[] = [];
  for (const block of blocks) {
    const last = parts.at(-1);
    if (block.kind === "heading") parts.push({ kind: "lines", id: block.id, heading: block.text, lines: [] });
    else if (block.kind !== "line") parts.push(block);
    else if (last?.kind === "lines") last.lines.push(block.line);
    else parts.push({ kind: "lines", id: "", heading: "", lines: [block.line] });
  }
  return parts;
}

/** Draws blocks of a report. Where the lines above end under the same heading (its id is `after`), it is not repeated. */
export function ReportBlocks({
  studentId,
  blocks,
  after = null,
  arrived,
}: {
  studentId: string;
  blocks: readonly ReportBlock[];
  after?: string | null;
  arrived?: ReadonlySet<string>;
}) {
  return partsOf(blocks).map((part) => {
    switch (part.kind) {
      case "goal":
        return <Goal key={part.goalId} goal={part} />;
      case "sentence":
        return (
          <p key={part.text} className="text-soft">
            {part.text}
          </p>
        );
      case "lines":
        return (
          <div key={part.id} className="mb-4 grid grid-cols-[10.5rem_1fr] gap-x-4 max-sm:grid-cols-1">
            {part.id === after ? (
              <span className="max-sm:hidden" />
            ) : (
              <h2 className="pt-2 font-sans text-fine font-bold text-soft">{part.heading}</h2>
            )}
            <ol>
              {part.lines.map((line) => (
                <Line
                  key={line.entryId}
                  studentId={studentId}
                  line={line}
                  arrived={arrived?.has(line.entryId) ?? false}
                />
              ))}
            </ol>
          </div>
        );
    }
  });
}

/** The id of the last heading of these blocks; null where there is none. */
export const lastHeading = (blocks: readonly ReportBlock[]): string | null =>
  blocks.findLast((block) => block.kind === "heading")?.id ?? null;
