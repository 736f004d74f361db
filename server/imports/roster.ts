import type { Named } from "./match-name.ts";
import { readCsv } from "#core/files/csv.ts";

export interface RosterPerson extends Named {
  sourceId: string;
  email: string | null;
}

export interface Roster {
  school: { name: string; sourceId: string } | null;
  students: (RosterPerson & { grade: string })[];
  staff: RosterPerson[];
  /** Who teaches whom: staff and student by source id, and whether as the class's primary teacher. */
  teaching: { staff: string; student: string; primary: boolean }[];
}

/** "04" is grade 4, "KG" kindergarten. */
function gradeOf(text: string): string {
  const grade = text.split(",")[0]?.trim() ?? "";
  return /^KG$/i.test(grade) ? "K" : grade.replace(/^0+(?=\d)/, "");
}

/**
 * Reads a roster in the layout of the OneRoster 1.2 CSV files (layout from memory of the public standard).
 *
 * @param files text of `users.csv`, `roles.csv`, `orgs.csv` and `enrollments.csv`
 * @throws InputError at its line when a file cannot be read
 */
export function readRoster(files: {
  users: string;
  roles: string;
  orgs: string;
  enrollments: string;
}): Roster {
  const active = ({ cells, empty }: { cells: Record<string, string>; empty: boolean }) =>
    !empty && cells["status"] !== "tobedeleted";
  const rows = (text: string, required: string[]) =>
    readCsv(text, required)
      .filter(active)
      .map(({ cells }) => cells);
  const roleOf = new Map(
    rows(files.roles, ["userSourcedId", "role"]).map((role) => [
      role["userSourcedId"] ?? "",
      role["role"] ?? "",
    ]),
  );
  const users = rows(files.users, ["sourcedId", "givenName", "familyName"]).map((user) => ({
    id: user["sourcedId"] ?? "",
    sourceId: user["sourcedId"] ?? "",
    given: user["givenName"]?.trim() ?? "",
    family: user["familyName"]?.trim() ?? "",
    preferred: user["preferredGivenName"]?.trim() || null,
    email: user["email"]?.trim().toLowerCase() || null,
    grade: gradeOf(user["grades"] ?? ""),
    role: roleOf.get(user["sourcedId"] ?? "") ?? "",
  }));
  const isStudent = new Set(users.filter((user) => user.role === "student").map((user) => user.sourceId));
  const enrollments = rows(files.enrollments, ["classSourcedId", "userSourcedId", "role"]);
  const teachers = enrollments.filter((enrollment) => enrollment["role"] === "teacher");
  const teaching = enrollments
    .filter(
      (enrollment) => enrollment["role"] === "student" && isStudent.has(enrollment["userSourcedId"] ?? ""),
    )
    .flatMap((enrollment) =>
      teachers
        .filter((teacher) => teacher["classSourcedId"] === enrollment["classSourcedId"])
        .map((teacher) => ({
          staff: teacher["userSourcedId"] ?? "",
          student: enrollment["userSourcedId"] ?? "",
          primary: teacher["primary"] === "true",
        })),
    );
  const org = rows(files.orgs, ["sourcedId", "name", "type"]).find((one) => one["type"] === "school");
  return {
    school: org ? { name: org["name"] ?? "", sourceId: org["sourcedId"] ?? "" } : null,
    students: users.filter((user) => isStudent.has(user.sourceId)),
    staff: users.filter((user) => !isStudent.has(user.sourceId)),
    teaching,
  };
}

/** The one person who, as primary teacher, has every student of the roster; null when there is no such one. */
export function teacherOfAll(roster: Roster): string | null {
  const fitting = roster.staff.filter(({ sourceId }) =>
    roster.students.every((student) =>
      roster.teaching.some(
        (one) => one.primary && one.staff === sourceId && one.student === student.sourceId,
      ),
    ),
  );
  return fitting.length === 1 ? (fitting[0]?.sourceId ?? null) : null;
}
