import type {
  AssessmentBlock,
  GlanceBlock,
  PlanBlock,
  ReportBlock,
  ReportSection,
} from "#core/report/document.ts";
import type { Language } from "#core/words/en.ts";
import { JotPicturesRow, JotsSection } from "./jots-section.tsx";
import { GoalSection, ReportLists } from "./goal-section.tsx";
import { LogLines } from "./log-lines.tsx";
import { partsOf } from "./log-parts.ts";
import { LogParagraph, LogTable } from "./log-layouts.tsx";
import { WeeksDrawing } from "./weeks-drawing.tsx";

function Glance({ columns }: { columns: GlanceBlock["columns"] }) {
  return (
    <div className="report-glance">
      {columns.map(({ label, items }) => (
        <div key={label}>
          <h3>{label}</h3>
          <ul>
            {items.map(({ id, text }) => (
              <li key={id} dir="auto">
                {text}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  );
}

function PlanNote({ plan: { name, days, facts, changed } }: { plan: PlanBlock }) {
  return (
    <section className="report-list" aria-label={name}>
      <h4>
        {name} <span className="font-normal">{days}</span>
      </h4>
      <ul>
        {facts.map(({ label, value }) => (
          <li key={label} dir="auto">
            <span className="report-by">{label}:</span> {value}
          </li>
        ))}
        {changed ? <li>{changed}</li> : null}
      </ul>
    </section>
  );
}

function Assessment({ of: { title, about, comment, columns, rows, by } }: { of: AssessmentBlock }) {
  return (
    <section className="report-list" aria-label={title}>
      <h3 className="font-serif text-[1.2rem] font-semibold" dir="auto">
        {title} <span className="report-by font-normal">{about}</span>
      </h3>
      {comment ? (
        <p className="mt-1.5 text-[1.05rem] leading-relaxed whitespace-pre-line" dir="auto">
          {comment}
        </p>
      ) : null}
      <table className="report-table">
        <thead>
          <tr>
            <th scope="col">{columns.criterion}</th>
            <th scope="col">{columns.level}</th>
            <th scope="col">{columns.meaning}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ criterion, level, meaning }) => (
            <tr key={criterion}>
              <th scope="row" dir="auto">
                {criterion}
              </th>
              <td className="whitespace-nowrap">{level}</td>
              <td dir="auto">{meaning}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="report-by mt-1.5">{by}</p>
    </section>
  );
}

/** Draws blocks of a report. Where the lines above end under the same heading (its id is `after`), it is not repeated. */
export function ReportBlocks({
  studentId,
  blocks,
  after = null,
  arrived,
  layout,
  columns,
  language,
}: {
  studentId: string;
  blocks: readonly ReportBlock[];
  after?: string | null;
  arrived?: ReadonlySet<string>;
  /** Of the report; English where it is not given. */
  language?: Language;
} & Pick<ReportSection, "layout" | "columns">) {
  if (layout === "table" && columns) return <LogTable parts={partsOf(blocks)} columns={columns} />;
  return partsOf(blocks).map((part) => {
    switch (part.kind) {
      case "glance":
        return <Glance key="glance" columns={part.columns} />;
      case "goal":
        return <GoalSection key={part.goalId} goal={part} />;
      case "sentence":
        return (
          <p key={part.text} className="mt-1.5 leading-relaxed">
            {part.text}
          </p>
        );
      case "legend":
        return (
          <p key="legend" className="report-by mt-2">
            {part.text}
          </p>
        );
      case "weeks":
        return <WeeksDrawing key="weeks" weeks={part} />;
      case "jots":
        return <JotsSection key={part.categoryId} jots={part} {...{ studentId, language }} />;
      case "meeting":
        return <ReportLists key="meeting" lists={part.lists} />;
      case "assessment":
        return <Assessment key={part.id} of={part} />;
      case "pictures":
        return <JotPicturesRow key="pictures" items={part.items} studentId={studentId} />;
      case "plan":
        return <PlanNote key={part.planId} plan={part} />;
      case "lines":
        return layout === "sentences" ? (
          <LogParagraph key={part.id} heading={part.heading} lines={part.lines} />
        ) : (
          <LogLines
            key={part.id}
            heading={part.id === after ? null : part.heading}
            lines={part.lines}
            {...{ studentId, arrived, language }}
          />
        );
    }
  });
}

/** How the lines of a section are drawn. */
export const layoutOf = ({
  layout,
  columns,
}: Pick<ReportSection, "layout" | "columns">): Pick<ReportSection, "layout" | "columns"> => ({
  ...(layout ? { layout } : {}),
  ...(columns ? { columns } : {}),
});

/** The id of the last heading of these blocks; null where there is none. */
export const lastHeading = (blocks: readonly ReportBlock[]): string | null =>
  blocks.findLast((block) => block.kind === "heading")?.id ?? null;
