import { createHash } from "node:crypto";
import { findNames, type NameFind } from "#core/report/names/find-names.ts";
import { hashNames, indexOfHashed } from "#core/report/names/hashed-names.ts";
import type { HashedNames } from "#core/report/names/hashed-names-schema.ts";
import { nameFormsOf } from "#core/report/names/name-forms.ts";
import { nameHash } from "#core/report/names/name-hash.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { isEnglishWord } from "../names/english-words.ts";
import { recordEvent } from "./events.ts";
import type { Tables } from "./tables.ts";

interface NameRows {
  salt: string;
  students: Pick<
    Tables["students"],
    "student_id" | "given_name" | "family_name" | "preferred_name" | "alias" | "initials"
  >[];
  staff: string[];
  quiet: { student_id: string; form: string }[];
}

/** Hashing a school takes long, and its names change seldom: kept by what they are made of. */
const made = new Map<string, HashedNames>();
const mostKept = 50;

/**
 * The names of the school's students, those who left too, as hashes.
 *
 * @param about the students in whose records the reader writes
 */
export async function readHashedNames(
  { trx, schoolId }: Scope,
  about: readonly string[],
): Promise<HashedNames> {
  const { rows } = await trx.raw<{ rows: NameRows[] }>(
    `select encode(sc.names_salt, 'hex') as salt,
       (select coalesce(jsonb_agg(jsonb_build_object('student_id', student_id, 'given_name', given_name, 'family_name', family_name,
          'preferred_name', preferred_name, 'alias', alias, 'initials', initials) order by student_id), '[]')
        from gate.names_here()) as students,
       (select coalesce(jsonb_agg(distinct family_name), '[]') from people where school_id = sc.school_id) as staff,
       (select coalesce(jsonb_agg(jsonb_build_object('student_id', student_id, 'form', form) order by student_id, form), '[]')
        from no_names where school_id = sc.school_id and student_id = any(:about)) as quiet
     from schools sc where sc.school_id = :schoolId`,
    { schoolId, about: [...about] },
  );
  const row = rows[0] ?? { salt: "", students: [], staff: [], quiet: [] };
  const key = createHash("sha256")
    .update(JSON.stringify([row, [...about].sort()]))
    .digest("base64");
  const known = made.get(key) ?? hashedOf(row, about);
  if (made.size >= mostKept) made.clear();
  made.set(key, known);
  return known;
}

function hashedOf({ salt, students, staff, quiet }: NameRows, about: readonly string[]): HashedNames {
  const quietOf = groupBy(quiet, ({ student_id }) => student_id);
  return hashNames(
    {
      students: students.map((row) => ({
        studentId: row.student_id,
        ...nameFormsOf({
          ...{ givenName: row.given_name, familyName: row.family_name },
          ...{ preferredName: row.preferred_name, alias: row.alias, ownInitials: row.initials },
        }),
      })),
      staff: staff.flatMap((familyName) => nameFormsOf({ ...nobody, familyName }).family),
      quiet: new Map(
        [...quietOf].map(([studentId, ofStudent]) => [studentId, ofStudent.map(({ form }) => form)]),
      ),
      isWord: isEnglishWord,
    },
    new Set(about),
    salt,
    nameHash(salt),
  );
}

const nobody = { givenName: "", familyName: "", preferredName: null, alias: null, ownInitials: null };

/** Where texts of a student's record seem to name another student. */
export async function findNamesIn(
  scope: Scope,
  studentId: string,
  texts: readonly string[],
): Promise<NameFind[][]> {
  const names = await readHashedNames(scope, [studentId]);
  const index = indexOfHashed(names, studentId, nameHash(names.salt));
  return texts.map((text) => findNames(text, index));
}

/** Remembers that a word names nobody in a student's record. Twice is once. */
export async function rememberNoName(scope: PersonScope, studentId: string, form: string): Promise<void> {
  requirePermission(scope, "names.remember");
  const { trx, schoolId, actor } = scope;
  await trx("no_names")
    .insert({ school_id: schoolId, student_id: studentId, form, person_id: actor.personId })
    .onConflict()
    .ignore();
  await recordEvent(scope, { thing: "no name", act: "remembered", thingId: null, studentId });
}
