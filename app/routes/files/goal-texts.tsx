import { useState } from "react";
import { fitted } from "#core/report/report-text.ts";
import { say } from "#app/ui/say.ts";

/** Copies a text; where the browser does not let us, it is selected so that a key does. */
function CopyButton({ text, of }: { text: string; of: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <button
      type="button"
      className="btn btn-plain btn-sm with-scripts"
      onClick={() =>
        void navigator.clipboard.writeText(text).then(
          () => {
            setCopied(true);
            say(`Copied: ${of}`);
          },
          () => say("The browser does not let the page copy. Select the text and copy it."),
        )
      }
    >
      {copied ? "Copied" : "Copy"}
      <span className="sr-only"> {of}</span>
    </button>
  );
}

/** Each goal as plain text to paste elsewhere, in parts that fit a field there. */
export function GoalTexts({ goals }: { goals: readonly { goalId: string; name: string; text: string }[] }) {
  const [limit, setLimit] = useState("");
  const letters = /^\d{2,6}$/.test(limit) ? Number(limit) : null;
  return (
    <section aria-labelledby="texts" className="mt-4">
      <h2 id="texts" className="font-serif text-[1.15rem] font-semibold">
        To paste
      </h2>
      <label className="with-scripts mt-1 flex flex-wrap items-center gap-2 text-fine">
        A field there takes at most
        <input
          className="input w-24"
          inputMode="numeric"
          value={limit}
          onChange={(event) => setLimit(event.currentTarget.value)}
        />
        characters. Empty: no limit.
      </label>
      <ul className="mt-2 grid gap-3">
        {goals.map(({ goalId, name, text }) => {
          const parts = fitted(text, letters);
          return (
            <li key={goalId} className="border-t border-base-300 pt-2">
              <h3 className="font-bold" dir="auto">
                {name}
              </h3>
              {parts.map((part, at) => {
                const of = parts.length > 1 ? `${name}, part ${at + 1} of ${parts.length}` : name;
                return (
                  <div key={part} className="mt-1 flex flex-wrap items-start gap-2">
                    <textarea
                      className="textarea min-w-64 flex-1 text-fine"
                      readOnly
                      rows={Math.min(12, part.split("\n").length + 1)}
                      value={part}
                      aria-label={of}
                      dir="auto"
                    />
                    <span className="grid gap-1 text-fine text-soft">
                      <CopyButton text={part} of={of} />
                      {parts.length > 1 ? `${at + 1} of ${parts.length} · ` : ""}
                      {part.length} characters
                    </span>
                  </div>
                );
              })}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
