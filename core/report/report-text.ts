import type { GoalBlock, RatersTable, ReportBlock, ReportDocument, ReportList } from "./document.ts";
import { lineMarks } from "./line-marks.ts";
import type { ReportLine } from "./report-lines.ts";
import type { Language } from "../words/en.ts";

const joined = (parts: readonly (string | null | undefined | false)[], between: string) =>
  parts.filter(Boolean).join(between);
const item = (text: string) => `- ${text}`;

const ratersText = ({ label, columns, rows, sentence }: RatersTable): string[] => [
  label,
  ...columns.map(({ name, about }) => item(`${name}: ${about}`)),
  ...rows.map(({ day, cells }) =>
    item(
      `${day}: ${joined(
        cells.map((cell, at) => cell && `${columns[at]?.name ?? ""} ${cell}`),
        "; ",
      )}`,
    ),
  ),
  sentence,
];

const listText = ({ label, items }: ReportList): string =>
  [label, ...items.map(({ text, aside }) => item(joined([text, aside], " · ")))].join("\n");

/** A goal in plain text: paragraphs of one line each, and lists of lines that begin with a hyphen. */
function goalParagraphs(goal: GoalBlock): string[] {
  const { number, title, wording, meaning, standing, figures, sentences, facts, chart, lists } = goal;
  return [
    `${number} ${title}`,
    wording,
    meaning ?? "",
    standing ? `${standing.word}. ${standing.why}`.trim() : "",
    figures.map(({ label, value, about }) => `${label}: ${value} (${about})`).join("\n"),
    ...sentences,
    facts.map(({ label, value }) => `${label}: ${value}`).join("\n"),
    chart?.description ?? "",
    ...(goal.statements ?? []).map(({ label, rating, drafted, words, by }) =>
      joined([`${label} (${by})`, joined([rating, drafted], " "), words], "\n"),
    ),
    ...lists.map(listText),
    ...(goal.raters ? [ratersText(goal.raters).join("\n")] : []),
  ].filter((text) => text !== "");
}

/** A goal in plain text, to be pasted where only text is taken. */
export const goalText = (goal: GoalBlock): string => goalParagraphs(goal).join("\n\n");

/** A line of a report in plain text. */
export function lineText(
  { sentence, note, by, link, pictures = [], teamOnly, noteForTeam, revision }: ReportLine,
  language: Language,
): string {
  const says = lineMarks[language];
  return joined(
    [
      joined([sentence, note, link && `${link.words}: ${link.url}`], " "),
      ...pictures.map(({ words }) => words),
      by,
      teamOnly && says.teamOnly,
      noteForTeam && says.noteForTeam,
      revision > 1 && says.corrected,
    ],
    " · ",
  );
}

function blockText(block: ReportBlock, language: Language): string {
  switch (block.kind) {
    case "glance":
      return block.columns
        .map(({ label, items }) => [label, ...items.map(({ text }) => item(text))].join("\n"))
        .join("\n\n");
    case "goal":
      return goalText(block);
    case "heading":
      return `\n${block.text}`;
    case "sentence":
    case "legend":
      return block.text;
    case "line":
      return item(lineText(block.line, language));
    case "assessment":
      return [
        `${block.title} (${block.about})`,
        ...(block.comment ? [block.comment] : []),
        ...block.rows.map(({ criterion, level, meaning }) =>
          item(joined([`${criterion}: ${level}`, meaning], ": ")),
        ),
        block.by,
      ].join("\n");
    case "meeting":
      return block.lists.map(listText).join("\n\n");
    case "weeks":
      return [
        block.title,
        ...block.weeks.map(({ label }) => item(label)),
        ...block.plans.map(({ name }) => item(name)),
      ].join("\n");
    case "plan":
      return [
        `${block.name} ${block.days}`,
        ...block.facts.map(({ label, value }) => item(`${label}: ${value}`)),
        ...(block.changed ? [item(block.changed)] : []),
      ].join("\n");
    case "jots": {
      const { title, counts, levels, latest, raters } = block;
      return [
        title,
        counts,
        ...levels.flatMap(({ name, meaning }) => (meaning ? [item(`${name}: ${meaning}`)] : [])),
        ...(latest
          ? [
              joined(
                [
                  `${latest.label}: ${latest.text}`,
                  latest.by,
                  latest.teamOnly && lineMarks[language].teamOnly,
                ],
                " · ",
              ),
            ]
          : []),
        ...(raters ? ratersText(raters) : []),
      ].join("\n");
    }
    case "pictures":
      return block.items.map(({ caption, by }) => item(joined([caption, by], " · "))).join("\n");
  }
}

const lines = (block: ReportBlock | undefined) => block?.kind === "line";

/**
 * A report in plain text, UTF-8 with a line for each paragraph. It says all that the report says but what is drawn; a chart is described.
 *
 * @param edition "Edition 3"; null for a running report
 */
export function reportText(report: ReportDocument, edition: string | null = null): string {
  const { title, called, facts, sections, language } = report;
  const about = [title, edition ?? called, ...facts.map(({ label, value }) => `${label}: ${value}`)].join(
    "\n",
  );
  const body = sections.map(({ label, blocks }) =>
    blocks.reduce(
      (text, block, at) =>
        `${text}${lines(block) && (lines(blocks[at - 1]) || blocks[at - 1]?.kind === "heading") ? "\n" : "\n\n"}${blockText(block, language).replace(/^\n/, "")}`,
      label.toUpperCase(),
    ),
  );
  return `${[about, ...body].join("\n\n\n")}\n`;
}

/** Where a text is best parted before so many characters: after a paragraph, a sentence, a word, or within a word. */
function cutOf(text: string, limit: number): number {
  const head = text.slice(0, limit + 1);
  for (const end of [/\n\n/g, /\n/g, /[.!?] /g, /\s/g]) {
    const last = [...head.matchAll(end)].at(-1);
    if (last && last.index > limit / 4)
      return last.index + (last[0].startsWith("\n") || /^\s$/.test(last[0]) ? 0 : 1);
  }
  // No half of a letter that is two units long.
  const unit = text.charCodeAt(limit - 1);
  return unit >= 0xd800 && unit < 0xdc00 ? limit - 1 : limit;
}

/**
 * A text in parts that each fit a field.
 *
 * @param limit characters, as a browser counts those of a field: at least 1; null where there is none
 */
export function fitted(text: string, limit: number | null): string[] {
  const parts: string[] = [];
  let rest = text.trim();
  while (limit !== null && rest.length > limit) {
    const cut = Math.max(1, cutOf(rest, limit));
    parts.push(rest.slice(0, cut).trimEnd());
    rest = rest.slice(cut).trimStart();
  }
  return rest === "" ? parts : [...parts, rest];
}
