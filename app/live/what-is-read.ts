import type { ShouldRevalidateFunctionArgs } from "react-router";

/** A page that shows several students says so with this as its `handle`: it is read again when one of them changed. */
export const followsStudents = { follows: "students" } as const;

/** Of whom a page shows what is recorded: of one student, of several, or of nobody. */
export type Shown = { student: string } | "several" | null;

/**
 * Of whom the page shows what is recorded, by its routes and its address.
 *
 * @param matches the routes of the page, the innermost last
 * @param search the part of the address behind the question mark
 */
export function shownBy(
  matches: readonly { params: Readonly<Record<string, string | undefined>>; handle?: unknown }[],
  search: string,
): Shown {
  const student = matches.at(-1)?.params["studentId"] ?? new URLSearchParams(search).get("student");
  if (student) return { student };
  return matches.some(({ handle }) => handle === followsStudents) ? "several" : null;
}

/** Does a change of these students change what the page shows? */
export const concerns = (shown: Shown, students: readonly string[]): boolean =>
  shown !== null && (shown === "several" ? students.length > 0 : students.includes(shown.student));

/**
 * How long a page waits before it reads again, in milliseconds: the page of one student reads at most once a second, of several once in five.
 * All who show the same do not read in the same moment.
 *
 * @param sinceLast milliseconds since it was last read or opened
 * @param random from 0 to 1
 */
export function waitToRead(shown: Shown, sinceLast: number, random: number): number {
  const [atMost, jitter] = shown !== null && shown !== "several" ? [1000, 250] : [5000, 2500];
  return Math.max(0, atMost - sinceLast) + random * jitter;
}

/** After something may have been missed, as when a server started again, pages read within so many milliseconds. */
export const resyncMs = 5000;

let readingShown = 0;

/** Reads the page again because of students that changed: what is the same for every student is left out. */
export async function readShown(read: () => Promise<void>): Promise<void> {
  readingShown += 1;
  try {
    await read();
  } finally {
    readingShown -= 1;
  }
}

/** For what stands around a page: it is not read again because the record of a student changed. */
export const isReadForChange = ({ currentUrl, nextUrl, formMethod }: ShouldRevalidateFunctionArgs): boolean =>
  readingShown > 0 && formMethod === undefined && currentUrl.href === nextUrl.href;
