import type { Knex } from "knex";

/** A tablet's clock may be years off: 32 bits of milliseconds are 24 days. */
const clocks = `
alter table entries alter column clock_ahead type bigint;
alter table incidents alter column clock_ahead type bigint;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(clocks);
}
