import { goalFileName } from "../chart/legend.ts";
import { incidentTable } from "../incidents/incident-file.ts";
import { askOf } from "../progress/goal-figures.ts";
import { observersOf } from "../progress/observers-of.ts";
import { seriesFile } from "../progress/series-file.ts";
import { taughtOn } from "../progress/taught-on.ts";
import type { Catalogue } from "../words/en.ts";
import { type AudienceSettings, type FieldName, readsIncidents, type Audience } from "./audience.ts";
import type { BehaviorMaterial } from "./compose-behavior.ts";
import type { GoalsMaterial, JudgedGoal } from "./compose-goal.ts";
import { jotsIn, type JotsMaterial } from "./compose-jots.ts";
import type { DataTable, ReportData, ReportSpan } from "./document.ts";
import { staffWords } from "./staff-words.ts";

/** What the numbers of a report are made from. */
export interface DataMaterial extends GoalsMaterial {
  student: { initials: string; studentId: string };
  behavior: BehaviorMaterial;
  jots: JotsMaterial;
}

const isIn = ({ from, to }: ReportSpan, on: string) => (from === null || from <= on) && on <= to;

function goalTable(
  { goal, series, entries, decisions }: JudgedGoal,
  { student, calendar, absences }: DataMaterial,
  to: string,
  { staff }: AudienceSettings,
  words: Catalogue,
) {
  const nameOf = observersOf(entries);
  const { head, rows } = seriesFile(
    goal.setup,
    series,
    goalFileName(student, goal.number),
    (personId) => staffWords(nameOf(personId), staff, words),
    askOf(goal.setup, {
      ...{ lastOn: series.all.at(-1)?.date ?? null, today: to, calendar, absences },
      taughtOn: taughtOn(decisions),
    }),
  );
  return { goalId: goal.goalId, head, rows };
}

function incidentsTable({ behavior }: DataMaterial, span: ReportSpan): DataTable {
  const { incidents, days, periods = [], notWatched = [] } = behavior.patterns;
  return incidentTable(
    incidents.filter(({ on }) => isIn(span, on)),
    { periods, notWatched, days: days.filter((day) => isIn(span, day)), plan: null },
  );
}

function jotsTable(
  { jots: material }: DataMaterial,
  span: ReportSpan,
  { fields, staff, when }: AudienceSettings,
  words: Catalogue,
): DataTable {
  const has = (field: FieldName) => fields.includes(field);
  return {
    head: ["date", "time", "category", "level", "own", "words", "pictures", "by"],
    rows: jotsIn(material, span)
      .filter(({ teamOnly }) => !teamOnly || has("team only"))
      .map(({ on, at, period, category, level, own, note, pictures, author }) => [
        ...[on, when === "times" ? (at ?? period ?? "") : ""],
        ...[category?.name ?? "", level?.name ?? "", own ? "yes" : ""],
        ...[has("notes") ? (note ?? "") : ""],
        ...[has("pictures") ? pictures.map(({ caption }) => caption).join("; ") : ""],
        staffWords(author, staff, words),
      ]),
  };
}

/**
 * The numbers of a report, tailored as its sentences are: goals where figures or charts are read, incidents one by one only inside the
 * school, jots without what is for the team.
 */
export function reportData(
  judged: readonly JudgedGoal[],
  material: DataMaterial,
  { audience, settings, span }: { audience: Audience; settings: AudienceSettings; span: ReportSpan },
  words: Catalogue,
): ReportData {
  const { sections, fields } = settings;
  const readsFigures = sections.includes("goals") && (fields.includes("figures") || fields.includes("chart"));
  const readsBehavior = sections.includes("behavior") || sections.includes("log");
  return {
    goals: readsFigures ? judged.map((goal) => goalTable(goal, material, span.to, settings, words)) : [],
    ...(readsIncidents(audience) && readsBehavior ? { incidents: incidentsTable(material, span) } : {}),
    ...(sections.includes("jots") ? { jots: jotsTable(material, span, settings, words) } : {}),
  };
}
