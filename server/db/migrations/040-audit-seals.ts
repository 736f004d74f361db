import type { Knex } from "knex";
import { lockSealed } from "./school-table.ts";

const tables = `
-- The chain of the audit: each event's seal is made from the seal before it and the event, with a key that the owner of these tables does not have.
create table audit_seals (
  school_id uuid not null,
  place bigint not null check (place > 0),
  audit_id bigint not null,
  seal bytea not null check (length(seal) = 32),
  sealed_at timestamptz not null default now(),
  primary key (school_id, place),
  unique (school_id, audit_id)
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(knex, "audit_seals", "select, insert", ["using ((select gate.is_work_now()))"]);
}
