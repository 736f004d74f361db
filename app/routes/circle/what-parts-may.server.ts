import type { Actor, CircleRole, PersonActor } from "#server/access/actor.ts";
import { may, type Permission } from "#server/access/table.ts";

/** What can be done with a student's record, in the words of the page, by what is asked for it. */
const acts: readonly (readonly [Permission, string])[] = [
  ["entry.read", "See goals, charts and entries"],
  ["incident.read", "See incidents and patterns"],
  ["jot.read", "See jots and their pictures"],
  ["report.read", "Read the report, live"],
  ["edition.read", "Open editions"],
  ["entry.record", "Record goals"],
  ["incident.record", "Record incidents"],
  ["jot.record", "Write jots"],
  ["absence.mark", "Mark absences"],
  ["entry.correct", "Correct and remove entries"],
  ["incident.correct", "Correct and remove incidents"],
  ["statement.write", "Write progress statements"],
  ["plan.write", "Write plans for behavior"],
  ["choices.edit", "Change the choice lists"],
  ["goal.edit", "Set up goals, decide, confirm"],
  ["edition.make", "Make editions, release to the family"],
  ["held.decide", "Accept late records"],
  ["family.read", "See who of the family reads"],
  ["family.edit", "Give the family a link, answer it, refuse a guardian"],
  ["student.edit", "Change the student’s details"],
  ["circle.edit", "Say who is in the circle"],
];

export type MayAnswer = "yes" | "own" | "no";

/** May a person with this part do it? "own": only what they wrote, or were asked to write, themselves. */
function answerOf(actor: Actor, permission: Permission, circleRole: CircleRole | null): MayAnswer {
  if (may(actor, permission, { circleRole })) return "yes";
  const ownId = actor.kind === "person" ? actor.personId : "";
  return may(actor, permission, { circleRole, authorId: ownId }) ? "own" : "no";
}

const staff = (of: PersonActor): PersonActor => ({ ...of, role: "staff", caseManager: false });

/** Who may do what, for each part and for an administrator outside the circle: read from the one table that decides it. */
export const whatPartsMay = (of: PersonActor): { act: string; answers: MayAnswer[] }[] =>
  acts.map(([permission, act]) => ({
    act,
    answers: [
      ...(["lead", "record", "read"] as const).map((role) => answerOf(staff(of), permission, role)),
      answerOf({ ...staff(of), role: "administrator" }, permission, null),
    ],
  }));

/** What one person may do with a student's record, and what not. */
export function whatOneMay(
  actor: PersonActor,
  circleRole: CircleRole | null,
): { may: string[]; own: string[]; mayNot: string[] } {
  const answers = acts.map(([permission, act]) => [answerOf(actor, permission, circleRole), act] as const);
  const of = (wanted: MayAnswer) => answers.flatMap(([answer, act]) => (answer === wanted ? act : []));
  return { may: of("yes"), own: of("own"), mayNot: of("no") };
}
