import { Link, useFetcher } from "react-router";
import type { NameFind } from "#core/report/names/find-names.ts";

/** A text with the places marked where another student may be named. */
function Marked({ text, finds }: { text: string; finds: readonly NameFind[] }) {
  const ends = finds.map(({ to }) => to);
  return (
    <span dir="auto">
      {finds.map(({ from, to, text: name }, at) => (
        <span key={from}>
          {text.slice(ends[at - 1] ?? 0, from)}
          <mark className="rounded bg-arrival px-1 font-bold">{name}</mark>
          {at === finds.length - 1 ? text.slice(to) : ""}
        </span>
      ))}
    </span>
  );
}

/** Remembers that a word names nobody in this record; what is left is asked for anew. */
function NotAName({ studentId, name: { form, text } }: { studentId: string; name: NameFind }) {
  const fetcher = useFetcher();
  return (
    <button
      type="button"
      className="btn btn-plain btn-sm with-scripts"
      disabled={fetcher.state !== "idle"}
      onClick={() => void fetcher.submit({ studentId, form }, { method: "post", action: "/names" })}
    >
      “{text}” is not a name here
    </button>
  );
}

/** Everything in a report that may name another student: each is corrected at its source, remembered as no name, or kept. */
export function NamesFound({
  studentId,
  names,
  problem,
  field = "kept",
}: {
  studentId: string;
  names: readonly { page: string | null; text: string; finds: readonly NameFind[] }[];
  problem: string | undefined;
  /** The name of the field that says they may stay. */
  field?: string;
}) {
  return (
    <fieldset className="rounded-lg border border-soft px-4 py-2">
      <legend className="px-1 font-bold">These may name another student</legend>
      <ul>
        {names.map(({ page, text, finds }) => (
          <li
            key={`${page ?? ""} ${text}`}
            className="flex flex-wrap items-center gap-2 border-t border-base-300 py-2"
          >
            <span className="min-w-64 flex-1 font-serif">
              <Marked {...{ text, finds }} />
            </span>
            {page ? (
              <Link className="btn btn-plain btn-sm" to={`/students/${studentId}/${page}`}>
                Correct it
              </Link>
            ) : null}
            {[...new Map(finds.map((find) => [find.form, find])).values()].map((find) => (
              <NotAName key={find.form} studentId={studentId} name={find} />
            ))}
          </li>
        ))}
      </ul>
      <label className="flex min-h-11 cursor-pointer items-center gap-2 border-t border-base-300">
        <input
          type="checkbox"
          name={field}
          value="yes"
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `${field}-says` : undefined}
        />
        I looked at each. What is still listed may stay.
      </label>
      {problem ? (
        <p id={`${field}-says`} className="font-bold text-error" role="alert">
          {problem}
        </p>
      ) : null}
    </fieldset>
  );
}
