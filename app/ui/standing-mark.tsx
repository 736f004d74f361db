import type { Standing, StandingKey } from "#core/progress/standing.ts";

/** A shape for each standing, so that color is never alone. Drawn in a 16 × 16 box. */
function Shape({ standing }: { standing: StandingKey }) {
  switch (standing) {
    case "met":
      return (
        <g fill="none" stroke="currentColor" strokeWidth="2" strokeLinecap="round" strokeLinejoin="round">
          <circle cx="8" cy="8" r="6.5" />
          <path d="M5 8.4 7.2 10.6 11.2 5.8" />
        </g>
      );
    case "reached":
      return (
        <g fill="none" stroke="currentColor" strokeWidth="2">
          <circle cx="8" cy="8" r="6.5" />
          <circle cx="8" cy="8" r="2.6" fill="currentColor" stroke="none" />
        </g>
      );
    case "lost":
      return (
        <g fill="none" stroke="currentColor" strokeWidth="2" strokeLinecap="round">
          <circle cx="8" cy="8" r="6.5" />
          <path d="M5 11 11 5" />
        </g>
      );
    case "new-phase":
      return (
        <g fill="currentColor">
          <path d="M4.2 1.5h1.9v3H4.2Zm0 4.9h1.9v3H4.2Zm0 4.9h1.9v3H4.2Z" />
          <circle cx="11" cy="8" r="2.3" />
        </g>
      );
    case "past-due":
      return (
        <g fill="none" stroke="currentColor" strokeWidth="2" strokeLinejoin="round" strokeLinecap="round">
          <path d="M8 1.6 14.4 8 8 14.4 1.6 8Z" />
          <path d="M8 5.4V8" />
        </g>
      );
    case "ahead":
      return <path d="M8 2.5 14.5 13h-13Z" fill="currentColor" />;
    case "on":
      return <rect x="1.5" y="6.4" width="13" height="3.4" rx="1" fill="currentColor" />;
    case "behind":
      return <path d="M8 13.5 1.5 3h13Z" fill="currentColor" />;
    case "too-few":
      return (
        <circle
          cx="8"
          cy="8"
          r="5.7"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          strokeDasharray="2.2 2.3"
        />
      );
    case "no-line":
      return (
        <path
          d="M2 10.5C4.5 4 6.5 4 8 8s3.5 4 6-2.5"
          fill="none"
          stroke="currentColor"
          strokeWidth="2"
          strokeLinecap="round"
        />
      );
  }
}

const tones: Record<StandingKey, string> = {
  met: "text-primary",
  reached: "text-primary",
  lost: "text-behind",
  "new-phase": "text-base-content",
  "past-due": "text-behind",
  ahead: "text-primary",
  on: "text-base-content",
  behind: "text-behind",
  "too-few": "text-soft",
  "no-line": "text-soft",
};

const briefWords: Record<StandingKey, string> = {
  met: "met",
  reached: "reached",
  lost: "no longer met",
  "new-phase": "new phase",
  "past-due": "past due",
  ahead: "ahead",
  on: "on",
  behind: "behind",
  "too-few": "too few",
  "no-line": "no line",
};

/** Where a goal stands, by shape and word; the word in one or two where there is no room for more. */
export function StandingMark({
  standing,
  brief = false,
}: {
  standing: Pick<Standing, "key" | "word">;
  brief?: boolean;
}) {
  return (
    <span className={`inline-flex items-baseline whitespace-nowrap ${brief ? "gap-1" : "gap-2"}`}>
      <svg
        viewBox="0 0 16 16"
        className={`size-[0.8125rem] shrink-0 self-center ${tones[standing.key]}`}
        aria-hidden="true"
      >
        <Shape standing={standing.key} />
      </svg>
      {brief ? (
        <>
          <span aria-hidden="true">{briefWords[standing.key]}</span>
          <span className="sr-only">{standing.word}</span>
        </>
      ) : (
        <span className="font-bold">{standing.word}</span>
      )}
    </span>
  );
}
