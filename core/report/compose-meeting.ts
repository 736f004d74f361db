import type { MeetingNote } from "../model/meeting.ts";
import type { Catalogue } from "../words/en.ts";
import type { AudienceSettings } from "./audience.ts";
import type { ReportList } from "./document.ts";
import { staffWords } from "./staff-words.ts";

/**
 * What was agreed and asked in meetings, as lists of a report. They are notes: left out where the audience reads none.
 *
 * @param goalId of a goal, or null for what is of no single goal
 */
export function meetingLists(
  notes: readonly MeetingNote[],
  goalId: string | null,
  settings: AudienceSettings,
  words: Catalogue,
): ReportList[] {
  if (!settings.fields.includes("notes")) return [];
  const says = words.report;
  return (["agreed", "question"] as const).flatMap((kind) => {
    const items = notes
      .filter((note) => note.kind === kind && note.goalId === goalId)
      .map(({ noteId, words: text, on, by }) => ({
        ...{ id: noteId, text, page: `meeting?at=agreed&on=${on}` },
        aside: [says.on(on), staffWords(by, settings.staff, words)].filter(Boolean).join(" · "),
      }));
    return items.length === 0 ? [] : [{ label: says.meeting[kind], items }];
  });
}
