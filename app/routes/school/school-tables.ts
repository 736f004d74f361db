import type { NamelessCount, SchoolPatterns } from "#core/incidents/school-patterns.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { fixed } from "#core/words/numbers.ts";
import { weekdayName } from "#core/dates/week.ts";
import { aspectTitles, binWords, type PatternTable } from "../incidents/tables.ts";

const few = "fewer than three students";
const shown = (count: number | null) => count ?? few;

/** Every table of the page by its name in an address. */
export function schoolTables(
  { bins, grid, weekdays, labels, strengths, lengths, pairs, chains, findings }: SchoolPatterns,
  strengthWords: readonly string[],
): Record<string, PatternTable> {
  const ranked = (title: string, counts: readonly NamelessCount[], hidden = 0): PatternTable => ({
    head: [title, "incidents"],
    rows: [
      ...counts.map(({ label, count }) => ({ cells: [label, shown(count)] })),
      ...(hidden > 0 ? [{ cells: [`${hidden} more`, few] }] : []),
    ],
  });
  return {
    time: {
      head: ["week", "incidents"],
      rows: bins.map(({ from, to, count }) => ({
        cells: [binWords({ from, to, days: 0, incidentIds: [] }, "week"), shown(count)],
      })),
    },
    week: {
      head: ["period", "from", "to", "weekday", "incidents"],
      rows: grid.flatMap(({ name, startsAt, endsAt, cells }) =>
        cells.flatMap((cell, at) =>
          cell === null
            ? []
            : [
                {
                  cells: [
                    name,
                    timeOfDay(startsAt),
                    timeOfDay(endsAt),
                    weekdayName(weekdays[at] ?? 1),
                    shown(cell.count),
                  ],
                },
              ],
        ),
      ),
    },
    ...Object.fromEntries(
      aspectTitles.map(([aspect, title]) => [
        aspect,
        ranked(title, labels[aspect].counts, labels[aspect].hidden),
      ]),
    ),
    length: ranked("How long", lengths),
    pairs: {
      head: ["one", "and", "both", "of the first", "phi"],
      rows: pairs.map(({ a, b, both, of, phi }) => ({ cells: [a, b, both, of, fixed(phi, 2)] })),
    },
    chains: {
      head: ["before", "did", "after", "incidents", "of students"],
      rows: chains.map(({ antecedent, behavior, consequence, count, students }) => ({
        cells: [antecedent, behavior, consequence, count, students],
      })),
    },
    "stands-out": { head: ["findings"], rows: findings.map((words) => ({ cells: [words] })) },
    strength: ranked(
      "How strong",
      strengths.map(({ label, count }) => ({
        label: `${label}: ${strengthWords[Number(label) - 1] ?? ""}`,
        count,
      })),
    ),
  };
}
