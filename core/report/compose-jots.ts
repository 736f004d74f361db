import { compareRaters, type Rating } from "../agreement/compare-raters.ts";
import { dayNumber } from "../dates/day-number.ts";
import { groupBy } from "../lists/group-by.ts";
import type { Jot, JotCategory } from "../model/jot.ts";
import type { Catalogue } from "../words/en.ts";
import { capitalise } from "../words/numbers.ts";
import { mean } from "simple-statistics";
import type { AudienceSettings, FieldName } from "./audience.ts";
import { staffWords } from "./staff-words.ts";
import type {
  JotsBlock,
  PicturesBlock,
  RatersTable,
  ReportBlock,
  ReportSpan,
  StepChart,
} from "./document.ts";

/** What the part of a report with jots is made from. */
export interface JotsMaterial {
  /** Those that are not removed, in any order. */
  jots: readonly Jot[];
  /** What the school writes jots about, in its order. */
  categories: readonly JotCategory[];
}

/** So many days that several people rated are shown, and so many pictures; the newest first. */
const mostDays = 6;
const mostPictures = 6;

const isIn = ({ from, to }: ReportSpan, on: string) => (from === null || from <= on) && on <= to;
const momentOf = ({ on, at }: Jot) => `${on}T${at ?? ""}`;

/** The jots of a span, the oldest first. */
export const jotsIn = ({ jots }: JotsMaterial, span: ReportSpan): Jot[] =>
  jots.filter(({ on }) => isIn(span, on)).sort((a, b) => (momentOf(a) < momentOf(b) ? -1 : 1));

/**
 * Several raters as a table: the student's own rating first.
 *
 * @param staff how adults are called; where not at all, "Rater 1"
 * @param of how many levels there are; of a percentage it is not asked
 */
export function ratersTable(
  ratings: readonly Rating[],
  { staff, scale, of = 0 }: { staff: AudienceSettings["staff"]; scale: "levels" | "percent"; of?: number },
  words: Catalogue,
): RatersTable | null {
  const compared = compareRaters(ratings);
  if (!compared) return null;
  const says = words.jots;
  const { agreement, columns, days } = compared;
  const firstAdult = columns.findIndex(({ own }) => !own);
  return {
    label: says.raters(),
    columns: columns.map(({ name, own, n, mean }, at) => ({
      name: own ? says.ownRating() : staffWords(name, staff, words) || says.rater(at - firstAdult + 1),
      about: says.raterMean(n, mean, scale),
    })),
    rows: days.slice(0, mostDays).map(({ on, words: cells }) => ({ day: says.day(on), cells })),
    sentence: [
      agreement ? says.agreement(agreement) : says.noAgreement(),
      compared.mean === null ? "" : says.adultsMean(compared.mean, scale, of),
    ]
      .filter(Boolean)
      .join(" "),
  };
}

/** Levels over time: a step for each day's mean of the adults' ratings, and every rating as a point. Null below two days. */
function stepChart(jots: readonly Jot[], { levels }: JotCategory, words: Catalogue): StepChart | null {
  const rated = jots.flatMap(({ on, own, level }) =>
    level?.step ? [{ on, day: dayNumber(on), own, step: level.step, name: level.name }] : [],
  );
  const days = groupBy(
    rated.filter(({ own }) => !own),
    ({ day }) => day,
  );
  const [first, last] = [rated[0], rated.at(-1)];
  if (!first || !last || days.size < 2) return null;
  return {
    levels: levels.map(({ name }) => name),
    ...{ fromDay: first.day, toDay: last.day },
    ticks: [first, last].map(({ day, on }) => ({ day, label: words.jots.tick(on) })),
    points: rated.map(({ day, step, own }) => ({ day, step, own })),
    line: [...days].map(([day, ofDay]) => ({ day, step: mean(ofDay.map(({ step }) => step)) })),
  };
}

const ratingOf = (jot: Jot): Rating[] =>
  jot.level?.step
    ? [
        {
          rater: { id: jot.rater.personId, name: jot.rater.name },
          ...{ own: jot.own, on: jot.on, at: jot.at ?? "" },
          ...{ value: jot.level.step, units: { level: jot.level.step }, words: jot.level.name },
        },
      ]
    : [];

/** When a jot was written and by whom, as the audience reads it. */
const byWords = ({ on, at, period, author }: Jot, { staff, when }: AudienceSettings, words: Catalogue) =>
  words.report.by(on, when === "times" ? (at ?? period ?? "") : "", staffWords(author, staff, words));

/** The level and the words of a jot that stands under its category. */
function latestWords({ level, own, note }: Jot, says: Catalogue["jots"]): string {
  const words = note?.trim() ?? "";
  if (!level) return words || says.line(null, null, own);
  return [says.line(capitalise(level.name), null, own), words].filter(Boolean).join(" ");
}

function categoryBlock(
  category: JotCategory,
  jots: readonly Jot[],
  settings: AudienceSettings,
  words: Catalogue,
): JotsBlock {
  const says = words.jots;
  const { name, levels } = category;
  const counted = [...groupBy(jots, ({ level }) => level?.name ?? null)].flatMap(([label, ofLevel]) =>
    label === null ? [] : [{ label, n: ofLevel.length }],
  );
  const place = (label: string) => {
    const at = levels.findIndex((level) => level.name === label);
    return at < 0 ? levels.length : at;
  };
  const latest = jots.findLast(({ note }) => note?.trim()) ?? jots.at(-1);
  const chart = stepChart(jots, category, words);
  return {
    kind: "jots",
    categoryId: category.categoryId,
    title: name,
    counts:
      counted.length > 0
        ? says.counts(counted.sort((a, b) => place(b.label) - place(a.label)))
        : says.written(jots.length),
    levels: levels.map(({ name: called, meaning }) => ({ name: called, meaning })),
    chart: chart && {
      chart,
      title: says.levels(name),
      legend: says.legend(chart.points.some(({ own }) => own)),
      description: says.drawn(
        name,
        jots.flatMap(({ on, level }) => (level ? [{ on, level: level.name }] : [])),
      ),
    },
    latest: latest
      ? {
          label: says.latest(),
          text: latestWords(latest, says),
          page: `jots/${latest.jotId}`,
          teamOnly: latest.teamOnly,
          by: byWords(latest, settings, words),
        }
      : null,
    raters: settings.fields.includes("raters")
      ? ratersTable(
          jots.flatMap(ratingOf),
          { staff: settings.staff, scale: "levels", of: levels.length },
          words,
        )
      : null,
  };
}

function picturesBlock(jots: readonly Jot[], settings: AudienceSettings, words: Catalogue): PicturesBlock[] {
  const items = jots.toReversed().flatMap((jot) =>
    jot.pictures.flatMap(({ pictureId, caption, file }) =>
      file
        ? {
            ...{ pictureId, caption, ...file },
            page: `jots/${jot.jotId}`,
            by: byWords(jot, settings, words),
          }
        : [],
    ),
  );
  return items.length === 0 ? [] : [{ kind: "pictures", items: items.slice(0, mostPictures) }];
}

/**
 * Jots in a report: of each category the levels over time, the counts and the latest words, and the pictures. The jots one by one stand in
 * the log.
 *
 * @param settings how the audience reads them
 */
export function jotBlocks(
  material: JotsMaterial,
  span: ReportSpan,
  settings: AudienceSettings,
  words: Catalogue,
): ReportBlock[] {
  const has = (field: FieldName) => settings.fields.includes(field);
  const jots = jotsIn(material, span)
    .filter(({ teamOnly }) => !teamOnly || has("team only"))
    .map((jot) => (has("notes") ? jot : { ...jot, note: null }));
  const groups = groupBy(jots, ({ category }) => category?.categoryId ?? "");
  const categories = [
    ...material.categories,
    // Those that the school does not offer any more, and last what has none.
    ...[...groups].flatMap(([categoryId, [first]]) =>
      material.categories.some((one) => one.categoryId === categoryId)
        ? []
        : { categoryId, name: first?.category?.name ?? words.jots.noCategory(), levels: [] },
    ),
  ];
  return [
    ...categories.flatMap((category) => {
      const ofCategory = groups.get(category.categoryId);
      return ofCategory ? categoryBlock(category, ofCategory, settings, words) : [];
    }),
    ...(has("pictures") ? picturesBlock(jots, settings, words) : []),
  ];
}
