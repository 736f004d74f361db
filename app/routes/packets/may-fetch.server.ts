import type { PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import type { findPacket } from "#server/db/packets.ts";
import { listCircleRoles } from "#server/db/students.ts";

/** May the person fetch the file of their packet? Each student in it must still be theirs. */
export async function mayFetchPacket(
  scope: PersonScope,
  { packet, reports }: Awaited<ReturnType<typeof findPacket>>,
): Promise<boolean> {
  const made = reports.filter(({ state }) => state === "made").map(({ studentId }) => studentId);
  const theirs = (await listCircleRoles(scope, made)).filter(({ circleRole }) =>
    may(scope.actor, "file.make", { circleRole }),
  );
  // Reports of students whose circle they left are not among those they see.
  return packet.state === "done" && reports.length === packet.students && theirs.length === made.length;
}
