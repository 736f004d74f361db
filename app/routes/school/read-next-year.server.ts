import { v7 as newId } from "uuid";
import { schoolYearOn, yearProblem } from "#core/schedule/calendar.ts";
import { draftOfNextYear, nextGrade, withinYear } from "#core/schedule/next-year.ts";
import { dayNumber } from "#core/dates/day-number.ts";
import { groupBy } from "#core/lists/group-by.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { isId } from "#server/access/scope.ts";
import { readCalendar, yearContent } from "#server/db/calendar.ts";
import { listColleaguesOf } from "#server/db/circle.ts";
import { listGroups } from "#server/db/groups.ts";
import { type GoalEnd, goalEnds, type RollOver } from "#server/db/roll-over.ts";
import { listCaseloadGoals, listStudentsFor } from "#server/db/students.ts";
import { date, type Problems } from "#app/ui/form-data.ts";

/** So near to the last day of school a student's next grade is proposed. */
const daysBeforeTheEnd = 30;

/** Everything the page of the next year asks about, as it is now. */
export async function readNextYear(scope: PersonScope) {
  const calendar = await readCalendar(scope);
  const { today } = scope;
  const current =
    schoolYearOn(calendar, today) ?? calendar.years.filter(({ toOn }) => toOn < today).at(-1) ?? null;
  const next = calendar.years.find(({ fromOn }) => fromOn > (current?.toOn ?? today)) ?? null;
  const students = await listStudentsFor(scope, "goal.edit");
  const goals = groupBy(
    (await listCaseloadGoals(scope)).filter(({ ended, setup }) => ended === null && setup.metOn === null),
    ({ studentId }) => studentId,
  );
  const members = await listColleaguesOf(scope);
  // Grades are counted on by default only where the year is nearly over: who puts next year into the calendar in winter changes no grade.
  const isNear = current === null || dayNumber(current.toOn) - dayNumber(today) <= daysBeforeTheEnd;
  return {
    current: current && { name: current.name, toOn: current.toOn },
    next: next && { name: next.name, fromOn: next.fromOn },
    draft: current && next === null ? draftOfNextYear(yearContent(calendar, current)) : null,
    groups: (await listGroups(scope, students)).map(({ groupId, name }) => ({ groupId, name })),
    students: students.map(({ studentId, name, initials, grade }) => ({
      ...{ studentId, name, initials, grade, nextGrade: isNear ? nextGrade(grade) : grade },
      goals: (goals.get(studentId) ?? []).map(({ goalId, number, title }) => ({
        ...{ goalId, name: `${number} ${title}`, newGoalId: newId() },
      })),
      people: members.get(studentId) ?? [],
    })),
  };
}

export type NextYear = Awaited<ReturnType<typeof readNextYear>>;

const isDay = (day: string) => date.safeParse(day).success;

/**
 * What was chosen on the page, field by field: groups and people who are not ticked go, goals have what was chosen of them.
 *
 * @returns problems beside the fields, where there are any
 */
export function readNextYearChoice(
  typed: Readonly<Record<string, string>>,
  { current, next, draft, groups, students }: NextYear,
  today: string,
): { plan: RollOver; problems: Problems } {
  const problems: Problems = {};
  const text = (name: string) => (typed[name] ?? "").trim();
  const day = (name: string) => {
    if (!isDay(text(name))) problems[name] = "Choose a date.";
    return text(name);
  };
  let year: RollOver["year"] = null;
  if (draft && typed["withYear"] === "on") {
    const dates = { name: text("yearName"), fromOn: day("fromOn"), toOn: day("toOn") };
    if (dates.name === "" || dates.name.length > 60) problems["yearName"] = "What is the year called?";
    if (current && isDay(dates.fromOn) && dates.fromOn <= current.toOn)
      problems["fromOn"] ??= `This lies within ${current.name}.`;
    else if (isDay(dates.fromOn) && isDay(dates.toOn)) {
      const ofDates = yearProblem(dates);
      if (ofDates) problems["toOn"] = ofDates;
    }
    const copies = typed["withSpans"] === "on";
    year = {
      ...{ yearId: isId(text("yearId")) ? text("yearId") : newId(), ...dates },
      closures: copies ? withinYear(draft.closures, dates) : [],
      reportingPeriods: copies ? withinYear(draft.reportingPeriods, dates) : [],
    };
  }
  // The last day of this year, or today where it is over: a part ends after that day.
  const lastDay = current && current.toOn > today ? current.toOn : today;
  const chosen = students.flatMap(({ studentId, grade, goals, people }) => {
    // What the page did not show is left as it is.
    if (typed[`shown.${studentId}`] !== "yes") return [];
    const leaves = typed[`leaves.${studentId}`] === "on";
    const wanted = text(`grade.${studentId}`);
    if (wanted.length > 12) problems[`grade.${studentId}`] = "At most 12 characters.";
    const one = {
      studentId,
      leavesOn: leaves ? day(`leavesOn.${studentId}`) : null,
      grade: !leaves && wanted !== grade ? wanted : null,
      goals: goals.flatMap(({ goalId }) => {
        const becomes = typed[`goal.${goalId}`] ?? "";
        const newGoalId = text(`new.${goalId}`);
        return (goalEnds as readonly string[]).includes(becomes)
          ? { goalId, becomes: becomes as GoalEnd, newGoalId: isId(newGoalId) ? newGoalId : newId() }
          : [];
      }),
      parts: people
        .filter(({ personId }) => typed[`part.${studentId}.${personId}`] !== "on")
        .map(({ personId }) => ({ personId, toOn: lastDay })),
    };
    const isAnything = leaves || one.grade !== null || one.goals.length > 0 || one.parts.length > 0;
    return isAnything ? one : [];
  });
  const shownGroups = groups.filter(({ groupId }) => typed[`shownGroup.${groupId}`] === "yes");
  return {
    problems,
    plan: {
      ...{ rollOverId: isId(text("rollOverId")) ? text("rollOverId") : newId(), year },
      endedGroups: shownGroups.flatMap(({ groupId }) => (typed[`group.${groupId}`] === "on" ? [] : groupId)),
      students: chosen,
      newGoalsFrom: year?.fromOn ?? next?.fromOn ?? today,
    },
  };
}
