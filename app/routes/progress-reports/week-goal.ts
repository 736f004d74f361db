/** A goal on the page of a reporting period. */
export interface WeekGoal {
  goalId: string;
  number: string;
  title: string;
  state: "ready" | "drafted" | "to write";
  /** Was something recorded or changed since it was marked ready? */
  isNewer: boolean;
  /** The criterion is reached and not confirmed. */
  reached: boolean;
  behind: boolean;
  /** Nothing was measured in the period. */
  noData: boolean;
  /** Is it for the viewer to write? */
  isMine: boolean;
  mayWrite: boolean;
  /** Who writes it, where that is another person. */
  with: string | null;
}

/** Which goals are shown: the key in the address, the words, and whether a goal is among them. */
export const shows = [
  ["", "all", () => true],
  ["write", "to write", ({ state, isMine }) => state !== "ready" && isMine],
  ["reached", "criterion reached, to be confirmed", ({ reached }) => reached],
  ["behind", "behind", ({ behind }) => behind],
  ["none", "no data this period", ({ noData }) => noData],
  ["others", "from others", (goal) => goal.with !== null],
] as const satisfies readonly (readonly [string, string, (goal: WeekGoal) => boolean])[];

export type Show = (typeof shows)[number][0];

/** The choice that an address names; all where it names none. */
export const readShow = (search: URLSearchParams): Show =>
  shows.find(([key]) => key === search.get("show"))?.[0] ?? "";

const isShown = (show: Show): ((goal: WeekGoal) => boolean) =>
  shows.find(([key]) => key === show)?.[2] ?? (() => true);

/** Students with the goals that are shown; those without one are left out. */
export const shownOf = <Student extends { goals: readonly WeekGoal[] }>(
  students: readonly Student[],
  show: Show,
): Student[] =>
  students
    .map((student) => ({ ...student, goals: student.goals.filter(isShown(show)) }))
    .filter(({ goals }) => goals.length > 0);

/** How many goals of all are among a choice. */
export const countOfShow = (students: readonly { goals: readonly WeekGoal[] }[], show: Show): number =>
  shownOf(students, show).reduce((n, { goals }) => n + goals.length, 0);

/**
 * The goal that comes after another in the order of the page, is not ready and is the viewer's to write; from the end it goes on at the
 * beginning. Null where none is left.
 */
export function nextToWrite<Student extends { studentId: string; goals: readonly WeekGoal[] }>(
  students: readonly Student[],
  goalId: string,
): { studentId: string; goalId: string } | null {
  const all = students.flatMap(({ studentId, goals }) => goals.map((goal) => ({ studentId, ...goal })));
  const at = all.findIndex((goal) => goal.goalId === goalId);
  const next = [...all.slice(at + 1), ...all.slice(0, Math.max(0, at))].find(
    ({ state, isMine }) => state !== "ready" && isMine,
  );
  return next ? { studentId: next.studentId, goalId: next.goalId } : null;
}
