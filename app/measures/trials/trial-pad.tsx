import { memo } from "react";
import { Whose } from "../whose.tsx";

/** How much of what was planned is still to come. */
export const leftWords = (done: number, planned: number) =>
  done < planned
    ? `${planned - done} left of ${planned}`
    : done === planned
      ? `all ${planned} marked`
      : `${done - planned} more than the ${planned} planned`;

/** The marks so far in their order, and the places left of what was planned. For the eye: the count is said in words. */
function Marks({ marks, planned }: { marks: string; planned: number }) {
  const boxes = Array.from({ length: Math.max(planned, marks.length) }, (_, index) => marks[index]);
  return (
    <ol className="flex flex-wrap gap-1.5" aria-hidden="true">
      {boxes.map((mark, index) => (
        <li
          key={index}
          className={`grid size-7 place-items-center rounded-lg border text-sm font-bold ${mark === "1" ? "border-data bg-data text-base-100" : mark === "0" ? "border-base-content bg-raised" : "border-base-300"}`}
        >
          {mark === "1" ? <span className="tick" /> : mark === "0" ? "–" : ""}
        </li>
      ))}
    </ol>
  );
}

/** How many are correct so far, and how many of the planned are left. */
export function TrialTally({ marks, planned }: { marks: string; planned: number | null }) {
  const correct = marks.replaceAll("0", "").length;
  return (
    <>
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[2.7rem] leading-none font-semibold">{correct}</span>
        <span className="text-lg">of {marks.length} so far</span>
        {planned === null ? null : (
          <span className="ml-auto text-fine text-soft">{leftWords(marks.length, planned)}</span>
        )}
      </p>
      <div className="mt-2">
        <Marks marks={marks} planned={planned ?? 0} />
      </div>
    </>
  );
}

/** Two targets for a thumb: not yet, and correct. */
export const TrialPad = memo(function TrialPad({ mark }: { mark: (value: "0" | "1") => void }) {
  return (
    <div className="thumb-pads with-scripts grid grid-cols-2 gap-2.5">
      <button
        type="button"
        className="pad cursor-pointer border-base-300 bg-raised"
        data-key="0"
        onClick={() => mark("0")}
      >
        <span>
          Not yet
          <Whose />
        </span>{" "}
        <span className="pad-key text-soft">0</span>
      </button>
      <button
        type="button"
        className="pad cursor-pointer border-data bg-data text-base-100"
        data-key="1"
        onClick={() => mark("1")}
      >
        <span>
          Correct
          <Whose />
        </span>{" "}
        <span className="pad-key">1</span>
      </button>
    </div>
  );
});
