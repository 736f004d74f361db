import { dateOfDay } from "#core/dates/day-number.ts";
import { isUrgent, type MessageKind } from "#core/dispatch/message-kinds.ts";
import { fillTemplate, type MergeValues } from "#core/dispatch/template.ts";
import { dispatchWords } from "#core/words/dispatch.ts";
import type { Transaction } from "#server/db/connection.ts";
import { emailOf, guardians, people, type PersonKey, school } from "./school.ts";

interface Sent {
  kind: MessageKind;
  /** A member of staff by their key, a guardian by name. */
  to: string;
  /** The given name of the student. */
  about: string | null;
  what?: string;
  goal?: string;
  /** `HH:MM` of the school's day, so many days before the last of the story. */
  at: string;
  daysBefore: number;
  state?: "sent" | "refused" | "held" | "deferred";
  why?: string;
  answer?: string;
  opened?: string;
}

const { en } = dispatchWords;
const entries = en.entries(3);
/** What went out in the last days of the story, the oldest first. */
const story: readonly Sent[] = [
  {
    kind: "statement",
    to: "ines",
    about: "Wren",
    what: en.statements(1),
    at: "08:40",
    daysBefore: 4,
    opened: "09:02",
  },
  {
    kind: "harm",
    to: "hana",
    about: "Malik",
    what: en.harm(["injury"]),
    at: "11:22",
    daysBefore: 3,
    opened: "11:30",
  },
  {
    kind: "digest",
    to: "teo",
    about: null,
    what: "W.A.: 3 new entries\nM.O.: a new incident",
    at: "15:30",
    daysBefore: 3,
  },
  {
    kind: "digest",
    to: "mirela",
    about: null,
    what: "L.S.: 2 new entries",
    at: "15:30",
    daysBefore: 2,
    opened: "16:10",
  },
  {
    kind: "finding",
    to: "noor",
    about: "Wren",
    what: en.finding("2b", "Criterion reached"),
    goal: "2b",
    at: "13:05",
    daysBefore: 1,
    opened: "13:20",
  },
  {
    kind: "edition",
    to: "Marisol Reyes",
    about: "Juniper",
    what: dispatchWords.es.editions(1),
    at: "14:10",
    daysBefore: 1,
    opened: "19:45",
  },
  {
    ...{
      kind: "edition",
      to: "Fergus Doyle",
      about: "Caspian",
      what: en.editions(1),
      at: "14:11",
      daysBefore: 1,
    },
    ...{ state: "refused", why: "wrong address", answer: "550 5.1.2 The domain hmoe.example does not exist" },
  },
  {
    ...{ kind: "edition", to: "Ama Osei", about: "Malik", what: en.editions(1), at: "14:12", daysBefore: 1 },
    ...{ state: "held", why: "not confirmed" },
  },
  { kind: "entry", to: "noor", about: "Lumi", what: entries, at: "10:48", daysBefore: 0, opened: "10:55" },
  { kind: "receipt", to: "Lena Abara", about: "Wren", what: en.entryReceived, at: "12:30", daysBefore: 0 },
  { kind: "question", to: "noor", about: "Wren", at: "12:30", daysBefore: 0 },
];

/** Messages of the last days of the demo's story, and what became of them: most were sent, one address was refused, one waits to be confirmed. */
export async function seedMessages(
  trx: Transaction,
  {
    schoolId,
    personIds,
    firstDay,
    dayBefore,
    newId,
  }: {
    schoolId: string;
    personIds: Record<PersonKey, string>;
    firstDay: number;
    /** The day of the story so many school days before its last. */
    dayBefore: (schoolDays: number) => number;
    newId: (day: number) => string;
  },
): Promise<void> {
  const students: { student_id: string; given_name: string; family_name: string; initials: string | null }[] =
    await trx("students").select("student_id", "given_name", "family_name", "initials");
  const written: { guardian_id: string; name: string; language: "en" | "es" }[] = await trx(
    "guardians",
  ).select("guardian_id", "name", "language");
  for (const { kind, to, about, what = "", goal, at, daysBefore, ...became } of story) {
    const student = students.find(({ given_name }) => given_name === about);
    const guardian = written.find(({ name }) => name === to);
    const person = guardian ? null : people[to as PersonKey];
    const address = guardian
      ? (guardians.find(({ name }) => name === to)?.email ?? "")
      : emailOf(people[to as PersonKey]);
    const { state = "sent", why = null, answer, opened } = became;
    const on = dateOfDay(firstDay + dayBefore(daysBefore));
    const moment = (time: string) =>
      trx.raw("?::timestamp at time zone ?", [`${on} ${time}`, school.timeZone]);
    const message_id = newId(dayBefore(daysBefore));
    const language = guardian?.language ?? "en";
    const values: MergeValues = {
      ...{ reader: person?.given ?? to, school: school.name, what, goal: goal ?? "1", on, by: "N. Halloran" },
      ...{ student: student ? `${student.given_name[0]}.${student.family_name[0]}.` : "", words: what },
      link: "http://localhost/go/…",
    };
    const filled = fillTemplate(kind, dispatchWords[language].templates[kind], values);
    const wasTried = state !== "held";
    await trx("messages").insert({
      ...{ school_id: schoolId, message_id, kind, is_urgent: isUrgent(kind), state, why },
      ...{
        person_id: guardian ? null : personIds[to as PersonKey],
        guardian_id: guardian?.guardian_id ?? null,
      },
      ...{ student_id: student?.student_id ?? null, about: "{}", tries: wasTried ? 1 : 0 },
      ...{ to_address: wasTried ? address : null, subject: wasTried ? filled.subject : null },
      answer: answer ?? (state === "sent" ? "250 2.0.0 OK" : null),
      made_at: moment(at),
      next_at: state === "held" ? trx.raw("'infinity'") : moment(at),
      over_at: wasTried ? moment(at) : null,
      opened_at: opened ? moment(opened) : null,
    });
    if (wasTried)
      await trx("message_texts").insert({
        ...{ school_id: schoolId, message_id, student_id: student?.student_id ?? null, body: filled.text },
        person_id: guardian ? null : personIds[to as PersonKey],
      });
    if (state === "refused" && answer)
      await trx("wrong_addresses").insert({ school_id: schoolId, email: address, answer, at: moment(at) });
  }
  // What happened while the school was made is news to nobody.
  await trx("news").delete();
}
