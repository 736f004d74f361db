import type { Knex } from "knex";

/** What a district of 10 million entries read whole where a few rows were asked for. */
const indexes = `
-- Sessions over for a month are removed with each sign-in.
create index sessions_by_expiry on gate.sessions (expires_at);
-- The tally from which an entry was made.
create index tallies_by_entry on tallies (school_id, entry_id) where entry_id is not null;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(indexes);
}
