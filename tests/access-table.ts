import type { Queued } from "#core/sync/queued.ts";
import type { JobQueue } from "#server/jobs/enqueue.ts";

/** What a person can be to a student, and to the school that has the student. */
export const relations = [
  ...([
    "signed out",
    "leads",
    "records",
    "reads",
    "ends today",
    "ended yesterday",
    "begins tomorrow",
  ] as const),
  ...(["not in the circle", "administrator", "other school", "left the school"] as const),
  ...(["guardian by link", "guardian by account", "link expired", "link revoked"] as const),
  ...(["guardian without access", "guardian of another"] as const),
] as const;
/** One of these. */
export type Relation = (typeof relations)[number];

const signIn = "sign-in";
/** Who is not signed in to the school at all, after the answers for its people: who has left, and guardians. */
const outside = Array.from({ length: 7 }, () => signIn);
/** The guardians who may read something of this student now. */
const isGuardian = (relation: Relation) => /^guardian by/.test(relation);
const nobody = Array.from({ length: 7 }, () => "404");

/**
 * Every address of the site by who may open it. The answers stand in the order of the relations: `yes`, `403` (part of the circle or the
 * school, and may not), `404` (for them there is no such thing), `sign-in` (also the family's own entrance).
 *
 * In the test the lead is a case manager, and the person of the other school its administrator.
 */
export const accessClasses = {
  "open to everyone, and tells nothing": {
    answers: relations.map(() => "yes"),
    paths: [
      ...["/family", "/family/open/:token", "/forgotten", "/join/:token", "/offline", "/record"],
      ...["/recording/hand-in", "/reset/:token", "/sign-in", "/sign-in/provider"],
    ],
  },
  "open while it has its own condition: no school yet, or a sign-in half done": {
    answers: relations.map(() => signIn),
    paths: ["/first-run", "/passkeys", "/second-step", "/sign-in/provider/:schoolId"],
  },
  "a guardian's page of their student": {
    answers: relations.map((relation) => (isGuardian(relation) ? "yes" : signIn)),
    paths: ["/family/:guardianId", "/family/:guardianId/access", "/family/:guardianId/go/:messageId"],
  },
  "a guardian's, where it was shared; here it was not": {
    answers: relations.map((relation) => (isGuardian(relation) ? "404" : signIn)),
    paths: ["/family/:guardianId/editions/:editionId", "/family/:guardianId/pictures/:pictureId"],
  },
  "of everyone who is signed in, with what is theirs or their school's": {
    answers: [signIn, ...Array.from({ length: 9 }, () => "yes"), ...outside],
    paths: [
      ...["/account/messages", "/dispatch", "/dispatch/new", "/go/:messageId"],
      ...[
        "/",
        "/account",
        "/account/second-step",
        "/caseload",
        "/compare",
        "/coverage",
        "/devices",
        "/figures",
        "/find",
      ],
      ...[
        "/guide",
        "/guide/one-page",
        "/live",
        "/names",
        "/own-settings",
        "/packets",
        "/past",
        "/progress-reports",
      ],
      ...["/recording/hand-over", "/recording/keep", "/recording/near", "/recording/now", "/recording/pack"],
      "/recording/unlock",
      ...["/school", "/school/calendar", "/school/groups", "/school/staff", "/school/templates"],
      ...["/school/week", "/schools", "/sheets", "/sign-out", "/today"],
    ],
  },
  "of everyone of the school that the address is about": {
    answers: [signIn, ...Array.from({ length: 8 }, () => "yes"), "404", ...outside],
    paths: ["/progress-reports/:from"],
  },
  "of who asked for it": {
    answers: [signIn, "yes", "404", ...nobody, ...outside],
    paths: ["/packets/:packetId", "/packets/:packetId/file"],
  },
  "of who leads the student or sent it, and of administrators": {
    answers: [signIn, "yes", ...nobody.slice(1), "yes", "404", ...outside],
    paths: ["/dispatch/:messageId", "/dispatch/several/:batchId"],
  },
  "not there as it is asked here": {
    answers: [signIn, "404", "404", ...nobody, ...outside],
    paths: ["/*", "/district", "/school/templates/:templateId", "/wording"],
  },
  "of case managers and administrators": {
    answers: [signIn, "yes", ...Array.from({ length: 6 }, () => "403"), "yes", "yes", ...outside],
    paths: [
      ...["/school/audiences", "/school/circles", "/school/incidents", "/school/jots", "/school/lists"],
      "/school/messages",
      ...["/school/patterns", "/school/ratings", "/students/new", "/students/several"],
      ...["/school/retention", "/school/next-year"],
    ],
  },
  "of case managers and administrators, in the school that it is about": {
    answers: [signIn, "yes", ...Array.from({ length: 6 }, () => "403"), "yes", "404", ...outside],
    paths: ["/school/patterns.csv"],
  },
  "of administrators": {
    answers: [signIn, ...Array.from({ length: 7 }, () => "403"), "yes", "yes", ...outside],
    paths: [
      ...["/school/accounts", "/school/accounts/several", "/school/events", "/school/mail"],
      "/school/provider",
    ],
  },
  "of administrators, about a person of their school": {
    answers: [signIn, ...Array.from({ length: 7 }, () => "403"), "yes", "404", ...outside],
    paths: ["/school/accounts/:personId"],
  },
  "of the circle": {
    answers: [signIn, "yes", "yes", "yes", "yes", ...nobody.slice(2), ...outside],
    paths: [
      ...["/progress-reports/:from/:studentId/:goalId", "/students/:studentId"],
      ...[
        ...[
          "absent-today",
          "beside/:observationId",
          "decisions/:decisionId",
          "editions",
          "editions/:editionId",
        ],
        ...["editions/:editionId/content", "entries/:entryId", "family", "feedback", "goals/:goalId"],
        ...["goals/:goalId/chart.svg", "goals/:goalId/points.csv", "incidents", "incidents/:incidentId"],
        ...["jots/:jotId", "not-measured/:noteId", "noted/:patternId", "patterns", "patterns.csv"],
        ...["pictures/:pictureId", "plans/:planId", "printed", "report", "report/older"],
      ].map((path) => `/students/:studentId/${path}`),
    ],
  },
  "of who leads the student, and of who is asked": {
    answers: [signIn, "yes", "404", "404", "404", ...nobody.slice(2), ...outside],
    paths: ["/students/:studentId/feedback/:roundId"],
  },
  "of the circle, and of administrators": {
    answers: [signIn, "yes", "yes", "yes", "yes", "404", "404", "404", "yes", "404", ...outside],
    paths: ["/students/:studentId/circle"],
  },
  "of who leads the student, and of administrators": {
    answers: [signIn, "yes", "403", "403", "403", ...nobody.slice(2, 5), "yes", "404", ...outside],
    paths: ["/students/:studentId/rights"],
  },
  "of those who lead or record": {
    answers: [signIn, "yes", "yes", "403", "yes", ...nobody.slice(2), ...outside],
    paths: ["/students/:studentId/goals/:goalId/record", "/students/:studentId/incidents/several"],
  },
  "of those who lead": {
    answers: [signIn, "yes", "403", "403", "403", ...nobody.slice(2), ...outside],
    paths: [
      ...[
        ...["access", "access.csv"],
        "audiences/:audience",
        "audiences/:audience/preview",
        "choices",
        "copy",
        "edit",
        "editions/new",
        "files",
        "files/:disclosureId",
        "held",
      ],
      ...["goals/:goalId/set-up", "goals/new", "meeting", "meeting/notes", "order", "release"],
    ].map((path) => `/students/:studentId/${path}`),
  },
} as const satisfies Record<string, { answers: readonly string[]; paths: readonly string[] }>;

/** One of the groups of the table. */
export type AccessClass = keyof typeof accessClasses;

/** The group of an address; null where the table lacks it. */
export const classOf = (path: string): AccessClass | null => {
  const found = Object.entries(accessClasses).find(([, { paths }]) =>
    (paths as readonly string[]).includes(path),
  );
  return (found?.[0] ?? null) as AccessClass | null;
};

/** Actions that are not defined by the route kit, and who they are for. Each asks by itself, and has tests of its own. */
export const actionsByHand: Readonly<Record<string, string>> = {
  "/account": "everyone signed in, about their own account",
  "/account/second-step": "everyone signed in, about their own account",
  "/devices": "everyone signed in, about their own devices and PIN",
  "/family": "whose family session it is",
  "/family/:guardianId": "the guardian of the address",
  "/family/open/:token": "who has the link",
  "/first-run": "who has the set-up code, while there is no school",
  "/forgotten": "everyone",
  "/join/:token": "who has the invitation",
  "/names": "everyone signed in, for a student of theirs: names.remember",
  "/passkeys": "everyone, to sign in; everyone signed in, to add one to their own account",
  "/recording/hand-in":
    "a device of somebody who left the school, by what it sealed with its own key: held for the leads",
  "/recording/hand-over": "everyone signed in, with the colleague's PIN",
  "/recording/keep":
    "everyone signed in; each item asks for itself: entry.record, incident.record, jot.record, absence.mark, tally.settle",
  "/recording/near": "everyone signed in, for students they may record for",
  "/recording/now": "everyone signed in",
  "/recording/pack": "everyone signed in, with the students they may record for",
  "/recording/unlock": "everyone signed in, with their own PIN, or that of who has the device in hand",
  "/reset/:token": "who has the link",
  "/students/:studentId/absent-today": "those who lead or record: absence.mark",
  "/students/:studentId/printed": "the circle: what the browser prints is written down",
  "/students/:studentId/beside/:observationId": "the lead and the author: entry.remove",
  "/students/:studentId/noted/:patternId": "the lead and the author: entry.remove",
  "/students/:studentId/patterns": "those who lead or record: entry.record",
  "/wording": "everyone signed in",
  "/schools": "everyone signed in, among the schools of their account",
  "/second-step": "who has shown a password",
  "/sign-in": "everyone",
  "/sign-out": "everyone",
};

/** Of whom something that changed is told to whom, on the pages they have open. In the order of the relations. */
export const liveEvents: Readonly<Record<string, readonly string[]>> = {
  "`changed`: something of the student was recorded": [
    ...[signIn, "told", "told", "told", "told"],
    ...Array.from({ length: 5 }, () => "silent"),
    ...outside,
  ],
  "`yours`: the part of the one who reads the student was ended": [
    ...[signIn, "silent", "silent", "told", "silent"],
    ...Array.from({ length: 5 }, () => "silent"),
    ...outside,
  ],
};

/** What a device sends of the student, of a day before today, by who sends it: `held` waits for the lead. In the order of the relations. */
const recorded = [signIn, "yes", "yes", "403", "yes", "held", ...nobody.slice(3), ...outside];
/** Of the lead’s own: what others did not record. */
const ofLead = [signIn, "yes", "403", "403", "403", "404", ...nobody.slice(3), ...outside];
export const sentByDevices: Readonly<Record<Queued["kind"], readonly string[]>> = {
  ...{ entry: recorded, second: recorded, "not measured": recorded, absent: recorded, watched: recorded },
  ...{ "tally open": recorded, "tally press": recorded, "tally back": recorded, "tally close": recorded },
  ...{ incident: recorded, jot: recorded, picture: recorded },
  ...{ "same incident": ofLead, "take back": ofLead },
};

/** What the server does by itself. Its work is entered with the application's key, for one school, and never by what a browser sends. */
export const jobs: Readonly<Record<JobQueue, string>> = {
  nightly:
    "no school; makes one job for each, deletes the contents of files that were made a day ago, and erases what is planned for the day, of one student after the other",
  "back-up": "nothing; asks the command that started the server",
  "check-summaries": "the entries and summaries of one school; mends summaries",
  packet: "the reports of the students of one packet, each of whom its person leads at that moment",
  mail: "makes the message of one link or code; it names no student",
  deliver:
    "what is due to one reader: their address, and of students in whose circle they are then initials, and what the school allows",
};
