import { createHmac, timingSafeEqual } from "node:crypto";
import type { JobActor } from "../access/actor.ts";
import { requirePermission, type Scope } from "../access/scope.ts";
import type { Database, Run } from "./connection.ts";

/**
 * The key with which events are sealed: made of the application's key, which the owner of the tables does not have. Whoever changes rows with the
 * owner's rights alone cannot make their seals.
 */
export const sealKeyOf = (appKey: Buffer): Buffer =>
  createHmac("sha256", appKey).update("gentle margin, seals of the audit").digest();

/** An event as it is sealed: every column, as text. */
interface SealedRow {
  audit_id: string;
  text: string;
}

/** The columns in their order, written the same wherever the database runs. What came to be later is left out where an event has none: its seal stays good. */
const rowText = `concat_ws('|', a.school_id, a.audit_id, to_char(a.at at time zone 'UTC', 'YYYY-MM-DD HH24:MI:SS.US'), coalesce(a.person_id::text, '-'),
  a.actor_kind, coalesce(a.actor_id::text, '-'), coalesce(a.job, '-'), a.act, a.thing, coalesce(a.thing_id::text, '-'),
  coalesce(a.student_id::text, '-'), coalesce(a.about_on::text, '-'), 'way=' || a.way, 'as=' || a.circle_role, 'what=' || a.what,
  'hour=' || extract(epoch from a.hour)::bigint, 'tx=' || a.tx,
  'changes=' || (select string_agg(encode(c.digest, 'hex'), ' ' order by c.change_id) from audit_changes c where c.school_id = a.school_id and c.tx = a.tx))`;

const sealOf = (key: Buffer, before: Buffer, text: string): Buffer =>
  createHmac("sha256", key).update(before).update(text).digest();

const first = Buffer.alloc(32);
/** So many are sealed in one transaction. */
const most = 2000;
/** Events whose transaction ends late have a lower number than some that are sealed: so far back they are looked for. */
const farBack = 20_000;

/**
 * Seals the events of a school that are not sealed yet, each with the seal before it: a row that is changed, removed or put between others later no
 * longer fits. One process at a time; another that comes meanwhile seals nothing.
 *
 * @returns how many it sealed
 */
export async function sealAudit(scope: Scope<JobActor>, key: Buffer): Promise<number> {
  requirePermission(scope, "audit.seal");
  const { trx, schoolId } = scope;
  const { rows: locks } = await trx.raw<{ rows: { got: boolean }[] }>(
    "select pg_try_advisory_xact_lock(hashtextextended(?, 0)) as got",
    [`audit ${schoolId}`],
  );
  if (!locks[0]?.got) return 0;
  const { rows: heads } = await trx.raw<{ rows: { place: string; seal: Buffer; highest: string }[] }>(
    `select place, seal, (select max(audit_id) from audit_seals where school_id = :schoolId) as highest from audit_seals
     where school_id = :schoolId order by place desc limit 1`,
    { schoolId },
  );
  const [head] = heads;
  const { rows } = await trx.raw<{ rows: SealedRow[] }>(
    `select a.audit_id, ${rowText} as text from audit a
     where a.school_id = :schoolId and a.audit_id > :after
       and not exists (select 1 from audit_seals s where s.school_id = a.school_id and s.audit_id = a.audit_id)
     order by a.audit_id limit :most`,
    { schoolId, most, after: head ? Math.max(0, Number(head.highest) - farBack) : 0 },
  );
  let place = Number(head?.place ?? 0);
  let seal: Buffer = head?.seal ?? first;
  const seals = rows.map(({ audit_id, text }) => {
    place += 1;
    seal = sealOf(key, seal, text);
    return { school_id: schoolId, place: String(place), audit_id, seal };
  });
  if (seals.length > 0) await trx("audit_seals").insert(seals);
  return seals.length;
}

/** Something about the audit of a school that is not as it was sealed. */
export interface AuditFault {
  schoolId: string;
  /** The place in the chain; null for an event that has none. */
  place: number | null;
  auditId: string | null;
  fault: "changed" | "removed" | "missing in the chain" | "not sealed" | "cut off";
}

/** The last seal of a school, to be kept elsewhere: a chain that was cut off shows by it. */
export interface AuditHead {
  schoolId: string;
  place: number;
  /** The first 16 hexadecimal digits. */
  seal: string;
}

/** An event is sealed within a minute; one that is not after so long was not written by the application. */
const soon = "10 minutes";

/**
 * Goes through the audit of every school from its first event and compares each with its seal.
 *
 * @param database as the tables' owner
 * @param known heads that were kept elsewhere: their places must be there, with the same seals
 */
export async function verifyAudit(
  database: Database,
  key: Buffer,
  known: readonly AuditHead[] = [],
): Promise<{ checked: number; faults: AuditFault[]; heads: AuditHead[] }> {
  const run: Run = database;
  const faults: AuditFault[] = [];
  const heads: AuditHead[] = [];
  let checked = 0;
  const { rows: schools } = await run.raw<{ rows: { school_id: string }[] }>(
    "select school_id from schools order by school_id",
  );
  for (const { school_id: schoolId } of schools) {
    let place = 0;
    let seal: Buffer = first;
    for (;;) {
      const { rows } = await run.raw<{
        rows: {
          place: string;
          seal: Buffer;
          sealed_id: string;
          audit_id: string | null;
          text: string | null;
        }[];
      }>(
        `select s.place, s.seal, s.audit_id as sealed_id, a.audit_id, ${rowText} as text from audit_seals s
         left join audit a on a.school_id = s.school_id and a.audit_id = s.audit_id
         where s.school_id = :schoolId and s.place > :place order by s.place limit 5000`,
        { schoolId, place },
      );
      if (rows.length === 0) break;
      for (const row of rows) {
        const here = Number(row.place);
        const of = { schoolId, place: here, auditId: row.sealed_id };
        if (here !== place + 1) faults.push({ ...of, fault: "missing in the chain" });
        if (row.audit_id === null) faults.push({ ...of, fault: "removed" });
        // After a gap nothing can be compared: the seal that is there is where it goes on.
        else if (here === place + 1 && !timingSafeEqual(sealOf(key, seal, row.text ?? ""), row.seal))
          faults.push({ ...of, fault: "changed" });
        [place, seal] = [here, row.seal];
        checked += 1;
      }
    }
    // The seal covers the digest of what changed; the digest says whether it is still what was there.
    const { rows: altered } = await run.raw<{ rows: { audit_id: string }[] }>(
      `select coalesce(a.audit_id, 0) as audit_id from audit_changes c
       left join lateral (select min(a.audit_id) as audit_id from audit a where a.school_id = c.school_id and a.tx = c.tx) a on true
       where c.school_id = ? and case when c.changes is not null then sha256(convert_to(c.changes::text, 'UTF8')) <> c.digest
         -- What a row held is gone with the record that was erased: an event says that it was, and is sealed like any other.
         else not exists (select 1 from audit d where d.school_id = c.school_id and d.student_id = c.student_id and d.thing = 'erasure' and d.act = 'done') end
       order by c.change_id limit 100`,
      [schoolId],
    );
    for (const { audit_id } of altered)
      faults.push({ schoolId, place: null, auditId: audit_id, fault: "changed" });
    const { rows: open } = await run.raw<{ rows: { audit_id: string }[] }>(
      `select a.audit_id from audit a where a.school_id = :schoolId and a.at < clock_now() - :soon::interval
         and not exists (select 1 from audit_seals s where s.school_id = a.school_id and s.audit_id = a.audit_id)
       order by a.audit_id limit 100`,
      { schoolId, soon },
    );
    for (const { audit_id } of open)
      faults.push({ schoolId, place: null, auditId: audit_id, fault: "not sealed" });
    for (const head of known.filter((one) => one.schoolId === schoolId)) {
      const { rows: there } = await run.raw<{ rows: { seal: Buffer }[] }>(
        "select seal from audit_seals where school_id = ? and place = ?",
        [schoolId, head.place],
      );
      if (there[0]?.seal.toString("hex").startsWith(head.seal) !== true)
        faults.push({ schoolId, place: head.place, auditId: null, fault: "cut off" });
    }
    if (place > 0) heads.push({ schoolId, place, seal: seal.toString("hex").slice(0, 16) });
  }
  return { checked, faults, heads };
}
