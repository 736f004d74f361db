import type { SpanComparison } from "#core/incidents/choose.ts";
import type { Aspect } from "#core/incidents/labelled-incident.ts";
import type { BinSize, Bin, Counted, Patterns } from "#core/incidents/patterns.ts";
import { weekdayName } from "#core/dates/week.ts";
import { dateWithYear, monthWithYear, timeOfDay, wholeDate } from "#core/words/dates.ts";
import { fixed, percent, plural } from "#core/words/numbers.ts";

/** The numbers of one picture, for the page and for a file. */
export interface PatternTable {
  head: readonly string[];
  rows: readonly {
    cells: readonly (string | number)[];
    /** The incidents behind the row: its count opens them. */
    incidentIds?: readonly string[];
    /** Or behind single cells. */
    opens?: readonly (readonly string[] | undefined)[];
  }[];
}

export const aspectTitles: readonly (readonly [aspect: Aspect, title: string])[] = [
  ["setting", "Setting"],
  ["antecedent", "Antecedent"],
  ["behavior", "Behavior"],
  ["consequence", "Consequence"],
  ["function", "Suspected function"],
];

export const binNames: Record<BinSize, string> = { day: "day", week: "week", month: "month" };

/** "Week of Oct 5, 2026" */
export const binWords = ({ from }: Bin, size: BinSize): string =>
  size === "day" ? wholeDate(from) : size === "week" ? `Week of ${dateWithYear(from)}` : monthWithYear(from);

export const observedWords = (days: number): string =>
  days === 0 ? "no observed day" : `${days} observed ${plural(days, "day")}`;

const pWords = (p: number) => (p < 0.001 ? "< 0.001" : fixed(p, 3));

function counted(title: string, list: readonly Counted[], n: number): PatternTable {
  return {
    head: [title, "incidents", "of all"],
    rows: list.map(({ label, incidentIds }) => ({
      cells: [label, incidentIds.length, n === 0 ? "" : percent((100 * incidentIds.length) / n)],
      incidentIds,
    })),
  };
}

/** Every table of a page of patterns by its name in an address, made when it is asked for. */
export function patternTables(
  { bins, grid, weekdays, labels, n, lengths, strengths, pairs, chains, findings }: Patterns,
  {
    size,
    strengthWords,
    comparison,
  }: { size: BinSize; strengthWords: readonly string[]; comparison: SpanComparison | null },
): Record<string, () => PatternTable> {
  return {
    "stands-out": () => ({
      head: ["Findings", "strong or weak", "adjusted p", "incidents"],
      rows: findings.map(({ words, strength, adjustedP, incidentIds }) => ({
        cells: [words, strength, pWords(adjustedP), incidentIds.length],
        incidentIds,
      })),
    }),
    time: () => ({
      head: ["from", "to", "incidents", "days observed", "a day"],
      rows: bins.map(({ from, to, days, incidentIds }) => ({
        cells: [
          ...(size === "day" ? [from, to] : [dateWithYear(from), dateWithYear(to)]),
          ...[incidentIds.length, days, days > 0 ? fixed(incidentIds.length / days, 2) : ""],
        ],
        incidentIds,
      })),
    }),
    week: () => ({
      head: ["period", "from", "to", "weekday", "incidents", "days watched"],
      rows: grid.flatMap(({ name, startsAt, endsAt, cells }) =>
        cells.flatMap((cell, at) =>
          cell === null
            ? []
            : [
                {
                  cells: [
                    ...[name, timeOfDay(startsAt), timeOfDay(endsAt), weekdayName(weekdays[at] ?? 1)],
                    ...[cell.incidentIds.length, cell.watched],
                  ],
                  incidentIds: cell.incidentIds,
                },
              ],
        ),
      ),
    }),
    ...Object.fromEntries(
      aspectTitles.map(([aspect, title]) => [aspect, () => counted(title, labels[aspect], n)]),
    ),
    length: () => counted("Duration", lengths.bands, n),
    strength: () =>
      counted(
        "Intensity",
        strengths.map(({ label, incidentIds }) => ({
          label: `${label}: ${strengthWords[Number(label) - 1] ?? ""}`,
          incidentIds,
        })),
        n,
      ),
    pairs: () => ({
      head: ["one", "and", "both", "first only", "second only", "neither", "phi", "p", "adjusted p"],
      rows: pairs.map(({ a, b, both, aOnly, bOnly, neither, phi, fisherP, adjustedP, behind }) => ({
        cells: [
          a,
          b,
          both,
          aOnly,
          bOnly,
          neither,
          phi === null ? "" : fixed(phi, 2),
          pWords(fisherP),
          pWords(adjustedP),
        ],
        opens: [undefined, undefined, behind.both, behind.aOnly, behind.bOnly, behind.neither],
      })),
    }),
    chains: () => ({
      head: ["antecedent", "behavior", "consequence", "incidents"],
      rows: chains.map(({ antecedent, behavior, consequence, count, incidentIds }) => ({
        cells: [antecedent, behavior, consequence, count],
        incidentIds,
      })),
    }),
    change: () => ({ head: changeHead, rows: comparison === null ? [] : changeRows(comparison) }),
  };
}

const changeHead = ["", "before", "after"];

/** What the two spans are, row by row. */
function changeRows({ before, after, rates }: SpanComparison): PatternTable["rows"] {
  const both = (
    label: string,
    of: (side: SpanComparison["before"]) => string | number,
    ids?: (side: SpanComparison["before"]) => readonly string[],
  ) => ({
    cells: [label, of(before), of(after)],
    ...(ids && { opens: [undefined, ids(before), ids(after)] }),
  });
  const share = (count: number, known: number) =>
    known === 0 ? "–" : `${count} (${percent((100 * count) / known)})`;
  const rate = (side: "before" | "after") => {
    const one = rates?.[side];
    return one ? `${fixed(one.perDay, 2)} (${fixed(one.low, 2)} to ${fixed(one.high, 2)})` : "–";
  };
  const strong = ({ strengths }: SpanComparison["before"]) =>
    strengths.reduce((sum, { incidentIds }) => sum + incidentIds.length, 0);
  const bands = [...new Set([...before.lengths.bands, ...after.lengths.bands].map(({ label }) => label))];
  const inBand = (band: string) => (side: SpanComparison["before"]) =>
    side.lengths.bands.find(({ label }) => label === band)?.incidentIds ?? [];
  const ofStrength = (at: number) => (side: SpanComparison["before"]) =>
    side.strengths[at]?.incidentIds ?? [];
  return [
    both("days", ({ from, to }) => `${dateWithYear(from)} to ${dateWithYear(to)}`),
    { cells: ["observed school days", rates?.before.days ?? 0, rates?.after.days ?? 0] },
    both(
      "incidents",
      ({ n }) => n,
      ({ incidentIds }) => incidentIds,
    ),
    { cells: ["a day (95% interval)", rate("before"), rate("after")] },
    ...bands.map((band) =>
      both(band, (side) => share(inBand(band)(side).length, side.lengths.known), inBand(band)),
    ),
    ...[0, 1, 2, 3, 4].map((at) =>
      both(`strength ${at + 1}`, (side) => share(ofStrength(at)(side).length, strong(side)), ofStrength(at)),
    ),
  ];
}
