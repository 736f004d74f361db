import { redirect } from "react-router";
import { familyOf } from "../auth/family.ts";
import { guardianActor, type Guardianship } from "../db/family-access.ts";
import { noteReads, readThing } from "../db/reads.ts";
import { withScope } from "../db/school.ts";
import { SessionOver } from "../errors.ts";
import { writeIn } from "../locale.ts";
import type { LinkActor } from "./actor.ts";
import { guarded } from "./answer.ts";
import type { ServerContext } from "./authorize.ts";
import { requirePermission, type Scope } from "./scope.ts";
import type { Permission } from "./table.ts";

/**
 * Opens the scope of a guardian who is signed in by a link or an account, in the report of one student. Where they are not, or may no longer
 * read, the way leads to the family's own entrance, which says no more than that.
 */
export async function authorizeFamily<T>(
  request: Request,
  context: ServerContext,
  permission: Permission,
  guardianId: string,
  work: (scope: Scope<LinkActor>, guardianship: Guardianship) => Promise<T>,
): Promise<T> {
  return guarded(async () => {
    const all = await familyOf(context.database, request, context.secure);
    const mine = all.find((one) => one.guardianId === guardianId);
    if (!mine) throw redirect("/family");
    writeIn(mine.locale);
    const actor = guardianActor(mine);
    return withScope(context.database, actor, mine.studentId, async (scope) => {
      requirePermission(scope, permission);
      const done = await work(scope, mine);
      const thing = readThing(permission);
      if (request.method === "GET" && thing !== null)
        await noteReads(scope, thing, [mine.studentId], { way: "link" });
      return done;
    }).catch((error: unknown) => {
      if (error instanceof SessionOver) throw redirect("/family");
      throw error;
    });
  }, context.pulse);
}
