import { type ReactNode, useEffect, useState } from "react";
import { flushSync } from "react-dom";
import { Link, useLocation } from "react-router";
import type { Counted } from "#core/incidents/patterns.ts";
import { Bar } from "#app/ui/bar.tsx";
import type { PatternTable } from "./tables.ts";

/** The incidents behind a count: who they are of, and each by its day and time. */
export interface Behind {
  studentId: string;
  told: Readonly<Record<string, string>>;
}

export function Incidents({ ids, behind }: { ids: readonly string[]; behind: Behind }) {
  return (
    <ul className="flex flex-wrap gap-x-3 gap-y-1 py-1 text-fine">
      {ids.map((id) => (
        <li key={id}>
          <Link className="link" to={`/students/${behind.studentId}/incidents/${id}`}>
            {behind.told[id]}
          </Link>
        </li>
      ))}
    </ul>
  );
}

/**
 * Renders the content of a fold only while it is open, since a page of counts would carry each incident a dozen times.
 *
 * @param onPaper is it open where the page is printed?
 */
export function Opening({
  summary,
  children,
  className,
  onPaper = false,
}: {
  summary: ReactNode;
  children: () => ReactNode;
  className?: string;
  onPaper?: boolean;
}) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (!onPaper) return;
    const print = () => flushSync(() => setOpen(true));
    window.addEventListener("beforeprint", print);
    return () => window.removeEventListener("beforeprint", print);
  }, [onPaper]);
  return (
    <details className={className} onToggle={(event) => setOpen(event.currentTarget.open)}>
      {summary}
      {open ? (
        children()
      ) : (
        <noscript>
          <Link className="link text-fine" to="../incidents" relative="path">
            All incidents
          </Link>
        </noscript>
      )}
    </details>
  );
}

/** A count that opens the incidents behind it. */
export function Count({
  ids,
  behind,
  children,
}: {
  ids: readonly string[];
  behind: Behind;
  children: ReactNode;
}) {
  return ids.length === 0 ? (
    children
  ) : (
    <Opening summary={<summary className="cursor-pointer">{children}</summary>}>
      {() => <Incidents ids={ids} behind={behind} />}
    </Opening>
  );
}

/** The same numbers as a file. */
export function CsvLink({ table, title }: { table: string; title: string }) {
  const { pathname, search } = useLocation();
  const address = new URLSearchParams(search);
  address.set("table", table);
  return (
    <a className="link no-print" href={`${pathname}.csv?${address.toString()}`} download>
      CSV<span className="sr-only"> of {title}</span>
    </a>
  );
}

function Table({
  title,
  table: { head, rows },
  behind,
}: {
  title: string;
  table: PatternTable;
  behind: Behind | undefined;
}) {
  return (
    <div className="relative overflow-x-auto" tabIndex={0} role="group" aria-label={`${title}: table`}>
      <table className="pair-table mt-1">
        <caption className="sr-only">{title}</caption>
        <thead>
          <tr>
            {head.map((one, at) => (
              <th key={`${one} ${at}`} scope="col">
                {one || <span className="sr-only">what</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ cells, incidentIds, opens }, row) => (
            <tr key={`${cells[0]} ${cells[1]} ${row}`}>
              {cells.map((cell, at) => {
                const ids = opens?.[at] ?? (incidentIds?.length === cell ? incidentIds : []);
                return (
                  <td key={head[at] ?? at} dir="auto">
                    {behind && cell !== "" ? (
                      <Count ids={ids} behind={behind}>
                        {cell}
                      </Count>
                    ) : (
                      cell
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The numbers of a picture as a table, and as a file. */
export function TableFold({
  name,
  title,
  table,
  behind,
  words = "As a table",
  open = false,
}: {
  /** Its name in an address. */
  name: string;
  title: string;
  /** Made when it is looked at. */
  table: () => PatternTable;
  /** Absent where nobody's incidents are opened. */
  behind?: Behind;
  /** What opens it. */
  words?: string;
  /** Shown at once, where there is no other picture. */
  open?: boolean;
}) {
  const shown = () => <Table title={title} table={table()} behind={behind} />;
  return (
    <div className="text-fine">
      {open ? shown() : null}
      <div className="no-print flex flex-wrap items-baseline gap-x-4">
        {open ? null : (
          <Opening
            className="min-w-0"
            summary={
              <summary className="min-h-8 cursor-pointer content-center text-soft">
                {words}
                <span className="sr-only">: {title}</span>
              </summary>
            }
          >
            {shown}
          </Opening>
        )}
        <span className="min-h-8 content-center">
          <CsvLink table={name} title={title} />
        </span>
      </div>
    </div>
  );
}

/** Ranked bars with their counts; each opens the incidents behind it. */
export function Bars({
  title,
  said = "",
  counted,
  behind,
  words = (label) => label,
  children,
}: {
  title: string;
  /** Stands beside the title. */
  said?: string;
  counted: readonly Counted[];
  behind: Behind;
  words?: (label: string) => string;
  children: ReactNode;
}) {
  const top = Math.max(1, ...counted.map(({ incidentIds }) => incidentIds.length));
  return (
    <section aria-label={title} className="break-inside-avoid">
      <h3 className="font-serif text-lg font-semibold">
        {title} {said ? <span className="font-sans text-fine font-normal text-soft">{said}</span> : null}
      </h3>
      {counted.length === 0 ? <p className="text-soft">Not recorded.</p> : null}
      <ul className="mt-1">
        {counted.map(({ label, incidentIds }) => (
          <li key={label} className="border-b border-base-300 py-1">
            <Count ids={incidentIds} behind={behind}>
              <span dir="auto">{words(label)}</span> <b>{incidentIds.length}</b>
              <Bar share={incidentIds.length / top} />
            </Count>
          </li>
        ))}
      </ul>
      {children}
    </section>
  );
}
