import { lazy, Suspense } from "react";
import { Link } from "react-router";
import { capitalise } from "#core/words/numbers.ts";
import { Bar } from "#app/ui/bar.tsx";
import { ConfirmMet, type Deciding, TaughtAsPlanned } from "./decide.tsx";
import type { GoalSays } from "./goal-says.server.ts";

/** Written now and then: its form is no part of what every goal's page waits for. */
const Decide = lazy(() => import("./write-decision.tsx"));

const panelId = "how-computed";

/** Opens the panel where one figure is explained; without scripts the browser opens it by the address. */
function How({ id }: { id: string }) {
  return (
    <a
      className="link no-print text-fine whitespace-nowrap text-soft"
      href={`#how-${id}`}
      onClick={() => {
        const panel = document.getElementById(panelId);
        if (panel instanceof HTMLDetailsElement) panel.open = true;
      }}
    >
      how is this computed?
    </a>
  );
}

/** What the numbers say, in sentences: what to do, what changed, what is to come, what to keep in mind. */
export function Says({
  says,
  action,
  setUp,
  deciding,
  mayTick,
  mayDecide,
  confirm,
}: {
  says: GoalSays;
  action: string;
  setUp: string;
  deciding: Deciding;
  mayTick: boolean;
  mayDecide: boolean;
  /** What may be confirmed as met now. */
  confirm: { revision: number; confirm: readonly string[] } | null;
}) {
  const { advice, rate, changes, outlook, independence, cautions, decisions } = says;
  return (
    <section aria-label="What the data say" className="mt-4 grid max-w-[46rem] gap-2">
      {rate ? (
        <p className="font-serif leading-relaxed">
          {rate} <How id="trend" />
        </p>
      ) : null}
      {advice.words ? (
        <div className="rounded-lg bg-arrival px-4 py-2">
          <p>
            {advice.words} <How id={advice.key === "confirm" ? "mastery" : "aim"} />
          </p>
          {confirm ? <ConfirmMet action={setUp} today={deciding.today} {...confirm} /> : null}
          {advice.asksTaught && mayTick ? <TaughtAsPlanned action={action} deciding={deciding} /> : null}
        </div>
      ) : null}
      {changes.length > 0 ? (
        <ul aria-label="What changed" className="grid gap-1">
          {changes.map(({ words, how }) => (
            <li key={words} className="font-serif leading-relaxed">
              {words} <How id={how} />
            </li>
          ))}
        </ul>
      ) : null}
      {independence ? <p className="font-serif leading-relaxed">{independence}</p> : null}
      {outlook && "words" in outlook ? (
        <p className="font-serif leading-relaxed">
          {outlook.words} <How id="outlook" />
        </p>
      ) : null}
      {outlook && "hidden" in outlook ? <p className="text-fine text-soft">{outlook.hidden}</p> : null}
      {cautions.length > 0 ? (
        <ul aria-label="To keep in mind" className="text-fine text-soft">
          {cautions.map((caution) => (
            <li key={caution}>{caution}</li>
          ))}
        </ul>
      ) : null}
      {decisions.length > 0 ? (
        <ul aria-label="Decisions">
          {decisions.map(({ decisionId, when, author, said }) => (
            <li key={decisionId} className="border-t border-base-300 py-1.5">
              <Link
                className="no-underline hover:underline"
                to={`${action.split("/goals/")[0] ?? ""}/decisions/${decisionId}`}
                dir="auto"
              >
                {said.sentence} {said.note}
              </Link>{" "}
              <span className="text-fine text-soft">
                {when} · {author}
              </span>
            </li>
          ))}
        </ul>
      ) : null}
      {mayDecide ? (
        <Suspense>
          <Decide action={action} setUp={setUp} deciding={deciding} />
        </Suspense>
      ) : null}
    </section>
  );
}

/** Who, where and on which weekday the points of the current phase come from, and what each gave. */
export function CarriedByWords({ says: { carried, unit } }: { says: GoalSays }) {
  if (carried.length === 0) return null;
  return (
    <div className="mt-5 grid gap-x-10 gap-y-4 sm:grid-cols-3">
      {carried.map(({ by, shares }) => {
        // Percentages are all drawn on one scale; what has no end, by the largest.
        const top = unit === "percent" ? 100 : Math.max(...shares.map(({ value }) => value)) || 1;
        return (
          <section key={by} aria-label={`By ${by}`} className="break-inside-avoid">
            <h2 className="font-serif text-[1.15rem] font-semibold">By {by}</h2>
            <ul className="mt-1 text-[0.9375rem]">
              {shares.map(({ name, n, words, value }) => (
                <li key={name} className="border-t border-base-300 py-1.5">
                  <span dir="auto">{capitalise(name)}</span>{" "}
                  <span className="text-fine text-soft">
                    {words}, {n} {n === 1 ? "point" : "points"}
                  </span>
                  <Bar share={Math.max(0, value / top)} />
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

/** Each figure with its formula, its source, the numbers of this goal, and the command that makes them again. */
export function HowComputed({ says, csv }: { says: GoalSays; csv: string }) {
  const { how } = says;
  if (how.length === 0) return null;
  return (
    <details id={panelId} className="mt-3">
      <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
        How is this computed?
      </summary>
      <p className="mt-2 max-w-[46rem]">
        You can check every number here from the{" "}
        <a className="link" href={csv} download>
          points of this goal as a file
        </a>{" "}
        with{" "}
        <Link className="link" to="/figures">
          Numbers from a file
        </Link>
        , on this device.
      </p>
      <dl className="mt-3 grid max-w-[52rem] grid-cols-[minmax(0,1fr)] gap-4">
        {how.map(({ id, name, formula, source, put, numbers }) => (
          <div
            key={id}
            id={`how-${id}`}
            className="scroll-mt-4 border-t border-base-300 pt-2 target:bg-arrival"
          >
            <dt className="font-serif text-[1.05rem] font-semibold" dir="auto">
              {name}
            </dt>
            <dd className="mt-1 text-[0.9375rem]">
              <p>{formula}</p>
              <p className="mt-1 text-fine text-soft">Source: {source}.</p>
              <p className="mt-1 break-words">{put}</p>
              {numbers.length > 0 ? (
                <table className="mt-1 text-left">
                  <tbody>
                    {numbers.map(({ label, shown, field }) => (
                      <tr key={field}>
                        <th scope="row" className="py-0.5 pr-4 font-normal" dir="auto">
                          {label}
                        </th>
                        <td className="py-0.5 pr-4 text-right font-bold tabular-nums" data-field={field}>
                          {shown}
                        </td>
                        <td className="py-0.5 text-fine text-soft">
                          <code className="break-all">{field}</code>
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              ) : null}
            </dd>
          </div>
        ))}
      </dl>
    </details>
  );
}
