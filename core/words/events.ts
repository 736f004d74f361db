import { eventsEn } from "./en/events.ts";
import type { Language } from "./en.ts";
import { eventsEs } from "./es/events.ts";

/** The words of what happened. They are in no report, so that pages of reports do without them. */
export const eventWords: Record<Language, typeof eventsEn> = { en: eventsEn, es: eventsEs };

/** Acts that say all by themselves, with their thing. */
const whole = new Set([
  ...["guardian asked", "guardian opened", "guardian sign-in failed", "guardian signed in", "message opened"],
  ...["person session ended", "person sign-in failed", "person signed in", "pin refused"],
  ...["outside request given", "outside request refused", "release made", "release taken back"],
]);

/** Acts of which the person they are about is named in place of the thing. */
const ofPeople = new Set(["guardian", "person", "pin", "circle"]);

/**
 * What somebody did, without who: "corrected an entry".
 *
 * @param about the person it is about, where it is about one
 * @param what the permission or the command that stands beside it
 */
export function actWords(
  language: Language,
  { act, thing, about, what }: { act: string; thing: string; about?: string | null; what?: string | null },
): string {
  const { acts, pairs, things } = eventWords[language];
  const key = `${thing} ${act}`;
  const verb = pairs[key] ?? acts[act] ?? act;
  if (whole.has(key)) return verb;
  const noun = things[thing] ?? thing;
  if (thing === "command" || thing === "permission") return `${verb} ${what ?? noun}`;
  if (thing === "circle" && about && act !== "read") return `${verb} ${about} · ${noun}`;
  return `${verb} ${about && ofPeople.has(thing) ? about : noun}`;
}

const shortest = (value: unknown): string => {
  if (value === null || value === undefined || value === "") return "—";
  const text = typeof value === "string" ? value : JSON.stringify(value);
  return text.length > 120 ? `${text.slice(0, 119)}…` : text;
};

const isPlain = (value: unknown): value is Record<string, unknown> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/**
 * What changed, each part with what it was before and after: `["role: record → lead"]`. Parts within parts are compared, and only what
 * differs is named.
 *
 * @param changes of each column: before and after
 */
export function beforeAndAfter(changes: Record<string, unknown>): string[] {
  return Object.entries(changes).flatMap(([column, pair]) => {
    const [before, after] = Array.isArray(pair) ? (pair as unknown[]) : [];
    const name = column.replaceAll("_", " ");
    if (isPlain(before) && isPlain(after)) {
      const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
      const inner = [...keys].flatMap((key) =>
        JSON.stringify(before[key]) === JSON.stringify(after[key])
          ? []
          : [[key, [before[key], after[key]]] as const],
      );
      return beforeAndAfter(Object.fromEntries(inner)).map((one) => `${name}, ${one}`);
    }
    return `${name}: ${shortest(before)} → ${shortest(after)}`;
  });
}
