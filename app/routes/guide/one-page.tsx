import { authorize } from "#server/access/authorize.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/one-page";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "guide.read", null, (scope) =>
    Promise.resolve({ school: scope.actor.schoolName }),
  );
}

const parts: readonly { title: string; lines: readonly string[] }[] = [
  {
    title: "Before you begin",
    lines: [
      "Sign in once on the device you will use, with a network. After that recording works without one.",
      "You see the students whose circle you belong to. Missing someone? Ask the case manager.",
      "Recording screens show initials or an alias, because others can see them.",
    ],
  },
  {
    title: "Take data",
    lines: [
      "Choose Record. The goals that are due today are chosen already. Press Start.",
      "Touch “Correct” or “Not yet”, the level of help, or the step. Touch Undo if it was the wrong one.",
      "Arrow: next goal, or next student. Absent, refused, interrupted: say so under the marks.",
      "Choose Finish, read the lines, choose Save.",
    ],
  },
  {
    title: "Record an incident",
    lines: [
      "Choose Incident, then the student.",
      "Touch what the student did. Before and after if you saw it.",
      "Choose Save. Details can wait: the incident’s page keeps them open.",
    ],
  },
  {
    title: "If something goes wrong",
    lines: [
      "A wrong entry: open its line in the report and correct it. Nothing is lost, the history keeps both.",
      "No network: go on. “Not sent” shows how much waits; it is sent by itself.",
      "Press ? for help with the screen you are on.",
    ],
  },
  {
    title: "What you write is read by the team and the family",
    lines: ["Say what you saw and heard, not what you think of it.", "Never name another student in a note."],
  },
];

/** The start for an aide on one sheet of paper. */
export default function OnePage({ loaderData: { school } }: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-3">
        <PageTitle title="Recording, on one page" />
        <p className="text-fine text-soft">{school}</p>
        <button
          type="button"
          className="btn btn-primary no-print with-scripts ml-auto"
          onClick={() => window.print()}
        >
          Print
        </button>
      </header>
      <div className="max-w-[46rem]">
        {parts.map(({ title, lines }) => (
          <section key={title} className="mb-4 break-inside-avoid">
            <h2 className="font-serif text-[1.15rem] font-semibold">{title}</h2>
            <ul className="mt-1 list-disc space-y-1 pl-5">
              {lines.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </section>
        ))}
        <p className="border-t border-base-300 pt-3">Ask: ______________________________________________</p>
      </div>
    </main>
  );
}
