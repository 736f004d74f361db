import type { Knex } from "knex";
import { lockToCircle } from "./school-table.ts";

/** What can be recorded on a device that was handed over, and the steps of its history. */
const recorded = [
  ...["entries", "second_observations", "not_measured", "incidents", "jots", "tally_presses", "pictures"],
  ...["absences", "watched_days", "revisions"],
];

const tables = `
-- When the device was given back, or its hand-over ended by who had taken it over.
alter table handovers add column ended_at timestamptz;
grant update (ended_at) on handovers to gentle_margin_app;
create index handovers_by_person on handovers (school_id, person_id, at) where ended_at is null;

-- The hand-over, and who was signed in on the device: the database writes both itself, as it has them sealed.
${recorded
  .map(
    (table) => `
alter table ${table} add column handover_id uuid, add column sent_by uuid;
alter table ${table} alter column handover_id set default gate.handover_now(), alter column sent_by set default gate.sender_now();
alter table ${table} add foreign key (school_id, handover_id) references handovers, add foreign key (school_id, sent_by) references people;`,
  )
  .join("\n")}
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  // Ended by who handed the device on, and by who took it.
  await lockToCircle(knex, "handovers", [
    "for update using ((select gate.person_now()) in (from_id, person_id))",
  ]);
}
