import { useState } from "react";
import { dateWithYear } from "#core/words/dates.ts";
import type { Link } from "#server/auth/links.ts";
import { QrSquare } from "#app/ui/qr-square.tsx";

/** A link as the page shows it once. */
export interface HandedLink {
  name: string;
  email: string;
  url: string;
  /** The last day it can be used, `YYYY-MM-DD`. */
  until: string;
  qr: { size: number; path: string };
}

/** The name of the person a link is for, and what their page needs of it. */
export const handed = ({ url, whom }: Link, qr: HandedLink["qr"]): HandedLink => ({
  ...{ url, qr, email: whom.email, until: whom.lastDay },
  name: [whom.givenName, whom.familyName].filter(Boolean).join(" ") || whom.email,
});

function Copy({ text, whose }: { text: string; whose: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <button
      type="button"
      className="with-scripts btn btn-plain btn-sm no-print"
      onClick={() =>
        void navigator.clipboard.writeText(text).then(
          () => setCopied(true),
          () => undefined,
        )
      }
    >
      {copied ? "Copied" : "Copy the link"}
      <span className="sr-only"> for {whose}</span>
    </button>
  );
}

/** Links to hand over: to copy, and as a square that a phone reads. They are shown here once, and on paper if they are printed. */
export function HandedLinks({ links, mails }: { links: readonly HandedLink[]; mails: boolean }) {
  return (
    <section aria-labelledby="links" className="mb-8 max-w-4xl">
      <div role="status">
        <h2 id="links" className="text-lg font-bold">
          {mails
            ? links.length === 1
              ? "The link is on its way, and here it is"
              : `${links.length} links are on their way, and here they are`
            : "Hand over"}
        </h2>
      </div>
      <p className="no-print text-fine text-soft">
        Each link is for one person and can be used once. It is shown only now: copy it, let the person’s
        phone read the square, or print this page.
      </p>
      <ul className="mt-2">
        {links.map(({ name, email, url, until, qr }) => (
          <li
            key={url}
            className="flex break-inside-avoid flex-wrap items-center gap-x-5 gap-y-2 border-b border-base-300 py-3"
          >
            <QrSquare
              qr={qr}
              className="size-32"
              label={`The link for ${name} as a square to read with a phone`}
            />
            <div className="min-w-0 flex-1 basis-64">
              <p>
                <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                  {name}
                </b>{" "}
                <span className="text-fine text-soft">
                  {email}, until {dateWithYear(until)}
                </span>
              </p>
              <p className="mt-1 text-fine break-all select-all">{url}</p>
            </div>
            <Copy text={url} whose={name} />
          </li>
        ))}
      </ul>
    </section>
  );
}
