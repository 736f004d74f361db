import type { SchoolLocale } from "#core/words/locale.ts";

/** A role in the circle of one student. */
export type CircleRole = "lead" | "record" | "read";

/** A person who is signed in, with what every page needs to know of them and of their school. */
export interface PersonActor {
  kind: "person";
  /** The hash of the token of their session: with it the database finds out who they are. Nothing but its functions can use it. */
  session: Buffer;
  schoolId: string;
  personId: string;
  role: "administrator" | "staff";
  /** Do they carry a caseload? */
  caseManager: boolean;
  givenName: string;
  familyName: string;
  schoolName: string;
  timeZone: string;
  locale: SchoolLocale;
  /** In how many schools their account is. */
  schools: number;
  /** May their account see the schools of the district? */
  isDistrict: boolean;
  /** Does the school ask for a second step at sign-in that their account has not set up? */
  missesStep: boolean;
  /** Have they done the first steps, or skipped them? */
  trailOver: boolean;
}

/** Work that the server does by itself, by the name of its queue: `rebuild-summaries`. */
export interface JobActor {
  kind: "job";
  schoolId: string;
  name: string;
}

/** The holder of a shared link, who sees the report of one student and nothing else. */
export interface LinkActor {
  kind: "link";
  /** The hash of the token of their session. */
  session: Buffer;
  schoolId: string;
  linkId: string;
  studentId: string;
}

/** A student at a device that is set up for them: their own part, and nothing of their record. */
export interface StudentActor {
  kind: "student";
  schoolId: string;
  studentId: string;
}

/** Who acts. It is not always a person. */
export type Actor = PersonActor | JobActor | LinkActor | StudentActor;
