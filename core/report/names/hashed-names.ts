import type { NameIndex } from "./find-names.ts";
import type { HashedNames } from "./hashed-names-schema.ts";
import { type NameForms, type NameKind, nameKinds } from "./name-forms.ts";

/** So many letters of a hash stand for a name: enough that an ordinary word is hardly ever taken for one. */
export const hashLength = 6;

/** What is hashed of a form: the same letters are another thing as a given name and as a family name. */
type Sort = NameKind | "word" | "staff" | "quiet";

/** Hashes a text with the salt of the school: HMAC with SHA-256, base64url. */
export type NameHash = (text: string) => string;

const keyOf = (hash: NameHash, sort: Sort, form: string) => hash(`${sort} ${form}`).slice(0, hashLength);

/** Hashes one after the other, in the order of the letters, so that their order tells nothing. */
const written = (hash: NameHash, sort: Sort, forms: Iterable<string>) =>
  [...new Set(forms)]
    .map((form) => keyOf(hash, sort, form))
    .sort()
    .join("");

const formsByKind = (hash: NameHash, all: readonly NameForms[]) => ({
  given: written(
    hash,
    "given",
    all.flatMap(({ given }) => given),
  ),
  family: written(
    hash,
    "family",
    all.flatMap(({ family }) => family),
  ),
  initials: written(
    hash,
    "initials",
    all.flatMap(({ initials }) => initials),
  ),
});

/** What the hashed names of a school are made of. */
export interface NamesOfSchool {
  students: readonly (NameForms & { studentId: string })[];
  /** Family names of adults, normalised. */
  staff: readonly string[];
  /** Forms that name nobody in the record of a student. */
  quiet: ReadonlyMap<string, readonly string[]>;
  isWord: (form: string) => boolean;
}

/**
 * Hashes the names of a school.
 *
 * @param about the students in whose records the reader writes
 */
export function hashNames(
  { students, staff, quiet, isWord }: NamesOfSchool,
  about: ReadonlySet<string>,
  salt: string,
  hash: NameHash,
): HashedNames {
  const forms = students.flatMap(({ given, family }) => [...given, ...family]);
  return {
    salt,
    students: formsByKind(hash, students),
    words: written(hash, "word", forms.filter(isWord)),
    staff: written(hash, "staff", staff),
    of: Object.fromEntries(
      students
        .filter(({ studentId }) => about.has(studentId))
        .map((student) => [
          student.studentId,
          {
            own: formsByKind(hash, [student]),
            quiet: written(hash, "quiet", quiet.get(student.studentId) ?? []),
          },
        ]),
    ),
  };
}

function setOf(text: string): ReadonlySet<string> {
  const all = new Set<string>();
  for (let at = 0; at < text.length; at += hashLength) all.add(text.slice(at, at + hashLength));
  return all;
}

const setsOf = (kinds: HashedNames["students"]) =>
  Object.fromEntries(nameKinds.map((kind) => [kind, setOf(kinds[kind])])) as Record<
    NameKind,
    ReadonlySet<string>
  >;

/** The names to look for in a note of a student's record, by their hashes. */
export function indexOfHashed(names: HashedNames, studentId: string, hash: NameHash): NameIndex {
  const students = setsOf(names.students);
  const { own, quiet } = names.of[studentId] ?? {
    ...{ own: { given: "", family: "", initials: "" }, quiet: "" },
  };
  const [ownSets, quietSet] = [setsOf(own), setOf(quiet)];
  const [words, staff] = [setOf(names.words), setOf(names.staff)];
  const known = new Map<string, string>();
  const key = (sort: Sort, form: string) => {
    const name = `${sort} ${form}`;
    const made = known.get(name) ?? keyOf(hash, sort, form);
    known.set(name, made);
    return made;
  };
  return {
    has: (kind, form) => students[kind].has(key(kind, form)),
    isOwn: (kind, form) => ownSets[kind].has(key(kind, form)),
    isStaff: (form) => staff.has(key("staff", form)),
    isWord: (form) => words.has(key("word", form)),
    isNoName: (form) => quietSet.has(key("quiet", form)),
  };
}
