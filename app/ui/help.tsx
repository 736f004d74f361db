import { useState } from "react";
import { Link, useFetcher, useLocation } from "react-router";
import { type LetterKeys, letterKeyWays } from "#core/model/letter-keys.ts";
import { setLetterKeys } from "./keys.ts";
import { screens } from "./screen-help.ts";
import { SheetDialog } from "./sheet.tsx";

const general: readonly [keys: string[], does: string][] = [
  [["Ctrl/⌘", "K"], "Find a student, a goal or an action"],
  [["g", "c"], "Caseload"],
  [["g", "t"], "Today: what is due"],
  [["g", "p"], "Progress reports"],
  [["s"], "Start a sitting"],
  [["i"], "Record an incident"],
  [["j"], "Write a jot"],
  [["r"], "Record the open goal"],
];
const inSitting: readonly [keys: string[], does: string][] = [
  [["1", "…", "9"], "In a sitting: mark; 1 is correct, or the first level"],
  [["0"], "In a sitting: not yet, an error, no response"],
  [["space"], "In a sitting: start or stop the clock"],
  [["u"], "In a sitting: undo the last mark"],
  [["→"], "In a sitting: the next goal or student"],
  [["n"], "In a sitting: write a note"],
];
const last: readonly [keys: string[], does: string][] = [[["?"], "This help"]];

const ways: Record<LetterKeys, string> = {
  plain: "as they are",
  alt: "only with Alt (Option)",
  off: "never",
};

/** Where single letters are keys: for who speaks to the computer, or has a hand that slips, they can do nothing (WCAG 2.1.4). */
function LetterKeyChoice({ chosen }: { chosen: LetterKeys }) {
  const { submit } = useFetcher();
  // What was chosen shows at once, and not only once it is on its way.
  const [now, setNow] = useState(chosen);
  return (
    <fieldset className="mt-4 border-t border-base-300 pt-3">
      <legend className="sr-only">Single-letter keys</legend>
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <span className="font-bold">Letters and digits work</span>
        {letterKeyWays.map((way) => (
          <label key={way} className="flex min-h-9 items-center gap-1.5">
            <input
              type="radio"
              name="letterKeys"
              value={way}
              className="size-4.5 accent-primary"
              checked={now === way}
              onChange={() => {
                setNow(way);
                setLetterKeys(way);
                void submit({ letterKeys: way }, { method: "post", action: "/own-settings" });
              }}
            />
            {ways[way]}
          </label>
        ))}
      </p>
      <p className="text-fine text-soft">Saved for your account. They never work while you type.</p>
    </fieldset>
  );
}

/** What this screen is for, and the keys. `letterKeys` is null where there may be no network to save the choice. */
export default function Help({
  letterKeys,
  onClose,
}: {
  letterKeys: LetterKeys | null;
  onClose: () => void;
}) {
  const { pathname, search } = useLocation();
  const screen = screens.find(({ at }) => at.test(pathname + search));
  const keys = pathname === "/record" ? [...inSitting, ...last] : [...general, ...inSitting, ...last];
  return (
    <SheetDialog label="Help" onClose={onClose} isWide>
      <div className="p-6">
        <div className="mb-3 flex items-center justify-between">
          <h2 className="font-serif text-xl font-semibold">Help</h2>
          <button type="button" className="btn btn-plain btn-sm" onClick={onClose}>
            Close
          </button>
        </div>
        <div className="grid gap-x-8 gap-y-5 md:grid-cols-2">
          <section aria-label="This screen">
            <h3 className="font-bold">{screen?.title ?? "This screen"}</h3>
            <ul className="mt-1 list-disc space-y-1.5 pl-5">
              {(screen?.lines ?? ["Find leads to any student, goal or action by a part of its name."]).map(
                (line) => (
                  <li key={line}>{line}</li>
                ),
              )}
            </ul>
            <p className="mt-4 flex flex-wrap gap-2">
              <Link className="btn btn-plain btn-sm" to="/guide" onClick={onClose}>
                The guide
              </Link>
              <Link className="btn btn-plain btn-sm" to="/guide/one-page" onClick={onClose}>
                One page to print
              </Link>
            </p>
          </section>
          <section aria-label="Keys">
            <h3 className="font-bold">Keys</h3>
            <dl className="mt-1 grid grid-cols-[6.5rem_1fr] gap-y-2">
              {keys.map(([chord, does]) => (
                <div key={does} className="contents">
                  <dt className="flex gap-1">
                    {chord.map((key) => (
                      <kbd key={key} className="kbd kbd-sm">
                        {key}
                      </kbd>
                    ))}
                  </dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        </div>
        {letterKeys === null ? null : <LetterKeyChoice chosen={letterKeys} />}
      </div>
    </SheetDialog>
  );
}
