import { Link } from "react-router";
import type { EventLine } from "#server/db/access-record.ts";
import type { Language } from "#core/words/en.ts";
import { actWords, beforeAndAfter, eventWords } from "#core/words/events.ts";
import { fullDate, timeOfDay } from "#core/words/dates.ts";
import { groupBy } from "#core/lists/group-by.ts";

/** Who it was, and what they are to the school or the student. */
export function actorWords(language: Language, { actor }: EventLine): string {
  const words = eventWords[language];
  if (actor.kind === "job") return words.server;
  return [actor.name, actor.position].filter(Boolean).join(", ");
}

/** What they did, and to, for or from whom. */
export function didWords(language: Language, line: EventLine): string {
  const { toWhom, forWhom, fromWhom } = eventWords[language];
  const { thing, act, recipient } = line;
  const named = thing === "disclosure" ? forWhom : act === "refused" ? fromWhom : toWhom;
  return [actWords(language, line), recipient ? named(recipient) : null].filter(Boolean).join(" ");
}

/** By which way; empty for a page, as most are. */
export const wayWords = (language: Language, { way }: EventLine): string =>
  way === null || way === "page" ? "" : (eventWords[language].ways[way] ?? "");

/** Why: what they claimed, else their part in the student's circle. */
export function whyWords(language: Language, { actor, thing, reason, circleRole }: EventLine): string {
  const words = eventWords[language];
  if (reason) return reason;
  if (thing === "disclosure") return words.noReason;
  if (circleRole) return words.roles[circleRole] ?? "";
  if (actor.kind === "link") return words.guardianWhy;
  return actor.kind === "job" ? words.serverWhy : "";
}

/** The pages on which a thing of a student is read with its history. */
const pages: Partial<Record<string, (id: string) => string>> = {
  entry: (id) => `entries/${id}`,
  incident: (id) => `incidents/${id}`,
  jot: (id) => `jots/${id}`,
  goal: (id) => `goals/${id}`,
  decision: (id) => `decisions/${id}`,
  plan: (id) => `plans/${id}`,
  edition: (id) => `editions/${id}`,
  "not measured": (id) => `not-measured/${id}`,
};

function Changes({ line }: { line: EventLine }) {
  const words = line.changes.flatMap(({ changes }) => (changes ? beforeAndAfter(changes) : []));
  if (words.length === 0) return null;
  return (
    <details className="text-fine">
      <summary className="min-h-6 w-fit cursor-pointer">Before and after</summary>
      <ul className="mt-1 mb-1 grid gap-0.5 border-l-4 border-base-300 pl-3 break-words" dir="auto">
        {words.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ul>
    </details>
  );
}

/**
 * What happened, day by day, the newest first: the time beside it, then who and why, then what.
 *
 * @param links where a thing of a student is opened from here; without it nothing is a link
 */
export function EventList({
  lines,
  language = "en",
  days,
  links = false,
  named = false,
}: {
  lines: readonly EventLine[];
  language?: Language;
  /** The days in words, where they are not in English. */
  days?: Readonly<Record<string, string>>;
  links?: boolean;
  named?: boolean;
}) {
  return (
    <>
      {[...groupBy(lines, ({ at }) => at.slice(0, 10))].map(([on, ofDay]) => (
        <section key={on} className="mt-4 max-w-[64rem]">
          <h3 className="border-b border-base-300 pb-1 font-serif text-[1.05rem] font-semibold">
            {days?.[on] ?? fullDate(on)}
          </h3>
          <ul>
            {ofDay.map((line) => {
              const page = line.thingId === null ? undefined : pages[line.thing]?.(line.thingId);
              const why = [whyWords(language, line), wayWords(language, line)].filter(Boolean).join(" · ");
              const did = didWords(language, line);
              return (
                <li
                  key={line.place}
                  className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-x-3 border-b border-base-300 py-1.5 max-sm:grid-cols-1"
                >
                  <span className="text-fine text-soft tabular-nums">{timeOfDay(line.at.slice(11, 16))}</span>
                  <div className="min-w-0" dir="auto">
                    <p>
                      <b>{actorWords(language, line)}</b>{" "}
                      {links && page && line.student ? (
                        <Link className="link" to={`/students/${line.student.studentId}/${page}`}>
                          {did}
                        </Link>
                      ) : (
                        did
                      )}
                      {named && line.student ? ` · ${line.student.initials}` : null}
                    </p>
                    {why ? <p className="text-fine text-soft">{why}</p> : null}
                    <Changes line={line} />
                  </div>
                </li>
              );
            })}
          </ul>
        </section>
      ))}
    </>
  );
}
