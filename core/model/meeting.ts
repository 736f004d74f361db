/** A question or an agreement that was written in a meeting, for all to see. */
export interface MeetingNote {
  noteId: string;
  meetingId: string;
  /** Null where it is about no single goal. */
  goalId: string | null;
  kind: "question" | "agreed";
  words: string;
  by: string;
  /** The day of the meeting, `YYYY-MM-DD`. */
  on: string;
}
