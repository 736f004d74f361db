import { Form, Link, useNavigation } from "react-router";
import type { Patterns } from "#core/incidents/patterns.ts";
import { capitalise, plural } from "#core/words/numbers.ts";
import { type Behind, CsvLink, Incidents, Opening } from "./pictures.tsx";

/** What stands out, in sentences made from the numbers; each opens its incidents and goes into the report with one tap. */
export function Findings({
  patterns: { n, episodes, findings, nothing },
  behind,
  noted,
  mayNote,
  file,
}: {
  patterns: Patterns;
  behind: Behind;
  /** Sentences that stand in the report already, with the page of each. */
  noted: Readonly<Record<string, string>>;
  mayNote: boolean;
  /** Where the raw incidents are as a file. */
  file: string;
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <section aria-labelledby="stands-out" className="mt-4">
      <h2 id="stands-out" className="font-serif text-lg font-semibold">
        Findings
      </h2>
      {nothing ? (
        <p className="mt-1 text-soft">
          {n} {plural(n, "incident")} in {episodes} {plural(episodes, "episode")}:{" "}
          {nothing === "too-few"
            ? "too few to tell what they have in common. Twenty episodes or more are recommended."
            : "no two labels occurred together clearly, and no time of the week differs clearly."}
        </p>
      ) : (
        <ol className="mt-1 grid gap-2">
          {findings.map(({ words, strength, incidentIds }) => {
            const page = noted[words];
            return (
              <li
                key={words}
                className="flex gap-x-3 border-l-4 border-base-300 pl-3 data-[strong]:border-base-content max-sm:flex-col"
                data-strong={strength === "strong" || undefined}
              >
                <Opening
                  onPaper
                  className="min-w-0 flex-1"
                  summary={
                    <summary className="cursor-pointer font-serif leading-relaxed" dir="auto">
                      {strength === "weak" ? <b className="font-sans text-fine">weak: </b> : null}
                      {capitalise(words)}.
                    </summary>
                  }
                >
                  {() => <Incidents ids={incidentIds} behind={behind} />}
                </Opening>
                {page ? (
                  <Link className="link shrink-0 self-start py-1 text-fine" to={page}>
                    in the report
                  </Link>
                ) : mayNote ? (
                  <Form method="post" className="no-print shrink-0" preventScrollReset>
                    <input type="hidden" name="words" value={words} />
                    <button
                      className="btn btn-plain btn-sm"
                      disabled={busy}
                      title="As an observation to check"
                      aria-label={`Add to report, to check: ${words}`}
                    >
                      Add to report
                    </button>
                  </Form>
                ) : null}
              </li>
            );
          })}
        </ol>
      )}
      <p className="mt-2 max-w-[46rem] text-fine text-soft">
        Based on recorded incidents only: how often the same happens without an incident is not known. This is
        a description, not a functional analysis. Incidents less than 30 minutes apart count as one episode.
        “Weak” may be chance. {findings.length > 0 ? <CsvLink table="stands-out" title="findings" /> : null}{" "}
        <a className="link no-print" href={file} download>
          Incidents (CSV)
        </a>
      </p>
    </section>
  );
}
