import { Link, useSearchParams } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { studentBlank } from "#core/goal-wording/blanks.ts";
import { withoutNames } from "#core/goal-wording/with-blanks.ts";
import { sheetCodes, sheetColumns, typedLineHint } from "#core/measures/sheet-lines.ts";
import { namesOf } from "#core/model/student-names.ts";
import { listStudents } from "#server/db/students.ts";
import { noteReads } from "#server/db/reads.ts";
import { listRecordable, type RecordableGoal } from "./recordable.server.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/sheets";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, async (scope) => {
    const { searchParams } = new URL(request.url);
    const whole = new Map((await listStudents(scope)).map((student) => [student.studentId, student]));
    const students = await listRecordable(scope, searchParams);
    await noteReads(
      scope,
      "recording",
      students.map(({ studentId }) => studentId),
    );
    // A sheet lies about: it names no child.
    const unnamed = (studentId: string, screenName: string, text: string) => {
      const student = whole.get(studentId);
      return student ? withoutNames(text, namesOf(student), screenName) : `{${studentBlank}}`;
    };
    return {
      students: students.map(({ studentId, screenName, goals }) => ({
        studentId,
        screenName,
        goals: goals.map((goal) => ({
          ...goal,
          title: unnamed(studentId, screenName, goal.title),
          wording: unnamed(studentId, screenName, goal.wording),
        })),
      })),
    };
  });
}

const rowsOnSheet = 10;

function BlankSheet({ screenName, goal }: { screenName: string; goal: RecordableGoal }) {
  const columns = sheetColumns(goal.measure);
  const codes = sheetCodes(goal.measure);
  const narrow = columns.length > 6;
  return (
    <section className="data-sheet" aria-label={`${screenName}, ${goal.number} ${goal.title}`}>
      <header className="flex items-baseline gap-4 border-b border-base-300 pb-1">
        <p className="font-bold" dir="auto">
          {screenName}
        </p>
        <h2 className="font-serif text-lg font-semibold">
          {goal.number} {goal.title}
        </h2>
      </header>
      <p className="my-1 font-serif text-[0.9375rem] leading-snug" dir="auto">
        {goal.wording}
      </p>
      <p className="text-fine">
        {codes.map(({ code, means }) => (
          <span key={code} className="mr-4 inline-block">
            <b>{code}</b> {means}
          </span>
        ))}
        <span className="text-soft">To type it in later: {typedLineHint(goal.measure)}.</span>
      </p>
      <div className="overflow-x-auto" tabIndex={0} role="group" aria-label={`Rows for ${goal.title}`}>
        <table className="sheet-table">
          <thead>
            <tr>
              <th scope="col" className="w-20">
                Date
              </th>
              <th scope="col" className="w-16">
                Time
              </th>
              {columns.map((column, index) => (
                <th key={index} scope="col" className={narrow && column.length > 3 ? "sheet-upright" : ""}>
                  <span>{column}</span>
                </th>
              ))}
              <th scope="col">Note</th>
              <th scope="col" className="w-12">
                By
              </th>
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: rowsOnSheet }, (_, row) => (
              <tr key={row}>
                {Array.from({ length: columns.length + 4 }, (__, cell) => (
                  <td key={cell} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** Blank data sheets for whoever must use paper, one goal to a sheet, laid out like the table for past observations. */
export default function Sheets({ loaderData: { students } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="no-print mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-2 border-b border-base-300 pb-3">
        <PageTitle title="Blank data sheets" />
        <p className="text-fine text-soft">
          {students.length === 0
            ? "There is no goal here for which you record."
            : "One goal to a page, with initials only. Print them with your browser."}
        </p>
        <Link to={`/past?${search.toString()}`} className="btn btn-plain ml-auto">
          Type past observations
        </Link>
        <button type="button" className="btn btn-primary with-scripts" onClick={() => window.print()}>
          Print
        </button>
      </header>
      {students.map(({ studentId, screenName, goals }) =>
        goals.map((goal) => (
          <BlankSheet key={`${studentId} ${goal.goalId}`} screenName={screenName} goal={goal} />
        )),
      )}
    </main>
  );
}
