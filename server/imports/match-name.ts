/** Someone a typed name may mean. */
export interface Named {
  id: string;
  given: string;
  family: string;
  preferred: string | null;
}

export type Match = { ok: true; id: string } | { ok: false; why: string };

const fold = (text: string) => text.normalize("NFKC").toLowerCase().replace(/\s+/g, " ").trim();

/** Every way of writing one person that counts as that person. */
function writings({ given, family, preferred }: Named): Set<string> {
  const first = [given, ...(preferred ? [preferred] : [])].map(fold);
  const last = fold(family);
  const initials = `${fold(given).charAt(0)}${last.charAt(0)}`;
  return new Set([
    ...first,
    ...first.flatMap((name) => [
      `${name} ${last}`,
      `${last}, ${name}`,
      `${name} ${last.charAt(0)}`,
      `${name} ${last.charAt(0)}.`,
    ]),
    initials,
    [...initials].map((letter) => `${letter}.`).join(""),
    [...initials].map((letter) => `${letter}.`).join(" "),
  ]);
}

/**
 * Whom a typed name means. Only a name that fits exactly one person is a match: a given or preferred name alone or with the
 * family name or its first letter, 'Last, First', or two initials. A near miss is asked about and never guessed.
 *
 * @param kind what the message calls such a person, "student" or "staff member"
 */
export function matchName(typed: string, people: readonly Named[], kind: string): Match {
  const name = fold(typed);
  if (name === "") return { ok: false, why: `no ${kind} is named` };
  const fitting = people.filter((person) => writings(person).has(name));
  const [only] = fitting;
  if (only && fitting.length === 1) return { ok: true, id: only.id };
  if (fitting.length > 1)
    return {
      ok: false,
      why: `'${typed.trim()}' fits ${fitting.map((one) => `${one.given} ${one.family}`).join(" and ")}`,
    };
  const parts = name.split(/\s*(?:\/|&|\+|;| and )\s*/);
  if (parts.length > 1) return { ok: false, why: `'${typed.trim()}' names more than one ${kind}` };
  return { ok: false, why: `no ${kind} is certain to be meant by '${typed.trim()}'` };
}
