import * as z from "zod/mini";
import { type Problems, text } from "#app/ui/form-data.ts";
import { addedSince, readRows } from "#app/ui/typed-rows.ts";

interface Limits {
  /** Lines. */
  most?: number;
  /** Characters of a line. */
  long?: number;
}

/** The lines of a written list, each once. What is wrong with the list as a whole stands under its prefix. */
export function readLines(
  typed: Readonly<Record<string, string>>,
  prefix: string,
  { most = 200, long = 100 }: Limits = {},
): { lines: string[]; problems: Problems } {
  const row = z.object({ name: text(long, "Write something, or take the line out.") });
  const { values, problems } = readRows(typed, prefix, row);
  const lines = [...new Set(values.map(({ value }) => value.name))];
  if (lines.length > most) problems[prefix] = `At most ${most} lines.`;
  return { lines, problems };
}

/** The lines as they shall stand, with what another person added since the list was begun to be changed; null where nothing changes. */
export function changedLines(
  typed: Readonly<Record<string, string>>,
  prefix: string,
  lines: readonly string[],
  now: readonly string[],
): string[] | null {
  const next = [...lines, ...addedSince(typed, prefix, now, lines, (name) => name)];
  return JSON.stringify(next) === JSON.stringify(now) ? null : next;
}
