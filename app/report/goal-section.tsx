import type { GoalBlock, ReportList } from "#core/report/document.ts";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import { RatersColumns } from "./raters-table.tsx";
import { ChartDrawing } from "./chart-drawing.tsx";

/** Labelled lists of a report. */
export function ReportLists({ lists, of }: { lists: readonly ReportList[]; of?: string }) {
  return lists.map(({ label, items }) => (
    <section
      key={`${label} ${items[0]?.id ?? ""}`}
      className="report-list"
      aria-label={of ? `${label}, ${of}` : label}
    >
      <h4>{label}</h4>
      <ul>
        {items.map(({ id, text, aside }) => (
          <li key={id} dir="auto">
            {text} {aside ? <span className="report-by">{aside}</span> : null}
          </li>
        ))}
      </ul>
    </section>
  ));
}

/** What a goal began with and where it is, each number with what it is made of. */
export function Figures({ figures, className }: { figures: GoalBlock["figures"]; className?: string }) {
  if (figures.length === 0) return null;
  return (
    <dl className={className}>
      {figures.map(({ label, value, about }) => (
        <div key={label}>
          <dt>{label}</dt>
          <dd>
            <b>{value}</b> <span>{about}</span>
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** A goal in a report: its wording, where it stands, its figures and chart, what changed, what was decided and what it is made of. */
export function GoalSection({ goal }: { goal: GoalBlock }) {
  const { number, title, wording, standing, figures, facts, sentences, chart, lists, raters, meaning } = goal;
  const { statements = [] } = goal;
  return (
    <article className="report-goal" aria-label={`${number} ${title}`}>
      <h3 className="report-number">
        {number}
        <span className="sr-only"> {title}</span>
      </h3>
      <div className="report-goal-head">
        <div className="min-w-0">
          <p className="report-wording" dir="auto">
            {wording}
          </p>
          {meaning ? <p className="mt-1.5 leading-relaxed">{meaning}</p> : null}
          {standing ? (
            <p className="mt-1.5 font-sans text-[0.95rem] leading-snug">
              <StandingMark standing={{ key: standing.key, word: `${standing.word}.` }} />{" "}
              <span>{standing.why}</span>
            </p>
          ) : null}
          <Figures figures={figures} className="report-figures" />
          {sentences.map((text) => (
            <p key={text} className="mt-1.5 leading-relaxed">
              {text}
            </p>
          ))}
          <p className="mt-1.5 font-sans text-fine text-soft">
            {facts.map(({ label, value }) => `${label}: ${value}`).join(" · ")}
          </p>
        </div>
        {chart ? (
          <figure className="min-w-0">
            <figcaption className="font-sans text-[0.75rem] leading-snug text-soft">
              {chart.chart.axisTitle}
            </figcaption>
            <ChartDrawing chart={chart.chart} description={chart.description} />
          </figure>
        ) : null}
      </div>
      {statements.map(({ id, label, rating, drafted, words, by }) => (
        <section key={id} className="report-list" aria-label={`${label}, ${number} ${title}`}>
          <h4>{label}</h4>
          {rating || drafted ? (
            <p className="mt-0.5 leading-snug">
              {rating ? <b>{rating}</b> : null} {drafted}
            </p>
          ) : null}
          {words ? (
            <p className="mt-0.5 leading-snug whitespace-pre-line" dir="auto">
              {words}
            </p>
          ) : null}
          <p className="report-by">{by}</p>
        </section>
      ))}
      <ReportLists lists={lists} of={`${number} ${title}`} />
      {raters ? <RatersColumns table={raters} /> : null}
    </article>
  );
}
