import type { PersonScope } from "../access/scope.ts";

/** Notes that a sitting was held; the same one told twice, by two entries of it, is one. */
export async function keepSitting(
  { trx, schoolId, actor }: PersonScope,
  sitting: { sittingId: string; startedAt: string },
): Promise<void> {
  await trx.raw(
    `insert into sittings (school_id, sitting_id, person_id, started_at) values (?, ?, ?, ?) on conflict do nothing`,
    [schoolId, sitting.sittingId, actor.personId, sitting.startedAt],
  );
}
