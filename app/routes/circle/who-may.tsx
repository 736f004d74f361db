import { Link } from "react-router";
import type { CircleRole } from "#server/access/actor.ts";
import { circlePartWords } from "./part-words.ts";
import type { whatOneMay, whatPartsMay } from "./what-parts-may.server.ts";

/** A person with what they may do in a student's record now; their part is null outside the circle. */
interface SeenAs extends ReturnType<typeof whatOneMay> {
  name: string;
  circleRole: CircleRole | null;
}

const answers = { yes: "yes", own: "own only", no: "–" } as const;

/** Who may do what, read from the table that decides it. */
export function WhoMay({ table }: { table: ReturnType<typeof whatPartsMay> }) {
  return (
    <details className="mt-6">
      <summary className="w-fit cursor-pointer py-1 text-lg font-bold">Who may see and do what</summary>
      <div
        className="relative overflow-x-auto"
        role="group"
        aria-label="Who may see and do what"
        tabIndex={0}
      >
        <table className="report-table mt-1">
          <thead>
            <tr>
              <th scope="col">With the student</th>
              <th scope="col">Leads</th>
              <th scope="col">Records</th>
              <th scope="col">Reads</th>
              <th scope="col">Administrator outside the circle</th>
            </tr>
          </thead>
          <tbody>
            {table.map(({ act, answers: row }) => (
              <tr key={act}>
                <th scope="row">{act}</th>
                {row.map((one, at) => (
                  <td key={at} className={one === "no" ? "text-soft" : "font-bold"}>
                    {one === "no" ? (
                      <>
                        <span aria-hidden="true">{answers.no}</span>
                        <span className="sr-only">no</span>
                      </>
                    ) : (
                      answers[one]
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 text-fine text-soft">
        Everyone else on the staff sees nothing of the student: no name, no page, no line. Families read
        editions and what is released to them.
      </p>
    </details>
  );
}

/** What one person sees of the student, and what not. */
export function AsSeenBy({ as, student }: { as: SeenAs; student: { name: string; initials: string } }) {
  const first = as.name.split(" ")[0] ?? as.name;
  const lists: readonly (readonly [string, readonly string[]])[] = [
    ["May", as.may],
    ["Only what is their own", as.own],
    ["May not", as.mayNot],
  ];
  return (
    <section aria-labelledby="as" className="mb-5 rounded-lg bg-base-200 px-4 py-3">
      <div className="flex items-baseline justify-between gap-3">
        <h2 id="as" className="text-lg font-bold">
          As {first} sees {student.initials}
        </h2>
        <Link className="btn btn-plain btn-sm" to="?" preventScrollReset>
          Close
        </Link>
      </div>
      {as.circleRole === null ? (
        <p className="mt-1">
          {as.name} is not in the circle now: {first} sees no name, tab or line of {student.name}, and every
          address of the student answers “not found”.
        </p>
      ) : (
        <p className="mt-1">
          {as.name} {circlePartWords[as.circleRole]}: the tab {student.initials}, with everything below.
        </p>
      )}
      <div className="mt-2 grid gap-4 sm:grid-cols-3">
        {lists.map(([label, items]) =>
          items.length > 0 ? (
            <div key={label}>
              <h3 className="text-fine font-bold">{label}</h3>
              <ul className="text-[0.9375rem] leading-snug">
                {items.map((item) => (
                  <li key={item} className="mt-0.5">
                    {item}
                  </li>
                ))}
              </ul>
            </div>
          ) : null,
        )}
      </div>
    </section>
  );
}
