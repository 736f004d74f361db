import { useId } from "react";
import { timeProblem } from "#core/words/read-time-of-day.ts";
import { TimeInput } from "./time-input.tsx";

/** The two parts of a moment as it was typed: `YYYY-MM-DDTHH:MM`, or whatever stands for its time. */
const partsOf = (moment: string) => {
  const at = moment.indexOf("T");
  return at < 0 ? { on: moment, time: "" } : { on: moment.slice(0, at), time: moment.slice(at + 1) };
};

/**
 * A day and a time of day, the time written as people write it. The form sends `name.date` and `name.time`, which its action reads as
 * one value under `name`: the date, `T`, and the time as typed.
 *
 * @param value `YYYY-MM-DDTHH:MM`, or what was typed
 * @param onMoment is told the two together; without it the fields are read by the form's action
 */
export function WhenFields({
  label,
  name,
  value,
  onMoment,
  problem,
  max,
}: {
  label: string;
  name: string;
  value: string;
  onMoment?: (moment: string) => void;
  problem?: string | undefined;
  /** The last day that can be meant. */
  max?: string;
}) {
  const id = useId();
  const { on, time } = partsOf(value);
  const isOfTime = problem !== undefined && problem === timeProblem(time);
  const wrong = problem && !isOfTime ? { "aria-invalid": true, "aria-describedby": `${id}-says` } : {};
  return (
    <div role="group" aria-labelledby={id} className="min-w-0">
      <span id={id} className="mb-1 block text-fine font-bold">
        {label}
      </span>
      <div className="grid grid-cols-[minmax(10rem,1fr)_7rem] items-start gap-2">
        <input
          type="date"
          className="input w-full"
          name={`${name}.date`}
          aria-label="Date"
          {...(max ? { max } : {})}
          {...(onMoment
            ? { value: on, onChange: ({ target }) => onMoment(`${target.value}T${time}`) }
            : { defaultValue: on })}
          {...wrong}
        />
        <TimeInput
          className="input w-full"
          name={`${name}.time`}
          aria-label="Time"
          value={time}
          problem={isOfTime ? problem : undefined}
          {...(onMoment ? { onTyped: (typed: string) => onMoment(`${on}T${typed}`) } : {})}
        />
      </div>
      {problem && !isOfTime ? (
        <p id={`${id}-says`} className="mt-1 text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
    </div>
  );
}
