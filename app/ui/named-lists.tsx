import { v7 as newId } from "uuid";
import type { ReactNode } from "react";
import { type Line, useWrittenRows } from "#app/kit/use-written-rows.ts";
import type { Problems } from "./form-data.ts";
import { Sortable, useSortableLine } from "./sortable.tsx";
import { rowName, standsName } from "./typed-rows.ts";
import { useAwake } from "./use-awake.ts";

interface NamedListsProps {
  prefix: string;
  /** What one of them is called: "ladder". */
  one: string;
  /** The field of its id. */
  idField: string;
  maxLength?: number;
  /** Those that are there, in their order. */
  there: readonly { id: string; name: string }[];
  typed: Readonly<Record<string, string>> | undefined;
  problems: Problems;
  /** The lists of one of them; its id is empty for the one that is not begun. */
  children: (id: string) => ReactNode;
}

function NamedList({
  line,
  at,
  isBlank,
  isThere,
  set,
  prefix,
  one,
  idField,
  maxLength,
  children,
}: Omit<NamedListsProps, "there" | "typed" | "problems"> & {
  line: Line;
  at: number;
  isBlank: boolean;
  isThere: boolean;
  set: (part: Readonly<Record<string, string>>) => void;
}) {
  const { row, wrong } = line;
  const id = row[idField] ?? "";
  const name = row["name"] ?? "";
  const isRetired = row["retired"] === "yes";
  const { ref, isDragging, handle } = useSortableLine(line.key, name || `new ${one}`);
  // Without scripts the lists of a new one stand there from the beginning.
  const awake = useAwake();
  const field = (of: string) => rowName(prefix, at, of);
  return (
    <li ref={ref} className={`border-t border-base-300 bg-base-100 pt-3 pb-5 ${isDragging ? "is-held" : ""}`}>
      <div role="group" aria-label={name || `${one} without a name`}>
        <input type="hidden" name={field(idField)} value={id} />
        <div className="flex items-end gap-2">
          {isBlank ? <span aria-hidden="true" className="handle with-scripts" /> : handle}
          <input
            className={`written max-w-md border-b border-soft font-serif text-[1.05rem] font-semibold ${isRetired ? "line-through" : ""}`}
            name={field("name")}
            aria-label={isBlank ? `New ${one}` : `Name of ${one} ${at + 1}`}
            aria-invalid={wrong["name"] ? true : undefined}
            aria-describedby={wrong["name"] ? `${prefix}-${at}-says` : undefined}
            placeholder={`another ${one}: give it a name`}
            maxLength={maxLength}
            dir="auto"
            value={name}
            onChange={({ target }) => set({ name: target.value, [idField]: id || newId() })}
          />
          {isThere ? (
            <label className="ml-auto flex min-h-9 items-center gap-2 text-fine">
              <input
                type="checkbox"
                name={field("retired")}
                value="yes"
                checked={isRetired}
                onChange={({ target }) => set({ retired: target.checked ? "yes" : "" })}
              />
              no longer offered
            </label>
          ) : null}
        </div>
        {wrong["name"] ? (
          <p id={`${prefix}-${at}-says`} className="text-fine font-bold text-error">
            {wrong["name"]}
          </p>
        ) : null}
        {isBlank && awake ? null : (
          <div className="mt-3 pl-9 max-sm:pl-0" hidden={isRetired}>
            {children(id)}
          </div>
        )}
      </div>
    </li>
  );
}

/** Lists that have a name each, in an order: ladders with their levels, categories with theirs. */
export function NamedLists({ there, typed, problems, ...names }: NamedListsProps) {
  const { prefix, one, idField } = names;
  const rows = useWrittenRows(prefix, {
    rows: there.map(({ id, name }) => ({ [idField]: id, name, retired: "" })),
    ...{ blank: { [idField]: "", name: "", retired: "" }, typed, problems },
  });
  const { lines } = rows;
  return (
    <Sortable
      id={prefix}
      ids={lines.map(({ key }) => key)}
      nameOf={(key) => lines.find((line) => line.key === key)?.row["name"] || `new ${one}`}
      onMove={rows.move}
    >
      <input
        type="hidden"
        name={standsName(prefix)}
        value={rows.from.map((row) => row[idField] ?? "").join("\n")}
      />
      <ol className="mt-2" {...rows.around}>
        {lines.map((line, at) => (
          <NamedList
            key={line.key}
            {...{ ...names, line, at }}
            isBlank={rows.isBlank(line.row)}
            isThere={there.some(({ id }) => id === line.row[idField])}
            set={(part) => rows.set(line.key, part)}
          />
        ))}
      </ol>
    </Sortable>
  );
}
