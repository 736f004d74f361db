import type { LetterKeys } from "#core/model/letter-keys.ts";
import type { PersonScope } from "../access/scope.ts";

/** What single letters do on this person's screens. */
export async function readLetterKeys({ trx, schoolId, actor }: PersonScope): Promise<LetterKeys> {
  const row = await trx("people")
    .where({ school_id: schoolId, person_id: actor.personId })
    .first("letter_keys");
  return row?.letter_keys ?? "plain";
}

/** Saves what single letters do for this person, in every browser. */
export async function saveLetterKeys({ trx, schoolId, actor }: PersonScope, way: LetterKeys): Promise<void> {
  await trx("people").where({ school_id: schoolId, person_id: actor.personId }).update({ letter_keys: way });
}
