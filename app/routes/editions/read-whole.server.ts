import type { ReportDocument } from "#core/report/document.ts";
import { writtenTexts } from "#core/report/edition.ts";
import type { NameFind } from "#core/report/names/find-names.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { listAudiences } from "#server/db/audiences.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listEditions } from "#server/db/editions.ts";
import { findNamesIn } from "#server/db/names.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { readReportAddress } from "#app/routes/report/report-address.ts";
import { audienceWords } from "./edition-words.ts";

/** The whole report that an address asks for, with its numbers, as it would be frozen or filed now. */
export async function readWhole(scope: PersonScope, studentId: string, search: string) {
  const calendar = await readCalendar(scope);
  const editions = await listEditions(scope, studentId);
  const [last] = editions;
  const { spans, chosen, order, audience } = readReportAddress(
    search,
    calendar,
    scope.today,
    last && { number: last.number, to: last.span.to },
  );
  const span = { from: chosen.from, to: chosen.to };
  const { report, initials } = await readReportFor(scope, studentId, {
    ...{ audience, span, order, calendar, limit: null, withData: true },
  });
  return {
    ...{ spans, chosen, order, audience, initials, next: (last?.number ?? 0) + 1, report },
    audiences: (await listAudiences(scope, studentId)).map((one) => ({
      ...{ audience: one.audience, words: audienceWords(one) },
    })),
  };
}

/** Of these texts, those in which something was found, each once with its page. */
export function markedTexts(
  texts: readonly { page: string | null; text: string }[],
  found: readonly (readonly NameFind[])[],
) {
  const all = texts.flatMap(({ page, text }, at) =>
    found[at]?.length ? [{ page, text, finds: found[at] }] : [],
  );
  return [...new Map(all.map((one) => [`${one.page ?? ""} ${one.text}`, one])).values()];
}

/** The texts of a report that may name another student, each with what was found in it. */
export async function namesFound(scope: PersonScope, studentId: string, report: ReportDocument) {
  const texts = writtenTexts(report);
  const found = await findNamesIn(
    scope,
    studentId,
    texts.map(({ text }) => text),
  );
  return markedTexts(texts, found);
}

/** The report without its numbers: they are for files, and no page shows them. */
export const withoutData = (report: ReportDocument): ReportDocument => ({ ...report, data: undefined });
