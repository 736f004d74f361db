import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef } from "react";
import { type Line, type Rows, useWrittenRows } from "#app/kit/use-written-rows.ts";
import type { Problems } from "./form-data.ts";
import { lines as linesOf } from "./lines.ts";
import { say } from "./say.ts";
import { Sortable, useSortableLine } from "./sortable.tsx";
import { rowName, standsName, type TypedRow } from "./typed-rows.ts";

interface WrittenListProps {
  /** Fields are named `prefix.index.name`, and the others of a row likewise. */
  prefix: string;
  title: string;
  /** "place": what one line is. */
  one: string;
  rows: readonly TypedRow[];
  /** What an empty line holds besides its words. */
  blank?: TypedRow;
  /** The field that tells one row from another. */
  identity?: string;
  typed: Readonly<Record<string, string>> | undefined;
  problems: Problems;
  hint?: ReactNode;
  maxLength?: number;
  heading?: "h2" | "h3";
  className?: string;
  /** What stands beside the words of a line, as a definition. */
  beside?: (line: Line, name: (field: string) => string, set: (part: TypedRow) => void) => ReactNode;
  /** What stands below the list, with a way to write rows into it. */
  children?: (append: (rows: readonly TypedRow[]) => void, shown: readonly Line[]) => ReactNode;
}

/**
 * A list written line by line, as on paper: one types into a line, Enter begins the next, Backspace in an empty line takes it out, the
 * arrow keys go from line to line, with Alt they move the line. Several lines pasted become several lines. Lines are also dragged by
 * their handles. Nothing is saved until the form around is.
 */
export function WrittenList({
  prefix,
  title,
  one,
  hint,
  maxLength = 100,
  heading: Heading = "h2",
  className = "",
  beside,
  children,
  blank = {},
  identity = "name",
  ...there
}: WrittenListProps) {
  const id = useId();
  const list = useRef<HTMLOListElement>(null);
  const rows = useWrittenRows(prefix, { ...there, blank: { ...blank, name: "" } });
  const { lines } = rows;
  const next = useRef<string | null>(null);
  const fieldOf = (key: string) =>
    list.current?.children[lines.findIndex((line) => line.key === key)]?.querySelector<HTMLElement>(
      "[data-words]",
    );
  // The line that was begun is not there before the list is drawn.
  useEffect(() => {
    if (next.current === null) return;
    fieldOf(next.current)?.focus();
    next.current = null;
  });
  const problem = there.problems[prefix];
  const move = (from: number, to: number) => {
    const line = lines[from];
    if (!line || to < 0 || to >= lines.length) return;
    rows.move(from, to);
    next.current = line.key;
    say(`${line.row["name"] || one} is at place ${to + 1} of ${lines.length}`);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLElement>, at: number) => {
    const line = lines[at];
    if (!line || event.nativeEvent.isComposing) return;
    const step = event.key === "ArrowUp" ? -1 : event.key === "ArrowDown" ? 1 : 0;
    if (step !== 0 && event.altKey) move(at, at + step);
    else if (step !== 0) fieldOf(lines[at + step]?.key ?? "")?.focus();
    else if (event.key === "Enter" && !event.metaKey && !event.ctrlKey) {
      const after = lines[at + 1];
      if (after && rows.isBlank(after.row)) fieldOf(after.key)?.focus();
      else if (!rows.isBlank(line.row)) next.current = rows.insert(at, [{ ...blank, name: "" }])[0] ?? null;
    } else if (event.key === "Backspace" && line.row["name"] === "" && at > 0 && at < lines.length - 1) {
      next.current = lines[at - 1]?.key ?? null;
      rows.remove(line.key);
    } else return;
    event.preventDefault();
  };
  // Lists within a part that has a heading of its own are no landmarks of the page.
  const Around = Heading === "h2" ? "section" : "div";
  return (
    <Around
      {...(Heading === "h2" ? {} : { role: "group" })}
      aria-labelledby={id}
      className={className}
      {...rows.around}
    >
      <Heading
        id={id}
        className={
          Heading === "h2" ? "font-serif text-[1.15rem] font-semibold" : "text-[0.9375rem] font-bold"
        }
      >
        {title}
      </Heading>
      {hint ? <p className="text-fine text-soft">{hint}</p> : null}
      {problem ? (
        <p role="alert" className="text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
      <input
        type="hidden"
        name={standsName(prefix)}
        value={rows.from.map((row) => row[identity] ?? "").join("\n")}
      />
      <Sortable
        id={prefix}
        ids={lines.map(({ key }) => key)}
        nameOf={(key) => lines.find((line) => line.key === key)?.row["name"] || one}
        onMove={rows.move}
      >
        <ol ref={list} className="written-list">
          {lines.map((line, at) => (
            <WrittenLine
              key={line.key}
              {...{ line, at, one, prefix, maxLength }}
              isLast={at === lines.length - 1}
              isBlank={rows.isBlank(line.row)}
              set={(part) => rows.set(line.key, part)}
              onKeyDown={(event) => onKeyDown(event, at)}
              onPaste={(text) => {
                const pasted = linesOf(text).map((name) => ({ ...blank, name }));
                if (pasted.length < 2) return false;
                const before = rows.isBlank(line.row) ? at - 1 : at;
                next.current = rows.insert(before, pasted).at(-1) ?? null;
                say(`${pasted.length} lines are put in`);
                return true;
              }}
              move={(by) => move(at, at + by)}
              remove={() => {
                next.current = (lines[at + 1] ?? lines[at - 1])?.key ?? null;
                rows.remove(line.key);
                say(`${line.row["name"] || one} is taken out`);
              }}
              beside={beside}
            />
          ))}
        </ol>
      </Sortable>
      <RowTakenOut rows={rows} nameOf={(row) => row["name"] || one} />
      {children?.(rows.append, lines)}
    </Around>
  );
}

/** What was taken out of a list last, until the form is saved, and the way to have it again. */
export function RowTakenOut({ rows, nameOf }: { rows: Rows; nameOf: (row: TypedRow) => string }) {
  return rows.gone ? (
    <p className="mt-1 flex flex-wrap items-center gap-x-3 text-fine">
      <span>
        Taken out: <bdi>{nameOf(rows.gone.row)}</bdi>
      </span>
      <button type="button" className="link min-h-8 font-bold" onClick={rows.putBack}>
        Put it back
      </button>
    </p>
  ) : null;
}

interface WrittenLineProps {
  line: Line;
  at: number;
  one: string;
  prefix: string;
  maxLength: number;
  isLast: boolean;
  isBlank: boolean;
  set: (part: TypedRow) => void;
  onKeyDown: (event: KeyboardEvent<HTMLElement>) => void;
  /** Puts a text of several lines in as lines; false where it is one line. */
  onPaste: (text: string) => boolean;
  move: (by: -1 | 1) => void;
  remove: () => void;
  beside: WrittenListProps["beside"];
}

function WrittenLine({ line, at, one, prefix, isLast, isBlank, set, beside, ...does }: WrittenLineProps) {
  const { key, row, wrong } = line;
  const words = row["name"] ?? "";
  const called = words || `${one} ${at + 1}`;
  const { ref, isDragging, handle } = useSortableLine(key, called);
  const name = (field: string) => rowName(prefix, at, field);
  const says = `${prefix}-${at}-says`;
  const problems = Object.values(wrong);
  return (
    <li ref={ref} className={`written-line ${isDragging ? "is-held" : ""}`}>
      {isLast && isBlank ? <span aria-hidden="true" className="handle with-scripts" /> : handle}
      {Object.entries(row).map(([field, value]) =>
        field === "name" || (beside && field === "definition") ? null : (
          <input key={field} type="hidden" name={name(field)} value={value} />
        ),
      )}
      <textarea
        data-words
        rows={1}
        className="written"
        name={name("name")}
        aria-label={`${one} ${at + 1}`}
        aria-invalid={wrong["name"] ? true : undefined}
        aria-describedby={problems.length > 0 ? says : undefined}
        dir="auto"
        autoComplete="off"
        maxLength={does.maxLength}
        placeholder={isBlank ? (at === 0 ? `the first ${one}` : `another ${one}`) : undefined}
        value={words}
        onChange={({ target }) => set({ name: target.value.replaceAll(/\s*\n\s*/g, " ") })}
        onKeyDown={does.onKeyDown}
        onPaste={(event) => {
          if (does.onPaste(event.clipboardData.getData("text/plain"))) event.preventDefault();
        }}
      />
      {beside?.(line, name, set)}
      {isLast && isBlank ? null : (
        <span className="line-tools with-scripts">
          <button
            type="button"
            className="row-tool"
            aria-label={`Move ${called} up`}
            disabled={at === 0}
            onClick={() => does.move(-1)}
          >
            ↑
          </button>
          <button
            type="button"
            className="row-tool"
            aria-label={`Move ${called} down`}
            disabled={isLast}
            onClick={() => does.move(1)}
          >
            ↓
          </button>
          <button type="button" className="row-tool" aria-label={`Take ${called} out`} onClick={does.remove}>
            ×
          </button>
        </span>
      )}
      {problems.length > 0 ? (
        <p id={says} className="written-problem">
          {problems.join(" ")}
        </p>
      ) : null}
    </li>
  );
}
