import { v5 as namedId } from "uuid";
import { groupBy } from "#core/lists/group-by.ts";
import { type Choice, type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import type { Chosen, ChosenOne } from "#core/model/incident-content.ts";
import { Invalid, notFound } from "../errors.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import { readStarters, type Starters } from "./incident-settings.ts";
import { inCircle } from "./students.ts";

/** What one list of a student offers: its own choices, or the starters where it has none. */
export function offeredIn(studentId: string, list: ChoiceList, own: readonly Choice[], starters: Starters) {
  const stands = own.filter((one) => one.list === list && !one.once && !one.retired);
  return stands.length > 0 ? stands : starterList(studentId, list, starters);
}

interface ChoiceRow {
  choice_id: string;
  student_id: string;
  list: ChoiceList;
  name: string;
  definition: string | null;
  once: boolean;
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
  chosen: Chosen,
): Promise<Record<ChoiceList, string[]>> {
  const there = await listChoices(scope, studentId);
  // Whoever uses the first of a list's starters has been offered all of them: from now on they are the student's own.
  const starters = await readStarters(scope);
  for (const list of choiceLists) {
    if (chosen[list].length === 0 || there.some((one) => one.list === list)) continue;
    for (const [position, starter] of starterList(studentId, list, starters).entries()) {
      await insertChoice(scope, studentId, starter, position);
      there.push(starter);
    }
  }
  const idOf = async (list: ChoiceList, { choiceId, name, once = false }: ChosenOne): Promise<string> => {
    const known =
      there.find((one) => one.choiceId === choiceId) ??
      there.find((one) => one.list === list && one.name.toLowerCase() === name.toLowerCase());
    if (known && known.list !== list) throw new Invalid({ form: `“${name}” stands in another list.` });
    // Words of one incident that are now to stay, or a retired choice chosen by hand again: the person decides in the lists.
    if (known) {
      if (known.once && !once)
        await scope
          .trx("choices")
          .where({ school_id: scope.schoolId, choice_id: known.choiceId })
          .update({ once: false });
      return known.choiceId;
    }
    const made: Choice = { choiceId, list, name, definition: null, once, retired: false };
    if (!(await insertChoice(scope, studentId, made, there.filter((one) => one.list === list).length)))
      throw new Invalid({
        form: `“${name}” was added at the same moment from elsewhere. Please save again.`,
      });
    there.push(made);
    return choiceId;
  };
  const ids = {} as Record<ChoiceList, string[]>;
  for (const list of choiceLists) {
    const found: string[] = [];
    for (const one of chosen[list]) found.push(await idOf(list, one));
    ids[list] = [...new Set(found)];
  }
  return ids;
}

/** Answers false where one of this id, or of this name in its list, is there already. */
async function insertChoice(
  { trx, schoolId }: Scope,
  studentId: string,
  { choiceId, list, name, definition, once }: Choice,
  position: number,
): Promise<boolean> {
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into choices (school_id, choice_id, student_id, list, name, definition, position, once)
     values (:schoolId, :choiceId, :studentId, :list, :name, :definition, :position, :once)
     on conflict do nothing returning choice_id`,
    { schoolId, studentId, choiceId, list, name, definition, position, once },
  );
  return rows.length > 0;
}

/** One row of a list as it is to stand. */
export interface ChoiceEdit {
  choiceId: string;
  name: string;
  definition: string | null;
}

/**
 * Puts one list of a student as it is to stand, in this order: rows changed keep their history, rows no longer there are retired
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
  if (doubled) throw new Invalid({ [list]: `“${doubled.name}” stands there twice.` });
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
  const kept: string[] = [];
  // Names may change places: all step aside first, since no two may be the same even for a moment.
  await trx.raw(
    `update choices set name = left(choice_id::text || name, 100) where school_id = ? and student_id = ? and list = ? and choice_id = any(?)`,
    [schoolId, studentId, list, own.map(({ choiceId }) => choiceId)],
  );
  for (const [position, { choiceId, name, definition }] of rows.entries()) {
    const same =
      own.find((one) => one.choiceId === choiceId) ??
      own.find((one) => one.name.toLowerCase() === name.toLowerCase());
    const id = same?.choiceId ?? choiceId;
    kept.push(id);
    if (same)
      await trx("choices")
        .where({ school_id: schoolId, choice_id: id, student_id: studentId })
        .update({ name, definition, position, once: false, retired_on: null });
    else
      await insertChoice(
        scope,
        studentId,
        { choiceId: id, list, name, definition, once: false, retired: false },
        position,
      );
  }
  for (const one of own.filter(({ choiceId }) => !kept.includes(choiceId)))
    await trx("choices")
      .where({ school_id: schoolId, choice_id: one.choiceId })
      .update({
        name: one.name,
        ...(one.once || one.retired ? {} : { retired_on: today }),
      });
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
