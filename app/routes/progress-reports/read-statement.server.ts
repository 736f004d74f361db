import { criterionWords } from "#core/criteria/criterion-words.ts";
import { isSameMeasured } from "#core/report/statement-facts.ts";
import { statementSentences } from "#core/report/statement-sentences.ts";
import { criterionEn } from "#core/words/en/criterion.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import { en } from "#core/words/en.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { findAudience } from "#server/db/audiences.ts";
import { listCircle } from "#server/db/goals.ts";
import {
  findEarlierStatement,
  listPeriodStatements,
  listStatementWriters,
} from "#server/db/progress-statements.ts";
import { listRevisions } from "#server/db/revisions.ts";
import { readStatementFacts } from "#server/db/statement-facts.ts";
import { listStatementRatings } from "#server/db/statement-ratings.ts";
import { findStudent } from "#server/db/students.ts";

interface GoalIds {
  studentId: string;
  goalId: string;
}

/** Everything that the writer of a statement sees beside it. */
export async function readStatement(scope: PersonScope, ids: GoalIds, from: string) {
  const { period, goal, judged, facts, seen } = await readStatementFacts(scope, ids, from);
  const student = await findStudent(scope, ids.studentId);
  const statement = (await listPeriodStatements(scope, [ids.goalId], period)).get(ids.goalId) ?? null;
  const goalIds = [ids.goalId, ...(goal.continues ? [goal.continues] : [])];
  const earlier = await findEarlierStatement(scope, goalIds, period);
  const writer = (await listStatementWriters(scope, [ids.goalId])).get(ids.goalId) ?? null;
  const circle = await listCircle(scope, ids.studentId);
  const family = (await findAudience(scope, ids.studentId, "family"))?.settings.language ?? "en";
  const tie = { circleRole: scope.circleRole, authorId: writer?.personId };
  const called = { name: student.calledName };
  const drafted = statementSentences(facts, { ...called, isPlain: false }, en);
  const readFactsThen = statement?.ready?.facts;
  const ratings = await listStatementRatings(scope);
  const { rating } = statement ?? {};
  const { standing } = judged.decided;
  const { criterion, measure, dueOn } = goal.setup;
  return {
    ...{ seen, drafted, statement, writer, family },
    goal: {
      ...{ goalId: goal.goalId, number: goal.number, title: goal.title, wording: goal.wording, dueOn },
      criterion: criterion && criterionWords(criterion, measure, criterionEn),
    },
    student: { studentId: student.studentId, name: student.name, initials: student.initials },
    standing: judged.series.all.length > 0 ? { key: standing.key, word: standing.word } : null,
    plainly: statementSentences(facts, { ...called, isPlain: true }, catalogueOf(family)),
    /** The numbers that were read have changed since. */
    isChanged: readFactsThen ? !isSameMeasured(readFactsThen, facts) : false,
    earlier: earlier && {
      ...{ period: earlier.period.name, words: earlier.content.words, rating: earlier.rating?.name ?? null },
    },
    ratings:
      rating && !ratings.some(({ ratingId }) => ratingId === rating.ratingId)
        ? [...ratings, rating]
        : ratings,
    offersRatings: ratings.length > 0,
    mayEditRatings: may(scope.actor, "school.edit", { circleRole: null }),
    mayWrite: may(scope.actor, "statement.write", tie),
    mayAssign: may(scope.actor, "statement.assign", tie),
    people: circle
      .filter(({ circleRole }) => circleRole === "record")
      .map(({ personId, name, position }) => ({
        personId,
        words: [name, position].filter(Boolean).join(", "),
      })),
    lead: circle.find(({ circleRole }) => circleRole === "lead")?.name ?? "",
    steps: statement
      ? (await listRevisions(scope, "statement", statement.statementId)).map(
          ({ revision, by, on, time, content: { words, ready } }) => ({
            ...{ revision, by, on, time, words, ready },
          }),
        )
      : [],
  };
}
