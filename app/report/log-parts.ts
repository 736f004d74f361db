import type { ReportBlock } from "#core/report/document.ts";
import type { ReportLine } from "#core/report/report-lines.ts";

/** A heading with the lines below it; what has no heading stands for itself. */
export type Part =
  | Exclude<ReportBlock, { kind: "heading" | "line" }>
  | { kind: "lines"; id: string; heading: string; lines: ReportLine[] };

/** Puts the lines of blocks under their headings. */
export function partsOf(blocks: readonly ReportBlock[]): Part[] {
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
