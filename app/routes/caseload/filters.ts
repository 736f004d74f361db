import { attentionRank, type AttentionReason } from "#core/progress/attention.ts";
import { type StandingKey, standingKeys } from "#core/progress/standing.ts";
import { standingNamesEn } from "#core/words/en/standing-names.ts";

export const orders = [
  ["", "Needs attention first"],
  ["name", "by name"],
] as const;
export const standings: readonly (readonly [key: StandingKey | "" | "quiet", words: string])[] = [
  ["", "Any standing"],
  ...standingKeys.map((key) => [key, standingNamesEn[key]] as const),
  ["quiet", "No entry for two school weeks"],
];

/** What is chosen of a caseload; empty where everything is. */
export interface CaseloadFilters {
  order: (typeof orders)[number][0];
  /** A standing, or goals without an entry for two school weeks. */
  standing: StandingKey | "" | "quiet";
  area: string;
  /** The id of whoever usually measures. */
  person: string;
  /** The id of a group. */
  group: string;
}

/** Reads the choices from the address; values that do not fit are ignored. */
export function readFilters(search: URLSearchParams): CaseloadFilters {
  const text = (name: string) => (search.get(name) ?? "").slice(0, 200);
  return {
    order: orders.find(([key]) => key === text("order"))?.[0] ?? "",
    standing: standings.find(([key]) => key === text("standing"))?.[0] ?? "",
    ...{ area: text("area"), person: text("person"), group: text("group") },
  };
}

export const filtersAny = ({ standing, area, person, group }: CaseloadFilters): boolean =>
  [standing, area, person, group].some((value) => value !== "");

interface Goal {
  standing: { key: StandingKey } | null;
  quiet: boolean;
  area: string;
  measuredBy: string | null;
  attention: AttentionReason | null;
}

/**
 * The students and goals that are chosen, in their order: by what is most pressing, then by what comes next and so on, so that two
 * goals behind stand before one; goals of a student by the same; or both as they stand on their pages.
 *
 * @param members the students of the chosen group; null for everybody
 */
export function filtered<Student extends { studentId: string; goals: Goal[] }>(
  students: readonly Student[],
  { order, standing, area, person }: CaseloadFilters,
  members: readonly string[] | null,
): Student[] {
  const wanted = students
    .filter(({ studentId }) => members === null || members.includes(studentId))
    .map((student) => ({
      ...student,
      goals: student.goals.filter(
        (goal) =>
          (standing === "" || (standing === "quiet" ? goal.quiet : goal.standing?.key === standing)) &&
          (area === "" || goal.area === area) &&
          (person === "" || goal.measuredBy === person),
      ),
    }))
    .filter(({ goals }) => goals.length > 0 || !filtersAny({ order, standing, area, person, group: "" }));
  if (order === "name") return wanted;
  const ranks = (goals: readonly Goal[]) =>
    goals.map(({ attention }) => attentionRank(attention)).sort((a, b) => a - b);
  return wanted
    .map((student) => ({
      ...student,
      goals: student.goals.toSorted((a, b) => attentionRank(a.attention) - attentionRank(b.attention)),
    }))
    .sort((one, other) => {
      const [a, b] = [ranks(one.goals), ranks(other.goals)];
      const at = a.findIndex((rank, place) => rank !== b[place]);
      return at === -1 ? 0 : (a[at] ?? Infinity) - (b[at] ?? Infinity);
    });
}
