import { v5 as namedId } from "uuid";
import { groupBy } from "#core/lists/group-by.ts";
import { type Choice, type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import type { ChosenChoices, ChosenOne } from "#core/model/incident-content.ts";
import { Invalid, notFound } from "../errors.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import { readStarters, type Starters } from "./incident-settings.ts";
import { inCircle } from "./students.ts";
import type { Tables } from "./tables.ts";

/** What one list of a student offers: its own choices, or the starters where it has none. */
export function offeredIn(studentId: string, list: ChoiceList, own: readonly Choice[], starters: Starters) {
  const stands = own.filter((one) => one.list === list && !one.once && !one.retired);
  return stands.length > 0 ? stands : starterList(studentId, list, starters);
}

interface ChoiceRow extends Pick<
  Tables["choices"],
  "choice_id" | "student_id" | "list" | "name" | "definition" | "once"
> {
  retired: boolean;
}

const columns = `c.choice_id, c.student_id, c.list, c.name, c.definition, c.once, c.retired_on is not null as retired`;
const toChoice = ({ choice_id, list, name, definition, once, retired }: ChoiceRow): Choice => ({
  choiceId: choice_id,
  ...{ list, name, definition, once, retired },
});

/** The id of a starter choice of one student is the same on every device, with or without a network. */
const starterId = (studentId: string, list: ChoiceList, name: string) =>
  namedId(`${list} ${name}`, studentId);

/** What the lists of a student without lists begin with: the school's own settings, then what classrooms have in common. */
export function starterList(studentId: string, list: ChoiceList, starters: Starters): Choice[] {
  return starters[list].map((name) => ({
    choiceId: starterId(studentId, list, name),
    ...{ list, name, definition: null, once: false, retired: false },
  }));
}

/** All choices of one student, in the order of their lists; retired ones and those of one incident are among them. */
export async function listChoices({ trx, schoolId }: Scope, studentId: string): Promise<Choice[]> {
  const { rows } = await trx.raw<{ rows: ChoiceRow[] }>(
    `select ${columns} from choices c where c.school_id = ? and c.student_id = ? order by c.position, lower(c.name)`,
    [schoolId, studentId],
  );
  return rows.map(toChoice);
}

/**
 * What each student of the person's circles is offered when an incident is recorded: most used first, counted anew each Monday
 * and over twelve weeks, so that a choice stays in its place while a week runs.
 */
export async function listOffered(
  { trx, schoolId, actor }: PersonScope,
  monday: string,
): Promise<Map<string, Choice[]>> {
  const { rows } = await trx.raw<{ rows: ChoiceRow[] }>(
    `select ${columns} from choices c
     join students st on st.school_id = c.school_id and st.student_id = c.student_id
     left join lateral (
       select count(*) as used from incident_choices ic
       join incidents i on i.school_id = ic.school_id and i.incident_id = ic.incident_id
       where ic.school_id = c.school_id and ic.choice_id = c.choice_id and i.state = 'kept'
         and i.occurred_on < :monday::date and i.occurred_on >= :monday::date - 84) u on true
     where c.school_id = :schoolId and not c.once and c.retired_on is null and ${inCircle}
     order by u.used desc, c.position, lower(c.name)`,
    { schoolId, personId: actor.personId, monday },
  );
  return new Map(
    [...groupBy(rows, ({ student_id }) => student_id)].map(([studentId, own]) => [
      studentId,
      own.map(toChoice),
    ]),
  );
}

/**
 * The choices that an incident names, made where they are new: one thought of on the spot, or the first use of a starter. One of
 * the same name in the same list is that one.
 *
 * @returns the ids, each once, in the order chosen
 */
export async function ensureChoices(
  scope: PersonScope,
  studentId: string,
  chosen: ChosenChoices,
): Promise<Record<ChoiceList, string[]>> {
  const { trx, schoolId } = scope;
  const there = await listChoices(scope, studentId);
  // Whoever uses the first of a list's starters has been offered all of them: from now on they are the student's own.
  const starters = await readStarters(scope);
  const offered = choiceLists
    .filter((list) => chosen[list].length > 0 && !there.some((one) => one.list === list))
    .flatMap((list) => starterList(studentId, list, starters));
  there.push(...offered);
  const made: Choice[] = [];
  const stays: string[] = [];
  const idOf = (list: ChoiceList, { choiceId, name, once = false }: ChosenOne): string => {
    const known =
      there.find((one) => one.choiceId === choiceId) ??
      there.find((one) => one.list === list && one.name.toLowerCase() === name.toLowerCase());
    if (known && known.list !== list) throw new Invalid({ form: `“${name}” is already in another list.` });
    if (known) {
      // Words of one incident that are now to stay, or a retired choice chosen by hand again: the person decides in the lists.
      if (known.once && !once) stays.push(known.choiceId);
      return known.choiceId;
    }
    const fresh: Choice = { choiceId, list, name, definition: null, once, retired: false };
    there.push(fresh);
    made.push(fresh);
    return choiceId;
  };
  const ids = Object.fromEntries(
    choiceLists.map((list) => [list, [...new Set(chosen[list].map((one) => idOf(list, one)))]]),
  ) as Record<ChoiceList, string[]>;
  const inserted = await insertChoices(scope, studentId, inPlaces(there, [...offered, ...made]));
  const refused = made.find(({ choiceId }) => !inserted.has(choiceId));
  if (refused)
    throw new Invalid({
      form: `“${refused.name}” was added at the same moment from elsewhere. Please save again.`,
    });
  if (stays.length > 0)
    await trx("choices").where({ school_id: schoolId }).whereIn("choice_id", stays).update({ once: false });
  return ids;
}

type PlacedChoice = Choice & { position: number };

/** These choices with their places among all of their lists. */
const inPlaces = (all: readonly Choice[], some: readonly Choice[]): PlacedChoice[] =>
  some.map((one) => ({ ...one, position: all.filter(({ list }) => list === one.list).indexOf(one) }));

/** Inserts choices, in one statement. Answers the ids of the new ones: one of that id, or of that name in its list, may be there. */
async function insertChoices(
  { trx, schoolId }: Scope,
  studentId: string,
  choices: readonly PlacedChoice[],
): Promise<Set<string>> {
  if (choices.length === 0) return new Set();
  const rows = await trx("choices")
    .insert(
      choices.map(({ choiceId, list, name, definition, once, position }) => ({
        ...{ school_id: schoolId, choice_id: choiceId, student_id: studentId },
        ...{ list, name, definition, position, once },
      })),
    )
    .onConflict()
    .ignore()
    .returning<{ choice_id: string }[]>("choice_id");
  return new Set(rows.map(({ choice_id }) => choice_id));
}

/** One row of a list as it is to stand. */
export interface ChoiceEdit {
  choiceId: string;
  name: string;
  definition: string | null;
}

/**
 * Saves one list of a student in this order: changed rows keep their history, rows no longer there are retired
 * and stay in what was recorded.
 */
export async function replaceList(
  scope: PersonScope,
  studentId: string,
  list: ChoiceList,
  rows: readonly ChoiceEdit[],
): Promise<void> {
  requirePermission(scope, "choices.edit");
  const { trx, schoolId, today } = scope;
  const names = rows.map(({ name }) => name.toLowerCase());
  const doubled = rows.find(({ name }, at) => names.indexOf(name.toLowerCase()) !== at);
  if (doubled) throw new Invalid({ [list]: `“${doubled.name}” is listed twice.` });
  const all = await listChoices(scope, studentId);
  const own = all.filter((one) => one.list === list);
  for (const { choiceId, name } of rows) {
    const elsewhere = all.find((one) => one.choiceId === choiceId && one.list !== list);
    if (elsewhere) notFound();
    const taken = own.find(
      (one) => one.choiceId !== choiceId && one.name.toLowerCase() === name.toLowerCase(),
    );
    // A retired choice, or words of one incident, of that name: it comes back instead of a second one.
    if (taken && rows.some((row) => row.choiceId === taken.choiceId)) continue;
    if (taken && !own.some((one) => one.choiceId === choiceId)) continue;
    if (taken)
      throw new Invalid({
        [list]: `“${name}” is there already, retired: bring that one back, or choose other words.`,
      });
  }
  // A choice that is there by its id or its name comes back as itself.
  const idOf = ({ choiceId, name }: ChoiceEdit) =>
    own.find((one) => one.choiceId === choiceId)?.choiceId ??
    own.find((one) => one.name.toLowerCase() === name.toLowerCase())?.choiceId ??
    choiceId;
  const standing = rows.map((row, position) => ({
    ...{ choice_id: idOf(row), name: row.name, definition: row.definition, position },
  }));
  const gone = own.filter(({ choiceId }) => !standing.some(({ choice_id }) => choice_id === choiceId));
  // Names may be swapped: all get temporary names first, since the index allows no duplicate even within the statement.
  await trx.raw(
    `update choices set name = left(choice_id::text || name, 100) where school_id = ? and student_id = ? and list = ? and choice_id = any(?)`,
    [schoolId, studentId, list, own.map(({ choiceId }) => choiceId)],
  );
  await trx.raw(
    `insert into choices (school_id, choice_id, student_id, list, name, definition, position, once)
     select :schoolId, r.choice_id, :studentId, :list, r.name, r.definition, r.position, false
     from jsonb_to_recordset(:rows) as r (choice_id uuid, name text, definition text, position int)
     on conflict (school_id, choice_id) do update
       set name = excluded.name, definition = excluded.definition, position = excluded.position, once = false, retired_on = null
       where choices.student_id = excluded.student_id`,
    { schoolId, studentId, list, rows: JSON.stringify(standing) },
  );
  await trx.raw(
    `update choices c set name = r.name, retired_on = case when r.retires then :today::date else c.retired_on end
     from jsonb_to_recordset(:rows) as r (choice_id uuid, name text, retires boolean)
     where c.school_id = :schoolId and c.choice_id = r.choice_id`,
    {
      ...{ schoolId, today },
      rows: JSON.stringify(
        gone.map((one) => ({
          ...{ choice_id: one.choiceId, name: one.name },
          retires: !one.once && !one.retired,
        })),
      ),
    },
  );
  await recordEvent(scope, { act: "changed", thing: "choices", thingId: null, studentId });
}

/** Copies names and definitions of another student's lists into those of this one that hold nothing yet. */
export async function copyLists(
  scope: PersonScope,
  fromStudent: readonly Choice[],
  studentId: string,
): Promise<void> {
  requirePermission(scope, "choices.edit");
  const own = await listChoices(scope, studentId);
  for (const list of choiceLists) {
    const stands = own.filter((one) => one.list === list && !one.retired && !one.once);
    const fresh = fromStudent.filter(
      (one) =>
        one.list === list &&
        !one.retired &&
        !one.once &&
        !stands.some(({ name }) => name.toLowerCase() === one.name.toLowerCase()),
    );
    await replaceList(scope, studentId, list, [
      ...stands,
      ...fresh.map(({ name, definition }) => ({
        choiceId: starterId(studentId, list, name),
        name,
        definition,
      })),
    ]);
  }
}
