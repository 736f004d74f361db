/** What the lock by circle costs: the same requests against a database that locks to the school alone and takes the application's word for who acts. */
import { v7 as newId } from "uuid";
import { type OpenDatabase, openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { perSecond } from "./against-sql.ts";
import { compare } from "./rounds.ts";

/** As it was: the school is a setting that the application names, and no policy asks for a circle. */
async function lockToSchoolAlone({ owner }: OpenDatabase, demo: DemoIds): Promise<void> {
  const { rows } = await owner.raw<{ rows: { name: string; policy: string }[] }>(
    "select polrelid::regclass::text as name, polname as policy from pg_policy where polname ~ '^(school|circle)_lock'",
  );
  const here = "(school_id = nullif(current_setting('app.school', true), '')::uuid)";
  for (const { name, policy } of rows)
    await owner.raw(
      policy === "school_lock"
        ? `alter policy school_lock on ${name} using ${here}`
        : `drop policy ${policy} on ${name}`,
    );
  const { personId } = demo.person("noor");
  await owner.raw(`
    do $$ declare one record; begin
      for one in select polrelid::regclass as name from pg_policy where polname = 'school_lock' and polwithcheck is not null loop
        execute format('alter policy school_lock on %s with check ${here.replaceAll("'", "''")}', one.name);
      end loop;
    end $$;
    create or replace function gate.school_now() returns uuid language sql stable return nullif(current_setting('app.school', true), '')::uuid;
    create or replace function gate.enter(p_token_hash bytea, p_student uuid)
    returns table (circle_role text, moment timestamptz, local_time text, time_zone text)
    language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
    begin
      select b.* into moment, local_time, time_zone from gate.begin_here('${demo.schoolId}') b;
      perform set_config('app.school', '${demo.schoolId}', true);
      if p_student is not null then circle_role := gate.part_of('${demo.schoolId}', '${personId}', p_student); end if;
      return next;
    end $$;`);
}

async function site(change: (db: OpenDatabase, demo: DemoIds) => Promise<void>) {
  const db = await openThrowaway("demo");
  const demo = await demoIds(db.owner);
  await change(db, demo);
  const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
  const noor = await signedIn(web.url, "noor");
  const form = `/students/${demo.student("Yara")}/goals/${demo.goal("Yara", "1")}/record`;
  return {
    saves: () =>
      perSecond(60, async () => {
        const entryId = newId();
        const fields = { entryId, marks: "1101", observedAt: "2026-11-20T10:00" };
        const answer = await noor.post(`${form}?sheet=${entryId}`, fields);
        if (!/[?&]saved=/.test(answer.headers.get("Location") ?? "")) throw new Error("not saved");
      }),
    caseload: () => perSecond(20, async () => (await noor.get("/caseload.data")).text()),
    async close() {
      await web.stop();
      await db.close();
    },
  };
}

const locked = await site(() => Promise.resolve());
const open = await site(lockToSchoolAlone);
const sides = (what: "saves" | "caseload") => [
  { name: "locked by circle", run: locked[what] },
  { name: "locked to the school alone", run: open[what] },
];
await compare("Saves, one after the other", sides("saves"), { rounds: 9 });
await compare("The caseload's data, one after the other", sides("caseload"), { rounds: 9 });
await Promise.all([locked.close(), open.close()]);
