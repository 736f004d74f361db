import { useEffect, useEffectEvent, useState } from "react";
import type { Problems } from "#app/ui/form-data.ts";
import { rowsIn, type TypedRow } from "#app/ui/typed-rows.ts";
import { useAwake } from "#app/ui/use-awake.ts";
import { ownDraft, useKeptForm } from "./kept-form.tsx";
import { forgetDraft, keepDraft, partOf, readDraft } from "./tab-draft.ts";

/** One row of a list that is being written: its fields as typed, and what is wrong with them. */
export interface Line {
  /** Stays with the row wherever it is moved to. */
  key: string;
  row: TypedRow;
  wrong: Readonly<Record<string, string>>;
}

interface Options {
  /** What stands: field by field, as typed. */
  rows: readonly TypedRow[];
  /** What an empty row begins with. One always stands at the end, for what comes next; null where the rows are only put in order. */
  blank: TypedRow | null;
  /** What was typed when the form came back with a problem, where scripts were not there to remember it. */
  typed: Readonly<Record<string, string>> | undefined;
  problems: Problems;
}

const none: Problems = {};
let made = 0;
const newKey = () => `line ${(made += 1)}`;

/** Do two rows hold the same in each field? What is not there is empty. */
export const sameRow = (a: TypedRow, b: TypedRow) =>
  [...new Set([...Object.keys(a), ...Object.keys(b)])].every(
    (field) => (a[field] ?? "") === (b[field] ?? ""),
  );

/** What is wrong with the row at a place, field by field. */
function problemsAt(problems: Problems, prefix: string, place: number): Record<string, string> {
  const start = `${prefix}.${place}.`;
  return Object.fromEntries(
    Object.entries(problems).flatMap(([name, problem]) =>
      name.startsWith(start) && problem ? [[name.slice(start.length), problem]] : [],
    ),
  );
}

const areRows = (left: unknown): left is TypedRow[] =>
  Array.isArray(left) &&
  left.length <= 500 &&
  left.every(
    (row) =>
      typeof row === "object" &&
      row !== null &&
      Object.values(row as object).every((text) => typeof text === "string"),
  );

/** Rows as a draft has them, and what stood when they were begun. */
interface Left {
  rows: TypedRow[];
  from: TypedRow[];
}
const isLeft = (left: unknown): left is Left =>
  typeof left === "object" &&
  left !== null &&
  "rows" in left &&
  areRows(left.rows) &&
  "from" in left &&
  areRows(left.from);

/**
 * The rows of a form in the order their person gives them. They are stored for this tab as they change, under the draft of the form
 * around them; what the server has takes their place once the form is saved, and where nothing was changed.
 *
 * @param prefix of the names of their fields
 */
export function useWrittenRows(prefix: string, { rows: there, blank, typed, problems: given }: Options) {
  const problems = Object.keys(given).length === 0 ? none : given;
  const kept = useKeptForm();
  const isBlank = (row: TypedRow) => blank !== null && sameRow(row, blank);
  const withBlank = (lines: readonly Line[]): readonly Line[] =>
    blank === null || (lines.length > 0 && isBlank(lines.at(-1)?.row ?? {}))
      ? lines
      : [...lines, { key: newKey(), row: blank, wrong: {} }];
  /** Lines of these rows. A line that stands at its place stays itself, so that what is being done in it goes on. */
  const linesOf = (rows: readonly TypedRow[], before: readonly Line[] = [], wrong: Problems = {}) =>
    withBlank(
      rows.map((row, at) => ({
        key: before[at]?.key ?? newKey(),
        row,
        wrong: problemsAt(wrong, prefix, at),
      })),
    );
  const stands = JSON.stringify(there);
  const [lines, setLines] = useState<readonly Line[]>(() =>
    linesOf(typed ? rowsIn(typed, prefix).map(({ row }) => row) : there, [], problems),
  );
  const [gone, setGone] = useState<readonly { line: Line; at: number }[]>([]);
  const [from, setFrom] = useState(there);
  const [seen, setSeen] = useState({ stands, sends: kept.sends, saves: kept.saves, problems, sent: "" });
  const written = lines.filter(({ row }) => !isBlank(row)).map(({ row }) => row);
  const isChanged = JSON.stringify(written) !== JSON.stringify(from);
  const { sends, saves } = kept;
  const isSaved = seen.saves !== saves;
  if (seen.stands !== stands || seen.sends !== sends || isSaved || seen.problems !== problems) {
    const now = JSON.stringify(written);
    setSeen({ stands, sends, saves, problems, sent: seen.sends === sends ? seen.sent : now });
    // What was typed while the form was on its way stays, on top of what was saved.
    if (isSaved && now !== seen.sent) setFrom(there);
    else if (isSaved || (seen.stands !== stands && !isChanged)) {
      setLines(linesOf(there, lines));
      setFrom(there);
      setGone([]);
    } else if (seen.problems !== problems)
      setLines(lines.map((line, at) => ({ ...line, wrong: problemsAt(problems, prefix, at) })));
  }

  const awake = useAwake();
  const draft = kept.name === null ? null : partOf(kept.name, prefix);
  const [read, setRead] = useState<string | null>(null);
  const restore = useEffectEvent((name: string) => {
    const left = readDraft(name);
    // What the server gave back is newer.
    if (typed || !isLeft(left) || JSON.stringify(left.rows) === stands) return;
    setLines(linesOf(left.rows));
    setFrom(left.from);
    kept.goesOn();
  });
  useEffect(() => {
    if (!awake || draft === null) return;
    restore(draft);
    setRead(draft);
  }, [awake, draft]);
  useEffect(() => {
    if (read === null) return;
    if (isChanged) keepDraft(read, { rows: written, from });
    else forgetDraft(read);
  });

  const change = (next: readonly Line[]) => {
    kept.touch();
    setLines(withBlank(next));
  };
  return {
    lines,
    isBlank,
    /** What stood when these rows were begun: what others added since is not theirs to take out. */
    from,
    /** For the element around the rows. */
    around: ownDraft,
    set: (key: string, part: TypedRow) =>
      change(
        lines.map((line) => {
          if (line.key !== key) return line;
          const wrong = Object.entries(line.wrong).filter(([field]) => !(field in part));
          return { ...line, row: { ...line.row, ...part }, wrong: Object.fromEntries(wrong) };
        }),
      ),
    /** Puts rows in after the line at a place; answers their keys. */
    insert: (after: number, rows: readonly TypedRow[]): string[] => {
      const fresh = rows.map((row) => ({ key: newKey(), row, wrong: {} }));
      change([...lines.slice(0, after + 1), ...fresh, ...lines.slice(after + 1)]);
      return fresh.map(({ key }) => key);
    },
    /** Puts rows at the end, before the empty line. */
    append: (rows: readonly TypedRow[]) =>
      change([
        ...lines.filter(({ row }) => !isBlank(row)),
        ...rows.map((row) => ({ key: newKey(), row, wrong: {} })),
      ]),
    remove: (key: string) => {
      const at = lines.findIndex((line) => line.key === key);
      const line = lines[at];
      if (!line) return;
      if (!isBlank(line.row)) setGone([...gone, { line, at }]);
      change(lines.filter((one) => one.key !== key));
    },
    move: (from: number, to: number) => {
      const next = [...lines];
      next.splice(to, 0, ...next.splice(from, 1));
      change(next);
    },
    /** What was taken out last and is not saved yet. */
    gone: gone.at(-1)?.line ?? null,
    putBack: () => {
      const last = gone.at(-1);
      if (!last) return;
      setGone(gone.slice(0, -1));
      change([...lines.slice(0, last.at), last.line, ...lines.slice(last.at)]);
    },
  };
}

export type Rows = ReturnType<typeof useWrittenRows>;
