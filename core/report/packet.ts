import * as z from "zod/mini";
import { groupBy } from "../lists/group-by.ts";
import type { Meeting, TimetableSlot } from "../schedule/timetable.ts";
import { audiences } from "./audience.ts";

/** What a packet can be of: reports of a span, the latest edition of each student, or what was assessed with a rubric on one day. */
export const packetContents = ["reports", "editions", "assessment"] as const;
export type PacketContent = (typeof packetContents)[number];

/** One PDF to hand out, or a ZIP with a file for each student. */
export const packetForms = ["one", "pdfs", "words"] as const;
export type PacketForm = (typeof packetForms)[number];

const day = z.iso.date();

/** What was chosen for a packet, as it is stored with it. */
export const packetChoiceSchema = z.object({
  of: z.enum(packetContents),
  audience: z.enum(audiences),
  /** The days of the reports; of an assessment, its day twice. */
  span: z.object({ from: z.nullable(day), to: day }),
  /** The short name of the goals that were assessed; empty where it is no assessment. */
  rubric: z.string(),
  /** What the packet is called: "Progress reports, Trimester 1". */
  title: z.string(),
  form: z.enum(packetForms),
  /** Does each report begin on a right-hand page? */
  oddPages: z.boolean(),
});
export type PacketChoice = z.infer<typeof packetChoiceSchema>;

/** A group as it is handed something: when it meets and who is in it. */
export interface MeetingGroup {
  groupId: string;
  meets: readonly Meeting[];
  studentIds: readonly string[];
}

const overlaps = (a: Meeting, b: Meeting) =>
  a.weekday === b.weekday && a.startsAt < b.endsAt && b.startsAt < a.endsAt;

/** The groups that meet in a period of the timetable, by its name: on any day of the week, also for a part of the period. */
export function groupsOfPeriod<Group extends MeetingGroup>(
  groups: readonly Group[],
  timetable: readonly TimetableSlot[],
  period: string,
): Group[] {
  const slots = timetable.filter(({ name }) => name === period);
  return groups.filter(({ meets }) => meets.some((meeting) => slots.some((slot) => overlaps(slot, meeting))));
}

const earliest = ({ meets }: MeetingGroup) =>
  meets.map(({ startsAt }) => startsAt).sort((a, b) => (a < b ? -1 : 1))[0] ?? "99:99";

/**
 * Students in the order in which groups meet in the course of a day: the group of the earliest time first, and in a group as they stood.
 * Who is in several groups comes with the first, who is in none at the end.
 */
export function inOrderOfGroups<Student extends { studentId: string }>(
  students: readonly Student[],
  groups: readonly MeetingGroup[],
): Student[] {
  const inOrder = [...groups].sort((a, b) =>
    earliest(a) < earliest(b) ? -1 : earliest(a) > earliest(b) ? 1 : 0,
  );
  const placeOf = (studentId: string) => {
    const at = inOrder.findIndex(({ studentIds }) => studentIds.includes(studentId));
    return at < 0 ? inOrder.length : at;
  };
  const byPlace = groupBy(students, ({ studentId }) => placeOf(studentId));
  return [...byPlace].sort(([a], [b]) => a - b).flatMap(([, some]) => some);
}
