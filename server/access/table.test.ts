import { describe, expect, it } from "vitest";
import type { Actor, CircleRole, PersonActor } from "./actor.ts";
import { may, type Permission, permissions } from "./table.ts";

const person: PersonActor = {
  kind: "person",
  session: Buffer.alloc(32),
  schoolId: "school",
  personId: "me",
  role: "staff",
  caseManager: false,
  givenName: "Noor",
  familyName: "Halloran",
  schoolName: "Larkspur Bay School",
  timeZone: "America/Los_Angeles",
  locale: "en-US",
  ...{ schools: 1, isDistrict: false, missesStep: false, trailOver: true },
};
const roles: (CircleRole | null)[] = ["lead", "record", "read", null];
const allowed = (permission: Permission, authorId?: string | string[]) =>
  roles.filter((circleRole) => may(person, permission, { circleRole, authorId }));

describe("who may do what", () => {
  it("lets the circle read, those who record record, and only author and lead change", () => {
    for (const permission of ["student.read", "report.read", "entry.read", "incident.read"] as const)
      expect(allowed(permission)).toEqual(["lead", "record", "read"]);
    expect(allowed("entry.record")).toEqual(["lead", "record"]);
    for (const permission of ["entry.correct", "entry.remove", "incident.correct"] as const) {
      expect(allowed(permission, "someone else")).toEqual(["lead"]);
      expect(allowed(permission, "me")).toEqual(["lead", "record"]);
      expect(allowed(permission)).toEqual(["lead"]);
    }
    // Of two incidents, whoever wrote one of them may join them.
    expect(allowed("incident.join", ["someone else", "me"])).toEqual(["lead", "record"]);
    expect(allowed("incident.join", ["someone else", "another"])).toEqual(["lead"]);
  });

  it("lets administrators and case managers keep the school's own lists, and only administrators the staff", () => {
    const who: Record<string, PersonActor> = {
      administrator: { ...person, role: "administrator" },
      manager: { ...person, caseManager: true },
      other: person,
    };
    const may3 = (permission: Permission) =>
      Object.values(who).map((one) => may(one, permission, { circleRole: null }));
    expect(may3("school.edit")).toEqual([true, true, false]);
    expect(may3("student.add")).toEqual([true, true, false]);
    expect(may3("staff.edit")).toEqual([true, false, false]);
    expect(may3("goal.edit")).toEqual([false, false, false]);
    expect(allowed("goal.edit")).toEqual(["lead"]);
    expect(allowed("absence.mark")).toEqual(["lead", "record"]);
  });

  it("allows nobody outside the circle anything about a student", () => {
    const aboutStudents = (Object.keys(permissions) as Permission[]).filter((permission) =>
      /^(student\.(read|edit)|report|entry|incident|choices|goal|absence)\b/.test(permission),
    );
    expect(aboutStudents.length).toBeGreaterThan(5);
    expect(
      aboutStudents.filter((permission) => may(person, permission, { circleRole: null, authorId: "me" })),
    ).toEqual([]);
  });

  it("allows jobs, links and students at a device only what names them", () => {
    const all = Object.keys(permissions) as Permission[];
    const of = (actor: Actor, studentId: string) =>
      all.filter((permission) => may(actor, permission, { circleRole: "lead", authorId: "me", studentId }));
    const job = { kind: "job", schoolId: "school", name: "rebuild-summaries" } as const;
    const link = {
      kind: "link",
      session: person.session,
      schoolId: "school",
      linkId: "l",
      studentId: "wren",
    } as const;
    expect(of(job, "wren")).toEqual([
      "summaries.check",
      "messages.send",
      "audit.seal",
      "file.make",
      "packet.work",
      "record.clear",
    ]);
    expect(of(link, "wren")).toEqual(["report.read", "family.ask", "rights.ask", "access-record.family"]);
    expect(of(link, "otis")).toEqual([]);
    expect(of({ kind: "student", schoolId: "school", studentId: "wren" }, "wren")).toEqual([]);
  });
});
