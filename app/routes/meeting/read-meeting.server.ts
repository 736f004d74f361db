import { criterionWords } from "#core/criteria/criterion-words.ts";
import { wallChart } from "#core/chart/small-chart.ts";
import { isDate } from "#core/dates/day-number.ts";
import type { Audience } from "#core/report/audience.ts";
import { changesIn, judgeForReport } from "#core/report/compose-goal.ts";
import { composeReport } from "#core/report/compose-report.ts";
import { goalHistory } from "#core/report/goal-history.ts";
import { meetingAgenda } from "#core/report/meeting-agenda.ts";
import { reportSpans } from "#core/report/report-spans.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import { en } from "#core/words/en.ts";
import { setUpOf, setUpValues } from "#app/goal-set-up/set-up-values.ts";
import { audienceWords } from "#app/routes/editions/edition-words.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { findAudience, listAudiences } from "#server/db/audiences.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listMeetingNotes } from "#server/db/meetings.ts";
import { readReportMaterial } from "#server/db/report-material.ts";
import { listRevisionsOf } from "#server/db/revisions.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";

type Report = ReturnType<typeof composeReport>;

const goalBlocks = ({ sections }: Report) =>
  sections.flatMap(({ blocks }) => blocks.flatMap((block) => (block.kind === "goal" ? [block] : [])));

/**
 * What a meeting shows: the student's open goals in the order in which they are talked of, each as the chosen readers read it, and what was
 * written down. The family reads where the address names nobody else. What is for the team only is on no page of a meeting.
 */
export async function readMeeting(scope: PersonScope, studentId: string, search: URLSearchParams) {
  const madeAt = Date.now();
  const { today, actor } = scope;
  const audiences = await listAudiences(scope, studentId);
  const asked = audiences.find((one) => one.audience === search.get("for"));
  const audience: Audience = asked?.audience ?? "family";
  const { settings: theirs, name } = (await findAudience(scope, studentId, audience)) ?? notFound();
  // A statement is longer than what is read from four metres: without it a sentence says where the goal stands.
  const left: readonly string[] = ["team only", "statements"];
  const settings = {
    ...{ ...theirs, sections: ["goals" as const] },
    fields: theirs.fields.filter((field) => !left.includes(field)),
  };
  const calendar = await readCalendar(scope);
  const [usual] = reportSpans(calendar, today);
  const span = { from: usual?.from ?? null, to: today };
  const { material } = await readReportMaterial(scope, studentId, {
    ...{ span, order: "time" as const, limit: 1, calendar },
  });
  const student = await findStudent(scope, studentId);
  const report = composeReport(material, { audience, audienceName: name, settings, span, order: "time" });
  const words = catalogueOf(report.language);
  const blocks = new Map(goalBlocks(report).map((block) => [block.goalId, block]));
  const agenda = meetingAgenda(
    material.goals.flatMap((goal) => {
      const block = blocks.get(goal.goalId);
      const { dueOn } = goal.setup;
      if (!block || goal.ended) return [];
      const judged = judgeForReport(goal, span, material, words);
      const standing = goal.summary && judged.decided.standing.key;
      // In plain words for all in the room.
      const changed = changesIn(judged, span.to, calendar, words).map(({ plain }) => plain);
      const { chart } = block;
      const drawn = chart && { ...chart, chart: wallChart(chart.chart, words.chart) };
      const hasAside = drawn?.chart.points.some(({ kind }) => kind === "aside");
      return [
        {
          ...{ goalId: goal.goalId, dueOn, standing, goal, changed },
          block: { ...block, chart: drawn },
          // What is drawn smaller is said above the chart.
          caption: [drawn?.chart.axisTitle, hasAside ? words.chart.legendNotCounted() : ""]
            .filter(Boolean)
            .join(" · "),
        },
      ];
    }),
    today,
  );
  const steps = await listRevisionsOf(
    scope,
    "goal",
    agenda.map(({ goal }) => goal.goalId),
  );
  const given = search.get("on");
  const on = given !== null && isDate(given) && given < today ? given : today;
  // Why something was decided is read by those who read decisions: not all of the day was written in this room.
  const because = (reason: string) => (settings.fields.includes("decisions") ? reason : "");
  const notes = await listMeetingNotes(scope, studentId, { from: on, to: on });
  return {
    ...{ studentId, audience, today, on, language: report.language, personId: actor.personId, madeAt },
    student: { name: student.name, calledName: student.calledName, initials: student.initials },
    audiences: audiences.map((one) => ({ audience: one.audience, words: audienceWords(one) })),
    goals: agenda.map(({ goal: { goal, block, changed, caption }, reason }) => ({
      ...{ goalId: goal.goalId, number: goal.number, title: goal.title, reason, block },
      ...{ caption, changed, changedLabel: words.report.labels.changed },
      revision: goal.revision,
      // Its target is part of the measure: it is changed in the set-up.
      hasTarget: goal.measure.kind === "running-total",
      criterion: goal.setup.criterion && criterionWords(goal.setup.criterion, goal.measure),
      values: setUpValues(setUpOf(goal)),
    })),
    notes: notes.map(({ noteId, goalId, kind, words }) => ({ noteId, goalId, kind, words })),
    decided: [
      ...material.decisions
        .filter((decision) => decision.on === on)
        .map(({ decisionId, goalId, kind, phaseName, reason }) => ({
          ...{ id: decisionId, goalId },
          words: [en.report.decided(kind, phaseName), because(reason)].filter(Boolean).join(" "),
        })),
      ...[...steps].flatMap(([goalId, all]) =>
        goalHistory(all)
          .filter(
            (step) =>
              step.on === on &&
              all.some(({ revision, act }) => revision === step.revision && act === "changed"),
          )
          .map(({ revision, said, reason }) => ({
            ...{ id: `${goalId} ${revision}`, goalId },
            words: [said, because(reason)].filter(Boolean).join(" "),
          })),
      ),
    ],
  };
}

export type MeetingShown = Awaited<ReturnType<typeof readMeeting>>;
