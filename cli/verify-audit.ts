import { appKeyOf } from "#server/db/app-key.ts";
import { type AuditHead, sealKeyOf, verifyAudit } from "#server/db/audit-seals.ts";
import { connect } from "#server/db/connection.ts";

/** `SCHOOL:PLACE:SEAL`, as this command prints it. */
function headIn(text: string): AuditHead {
  const [, schoolId, place, seal] = /^([0-9a-f-]{36}):(\d+):([0-9a-f]{16})$/.exec(text) ?? [];
  if (!schoolId || !place || !seal) throw new Error(`${text} is no head as this command prints it`);
  return { schoolId, place: Number(place), seal };
}

const known = process.argv.slice(2).map(headIn);
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  const key = sealKeyOf(appKeyOf(process.env["APP_DATABASE_URL"] ?? ""));
  const { checked, faults, heads } = await verifyAudit(owner, key, known);
  for (const { schoolId, place, auditId, fault } of faults)
    console.error(
      `School ${schoolId}: ${place === null ? "an event" : `place ${place}`}${auditId === null ? "" : `, event ${auditId}`}: ${fault}.`,
    );
  console.log(
    `Checked ${checked} events of the audit: ${faults.length === 0 ? "all are as they were sealed" : `${faults.length} faults`}.`,
  );
  if (heads.length > 0) {
    console.log(
      "Keep these heads elsewhere and give them to this command the next time: a chain that was cut off shows by them.",
    );
    for (const { schoolId, place, seal } of heads) console.log(`  ${schoolId}:${place}:${seal}`);
  }
  if (faults.length > 0) process.exitCode = 1;
} finally {
  await owner.destroy();
}
