import type { PromptLevelsMeasure } from "#core/measures/prompt-levels/prompt-levels.ts";
import { ladderMarks } from "#core/measures/ladder.ts";
import { mark } from "#app/recording/sitting/use-sitting.ts";
import type { PadProps } from "../pad.ts";
import { leftWords } from "../trials/trial-pad.tsx";
import { Whose } from "../whose.tsx";

/** One button a level: each touch is one opportunity; what is left of the planned number is always in view. */
export function PromptLevelsPad({ measure, sheet, store }: PadProps<PromptLevelsMeasure>) {
  const levels = sheet.marks.filter(({ on }) => on === "level").map(({ value }) => Number(value));
  const { planned, goalId } = sheet.goal;
  return (
    <div className="grid gap-2">
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[2rem] leading-none font-semibold">{levels.length}</span>
        <span>{levels.length === 1 ? "opportunity" : "opportunities"}</span>
        {planned === null ? null : (
          <span className="ml-auto text-fine text-soft">{leftWords(levels.length, planned)}</span>
        )}
      </p>
      <ul className="grid gap-2">
        {ladderMarks(measure).map((name, index) => {
          const count = levels.filter((level) => level === index).length;
          return (
            <li key={name} className={name === measure.credited ? "credit-ends" : undefined}>
              <button
                type="button"
                data-key={index < 9 ? index + 1 : undefined}
                className={`mark level-pad ${index >= measure.levels.length ? "mark-miss" : ""}`}
                onClick={() => mark(store, goalId, "level", String(index))}
              >
                <span className="text-fine opacity-70">{index < 9 ? index + 1 : ""}</span>
                <span>
                  <span dir="auto">{name}</span>
                  <Whose />
                </span>
                <span className="ml-auto font-serif text-xl" aria-label={`${count} so far`}>
                  {count || ""}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}
