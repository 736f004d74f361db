import { criterionName, levelOf, levelWords } from "../measures/rubric/rubric.ts";
import type { Entry } from "../model/entry.ts";
import { catalogueOf } from "../words/catalogues.ts";
import { type Audience, type AudienceSettings, settledFor } from "./audience.ts";
import { aboutStudent, type ReportMaterial } from "./compose-report.ts";
import type { AssessmentBlock, ReportDocument } from "./document.ts";
import { lineMarks } from "./line-marks.ts";
import { staffWords } from "./staff-words.ts";

/** What a page of an assessment is made from. */
export interface AssessmentMaterial extends Pick<
  ReportMaterial,
  "student" | "schoolName" | "circle" | "today"
> {
  /** The goals that were assessed, as they are named. */
  goals: readonly { goalId: string; number: string; title: string }[];
  /** The entries of one day. Of other kinds of measures than rubrics nothing is said. */
  entries: readonly Entry[];
}

/**
 * Composes the page of one student from what was assessed with rubrics on one day: the comment first, then every criterion with the level
 * that was reached and the wording of that level. Comments are left out where the audience reads no notes, and those for the team where it
 * is no audience of the team.
 *
 * @param on the day, `YYYY-MM-DD`
 */
export function composeAssessment(
  material: AssessmentMaterial,
  {
    audience,
    settings: asked,
    audienceName,
    on,
  }: {
    audience: Audience;
    settings: AudienceSettings;
    audienceName?: string | null;
    on: string;
  },
): ReportDocument {
  const settings = settledFor(audience, asked);
  const words = catalogueOf(settings.language);
  const says = words.report;
  const { student, goals, entries } = material;
  const blockOf = (entry: Entry): AssessmentBlock | [] => {
    const { measure, entry: observed, note, circumstances } = entry;
    const goal = goals.find(({ goalId }) => goalId === entry.goalId);
    if (measure.kind !== "rubric" || observed.kind !== "rubric" || !goal) return [];
    const reached = measure.criteria.flatMap((criterion) => {
      const level = levelOf(observed.levels, criterion.id);
      return level === undefined ? [] : [{ criterion, level }];
    });
    const isForTeam = circumstances.noteForTeam === true;
    const reads = settings.fields.includes("notes") && (!isForTeam || settings.fields.includes("team only"));
    const by = staffWords(entry.author, settings.staff, words);
    return {
      kind: "assessment",
      id: entry.entryId,
      title: `${goal.number} ${goal.title}`,
      about: says.assessment.about(
        on,
        reached.reduce((sum, { level }) => sum + level, 0),
        reached.reduce((sum, { criterion: { max } }) => sum + max, 0),
      ),
      comment: reads ? note : null,
      columns: says.assessment.columns,
      rows: reached.map(({ criterion, level }) => ({
        criterion: criterionName(criterion),
        level: says.assessment.level(level, criterion.max),
        meaning: levelWords(criterion, level) ?? "",
      })),
      by: [
        by && says.assessment.by(by),
        reads && note !== null && isForTeam && lineMarks[words.language].noteForTeam,
      ]
        .filter(Boolean)
        .join(" · "),
    };
  };
  const span = { from: on, to: on };
  return {
    ...{ language: words.language, audience, span, order: "time", ...(audienceName ? { audienceName } : {}) },
    title: student.name,
    called: says.assessment.called(),
    head: `${student.screenName} · ${says.day(on)}`,
    facts: aboutStudent(material, span, settings, words),
    sections: [{ name: "goals", label: says.assessment.called(), blocks: entries.flatMap(blockOf) }],
  };
}
