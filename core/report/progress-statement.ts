import type { DateSpan } from "../dates/date-span.ts";
import type { StatementContent, StatementRating } from "../model/progress-statement.ts";
import type { Catalogue } from "../words/en.ts";
import type { AudienceSettings } from "./audience.ts";
import type { ReportStatement } from "./document.ts";
import { staffWords } from "./staff-words.ts";
import type { StatementFacts } from "./statement-facts.ts";
import { statementSentences } from "./statement-sentences.ts";

/** What is written of a goal for a reporting period. */
export interface ProgressStatement {
  statementId: string;
  studentId: string;
  goalId: string;
  /** As it was when the statement was last written. */
  period: DateSpan;
  content: StatementContent;
  rating: StatementRating | null;
  /** Who wrote last. */
  author: string;
  /** Who read it and marked it ready, and the numbers as they were read. `isNewer`: entries were recorded or changed since. */
  ready: { by: string; on: string; facts: StatementFacts | null; isNewer: boolean } | null;
  revision: number;
}

/**
 * A statement that was marked ready, as an audience reads it: rating, the sentences drafted from the numbers as they were then, and the
 * writer's own words; in a report in Spanish the words and the rating as they were translated, or not at all.
 *
 * @returns null where nothing of it can be read
 */
export function statementIn(
  { statementId, period, content, rating, ready }: ProgressStatement,
  { name, settings }: { name: string; settings: AudienceSettings },
  words: Catalogue,
): ReportStatement | null {
  if (ready === null) return null;
  const isEnglish = settings.language === "en";
  const called = isEnglish ? rating?.name : rating?.spanish;
  const written = isEnglish ? content.words : content.translation;
  const drafted =
    content.withNumbers && ready.facts !== null
      ? statementSentences(ready.facts, { name, isPlain: settings.plain }, words)
      : [];
  if (!called && !written && drafted.length === 0) return null;
  return {
    id: statementId,
    label: words.statement.label(period.name),
    rating: called ? words.statement.rating(called) : null,
    drafted: drafted.join(" "),
    words: written || null,
    by: [words.report.on(ready.on), staffWords(ready.by, settings.staff, words)].filter(Boolean).join(" · "),
  };
}
