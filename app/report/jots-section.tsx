import type { ReactNode } from "react";
import { Link } from "react-router";
import type { JotsBlock, PicturesBlock, StepChart } from "#core/report/document.ts";
import type { Language } from "#core/words/en.ts";
import { lineMarks } from "#core/report/line-marks.ts";
import { RatersColumns } from "./raters-table.tsx";
import { useReportPaths } from "./report-paths.ts";

const [wide, rowHeight, left, above, below] = [560, 26, 190, 10, 24];

/** Levels over time as steps: a row for each level, the highest on top. */
export function StepDrawing({ chart, description }: { chart: StepChart; description: string }) {
  const { levels, fromDay, toDay, points, line, ticks } = chart;
  const high = levels.length * rowHeight;
  const x = (day: number) => left + ((day - fromDay) / Math.max(1, toDay - fromDay)) * (wide - left - 14);
  const y = (step: number) => above + high - (step - 0.5) * rowHeight;
  const [first] = line;
  const path = first
    ? `M${x(first.day)} ${y(first.step)}${line
        .slice(1)
        .map(({ day, step }) => `H${x(day)}V${y(step)}`)
        .join("")}`
    : "";
  return (
    <svg
      viewBox={`0 0 ${wide} ${above + high + below}`}
      className="chart block h-auto w-full max-w-[42rem]"
      role="img"
      aria-label={description}
    >
      {levels.map((name, at) => (
        <g key={name}>
          <line x1={left} x2={wide - 8} y1={y(at + 1)} y2={y(at + 1)} className="stroke-base-300" />
          <text x={left - 10} y={y(at + 1) + 4} textAnchor="end" fontSize="12">
            {name.length > 28 ? `${name.slice(0, 27)}…` : name}
          </text>
        </g>
      ))}
      <path d={path} fill="none" className="stroke-data" strokeWidth="1.8" />
      {points.map(({ day, step, own }, at) =>
        own ? (
          <path
            key={at}
            d={`M${x(day)} ${y(step) - 5.5}l5.5 5.5l-5.5 5.5l-5.5 -5.5z`}
            className="fill-base-100 stroke-base-content"
            strokeWidth="1.3"
          />
        ) : (
          <circle key={at} cx={x(day)} cy={y(step)} r="3.6" className="fill-data" />
        ),
      )}
      {ticks.map(({ day, label }, at) => (
        <text
          key={day}
          x={x(day)}
          y={above + high + 16}
          textAnchor={at === 0 ? "start" : "end"}
          fontSize="11.5"
        >
          {label}
        </text>
      ))}
    </svg>
  );
}

/** A way to a page of the staff; for readers who have none, its words alone. */
function PageLink({
  to,
  className,
  children,
}: {
  to: string | null;
  className?: string;
  children: ReactNode;
}) {
  return to === null ? (
    <span className={className}>{children}</span>
  ) : (
    <Link className={className} to={to}>
      {children}
    </Link>
  );
}

/** The jots of one category: levels over time, counts, the latest words and the raters. */
export function JotsSection({
  jots,
  studentId,
  language = "en",
}: {
  jots: JotsBlock;
  studentId: string;
  language?: Language | undefined;
}) {
  const { title, counts, chart, levels, latest, raters } = jots;
  const paths = useReportPaths();
  const explained = levels.filter(({ meaning }) => meaning !== "");
  return (
    <section className="report-list" aria-label={title}>
      <h3 className="font-serif text-[1.05rem] font-semibold" dir="auto">
        {title}
      </h3>
      <p dir="auto">{counts}</p>
      {chart ? (
        <figure className="mt-1">
          <figcaption className="sr-only">{chart.title}</figcaption>
          <StepDrawing chart={chart.chart} description={chart.description} />
          <p className="report-by">{chart.legend}</p>
        </figure>
      ) : null}
      {explained.length > 0 ? (
        <p className="report-by" dir="auto">
          {explained.map(({ name, meaning }) => `${name}: ${meaning}`).join(" · ")}
        </p>
      ) : null}
      {latest ? (
        <p className="mt-1 leading-relaxed" dir="auto">
          <span className="report-by">{latest.label}:</span> {latest.text}{" "}
          <PageLink className="report-by no-underline" to={paths.page(studentId, latest.page)}>
            {latest.by}
            {latest.teamOnly ? ` · ${lineMarks[language].teamOnly}` : ""}
          </PageLink>
        </p>
      ) : null}
      {raters ? <RatersColumns table={raters} /> : null}
    </section>
  );
}

/** Pictures of jots with their captions. */
export function JotPicturesRow({ items, studentId }: { items: PicturesBlock["items"]; studentId: string }) {
  const paths = useReportPaths();
  return (
    <ul className="report-pictures">
      {items.map(({ pictureId, caption, width, height, by, page }) => (
        <li key={pictureId}>
          <figure>
            <PageLink to={paths.page(studentId, page)}>
              <img
                src={paths.picture(studentId, pictureId)}
                alt={caption}
                {...{ width, height }}
                loading="lazy"
              />
            </PageLink>
            <figcaption>
              <span dir="auto">{caption}</span> <span className="report-by">{by}</span>
            </figcaption>
          </figure>
        </li>
      ))}
    </ul>
  );
}
