import pg from "pg";

/**
 * Writes down in every school that a command was run, whatever came of it. A database that is not there, or too old, has no place for it: then
 * it says so.
 *
 * @param {string} ownerUrl the database, as the tables' owner
 * @param {string} name of the command
 */
export async function noteCommand(ownerUrl, name) {
  const client = new pg.Client({ connectionString: ownerUrl });
  try {
    await client.connect();
    await client.query(
      `insert into audit (school_id, actor_kind, job, act, thing, what, way)
       select school_id, 'job', 'command', 'run', 'command', $1, 'command' from schools`,
      [name],
    );
  } catch {
    process.stderr.write("This command could not be written down among the school's events.\n");
  } finally {
    await client.end().catch(() => undefined);
  }
}
