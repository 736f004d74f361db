/** Everything that is audited: each kind of thing and what can happen to it. An act has no other words than these. */
export interface EventActs {
  entry: "made" | "corrected" | "removed" | "restored";
  "second observation": "made" | "removed";
  "not measured": "made" | "corrected" | "removed" | "restored";
  tally: "opened" | "asked" | "late counted" | "late left out" | "settled" | "opened again";
  incident: "made" | "corrected" | "removed" | "restored" | "joined" | "told apart";
  "watched day": "none" | "not observed" | "taken back";
  plan: "made" | "corrected" | "removed" | "restored";
  pattern: "made" | "removed" | "restored";
  decision: "made" | "corrected" | "removed" | "restored";
  goal:
    | "made"
    | "changed"
    | "met"
    | "not met"
    | "discontinued"
    | "continued"
    | "taken up again"
    | "removed"
    | "phase saved"
    | "phase removed";
  student: "made" | "changed" | "goals ordered" | "groups changed";
  "no name": "remembered";
  jot: "made" | "corrected" | "removed" | "restored";
  statement: "made" | "corrected" | "removed" | "restored" | "writer chosen";
  "statement ratings": "changed";
  picture: "added";
  "jot categories": "changed";
  edition: "made" | "shared";
  /** A report that left as a file; its row says for whom and why. */
  disclosure: "made";
  /** Reports of several students that leave together. */
  packet: "asked" | "looked through" | "made" | "cancelled";
  meeting: "begun" | "ended";
  /** A question or an agreement that was written in a meeting. */
  "meeting note": "made" | "removed" | "restored";
  audience: "changed";
  release: "made" | "taken back";
  /** What was recorded before its person's part ended, and sent after it. */
  "held item": "received" | "accepted" | "left out";
  /** A guardian of the student, whose id is the thing's. `opened`: they read the family's page. */
  guardian:
    | "made"
    | "changed"
    | "removed"
    | "link made"
    | "link taken back"
    | "code made"
    | "refused"
    | "allowed again"
    | "opened"
    | "asked"
    | "answered"
    | "address checked"
    | "signed in"
    | "sign-in failed"
    | "access record opened"
    | "access record closed";
  /** With the student's majority. */
  rights: "birth date noted" | "passed, family ended" | "passed, family reads on" | "taken back";
  absence: "marked" | "taken back";
  /** Somebody is asked to take data of a goal, whose id is the thing's. */
  "data ask": "made" | "taken back";
  /** Of a person in a student's circle, whose id is the thing's. */
  circle: "added" | "changed" | "ended" | "handed over" | "muted" | "unmuted";
  choices: "changed";
  summaries: "mended";
  device: "forgotten" | "handed over" | "given back";
  /** `refused`: somebody tried this person's PIN, and it was another. */
  pin: "set" | "given up" | "refused";
  /** `signed in`, `session ended`, `sign-in failed`: written by the database. */
  person:
    | "saved"
    | "signed in"
    | "session ended"
    | "sign-in failed"
    | "named"
    | "password changed"
    | "signed out elsewhere"
    | "messages chosen"
    | "invited"
    | "joined"
    | "reset link made"
    | "links taken back"
    | "signed out there"
    | "second step set"
    | "second step ended"
    | "second step taken away"
    | "passkey added"
    | "passkey removed";
  /** The identity provider of the school. */
  provider: "changed";
  "mail server": "changed" | "removed";
  "message settings": "changed";
  "message template": "changed";
  /** Outgoing. `sent`: a mail server took it. */
  message: "sent" | "cancelled" | "left" | "sent again" | "arrived" | "opened";
  "message to many": "sent" | "cancelled";
  /** Answers of several people that go to one reader. */
  feedback: "asked" | "answered" | "sent" | "closed" | "opened again";
  group: "saved" | "meets no longer" | "meets again";
  template: "made" | "changed" | "removed" | "put back";
  "school year": "saved" | "removed";
  timetable: "saved";
  "incident settings": "changed";
  school: "changed";
  /** Something that the person may not do or see; which permission it was stands beside it. */
  permission: "refused";
  /** A command that was run where the server is; which one stands beside it. */
  command: "run";
  /** From outside the school's staff, and what was given by another way than this application. */
  "outside request": "given" | "refused";
  "school patterns": "exported";
  /** For how many years each kind of record is kept. */
  retention: "changed";
  /** On a student's record: nothing of it is erased. */
  hold: "set" | "ended";
  /** To inspect, amend or erase the record. */
  "rights request": "made" | "ended";
  /** What parents added to the record. */
  "parent statement": "made" | "withdrawn";
  /** Of a student's record, or kinds of it. */
  erasure: "planned" | "cancelled" | "done";
  /** What was done at once for the next school year. */
  "roll-over": "done" | "undone";
}

/** What of a student's record was shown. A page that shows several students is one of the last three. */
export type ReadThing =
  | ("student" | "report" | "goals" | "incidents" | "jots" | "statements" | "editions" | "meeting" | "circle")
  | ("family" | "feedback" | "access record" | "record rights" | "caseload" | "recording" | "coverage");
/** Shown on a page, saved as a file, or printed. */
export type ReadAct = "read" | "exported" | "printed";
/** By which way something was shown or done. */
export type EventWay = "page" | "device" | "file" | "print" | "link" | "command";

/** For so many days a guardian reads the access record who asked for it. */
export const accessRecordDays = 45;
