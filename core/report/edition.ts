import * as z from "zod/mini";
import { linesOf, type ReportDocument, type ReportList } from "./document.ts";

/** The format of the content of editions that this program writes. */
export const editionFormat = 1;

/** The content of an edition: the report as it was, whole. What was frozen is drawn as it is, so only its frame is checked. */
export const editionContentSchema = z.object({
  format: z.literal(editionFormat),
  document: z.custom<ReportDocument>(
    (value) => typeof value === "object" && value !== null && Array.isArray(value.sections),
  ),
});
export interface EditionContent extends z.infer<typeof editionContentSchema> {}

/** What is different in a later edition, of the lines that the earlier one's span had. */
export const editionChangesSchema = z.object({ corrected: z.int(), removed: z.int(), added: z.int() });
export interface EditionChanges extends z.infer<typeof editionChangesSchema> {}

export const noChanges: EditionChanges = { corrected: 0, removed: 0, added: 0 };

const logOf = ({ sections }: ReportDocument) =>
  linesOf({ sections: sections.filter(({ name }) => name === "log") });

/**
 * What a later edition changes of what an earlier one said: lines that were corrected or removed since, and lines of the earlier
 * span that were recorded only afterwards. Lines outside either span are not compared.
 */
export function editionChanges(before: ReportDocument, now: ReportDocument): EditionChanges {
  const isInBoth = ({ on }: { on: string }) =>
    [before.span, now.span].every(({ from, to }) => (from === null || from <= on) && on <= to);
  const earlier = new Map(
    logOf(before)
      .filter(isInBoth)
      .map((line) => [line.entryId, line.revision]),
  );
  const later = new Map(
    logOf(now)
      .filter(isInBoth)
      .map((line) => [line.entryId, line.revision]),
  );
  return {
    corrected: [...earlier].filter(([id, revision]) => (later.get(id) ?? revision) !== revision).length,
    removed: [...earlier.keys()].filter((id) => !later.has(id)).length,
    added: [...later.keys()].filter((id) => !earlier.has(id)).length,
  };
}

/** The words that incidents were told with: they are no page's own. */
const incidentWords = ({ data }: ReportDocument): { page: null; text: string }[] =>
  [
    ...new Set(
      (data?.incidents?.rows ?? []).flat().filter((cell) => typeof cell === "string" && /\p{L}/u.test(cell)),
    ),
  ].map((text) => ({ page: null, text: String(text) }));

/** What somebody wrote in lists: what was computed has nobody beside it. */
const listedTexts = (lists: readonly ReportList[]) =>
  lists.flatMap(({ items }) =>
    items.flatMap(({ id, text, aside, page }) =>
      aside === null ? [] : [{ page: page ?? `decisions/${id}`, text }],
    ),
  );

/** Every text of a report that somebody wrote, with where it comes from: what is looked through for names before it leaves. */
export function writtenTexts(report: ReportDocument): { page: string | null; text: string }[] {
  const shown = report.sections.flatMap(({ blocks }) =>
    blocks.flatMap((block): { page: string | null; text: string }[] => {
      switch (block.kind) {
        case "line":
          return [
            block.line.note ?? "",
            block.line.link?.words ?? "",
            ...(block.line.pictures ?? []).map(({ words }) => words),
          ].flatMap((text) => (text ? [{ page: block.line.page, text }] : []));
        case "goal":
          return [
            { page: `goals/${block.goalId}`, text: block.title },
            { page: `goals/${block.goalId}`, text: block.wording },
            ...(block.statements ?? []).flatMap(({ words }) =>
              words === null ? [] : [{ page: `goals/${block.goalId}`, text: words }],
            ),
            ...listedTexts(block.lists),
          ];
        case "assessment":
          return [block.title, block.comment ?? ""].flatMap((text) =>
            text ? [{ page: `entries/${block.id}`, text }] : [],
          );
        case "meeting":
          return listedTexts(block.lists);
        case "jots":
          return block.latest ? [{ page: block.latest.page, text: block.latest.text }] : [];
        case "pictures":
          return block.items.map(({ page, caption }) => ({ page, text: caption }));
        case "plan":
          return [block.name, ...block.facts.map(({ value }) => value)].map((text) => ({
            page: `plans/${block.planId}`,
            text,
          }));
        default:
          return [];
      }
    }),
  );
  return [...shown, ...incidentWords(report)];
}
