import { type ComponentProps, useId, useState } from "react";
import { timeOfDay } from "#core/words/dates.ts";
import { timeIn, timeProblem } from "#core/words/read-time-of-day.ts";

/**
 * A field for a time of day, written as people write it. Left, it shows the time it was read as, or says what it may mean.
 *
 * @param value `HH:MM`, or what was typed
 * @param onTime what is typed as `HH:MM`, empty where it is no time; without it the field is read by the form's action
 * @param problem what the server said of it; it goes when something else is typed
 * @param onTyped what is typed, letter for letter: `value` is what was typed last
 */
export function TimeInput({
  value,
  onTime,
  onTyped,
  problem: given,
  ...input
}: Omit<ComponentProps<"input">, "value"> & {
  value: string;
  onTime?: (time: string) => void;
  onTyped?: (text: string) => void;
  problem?: string | undefined;
}) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const [isLeft, setLeft] = useState(false);
  const mine = onTyped ? value : typed;
  const shown =
    typed !== null && mine !== null && (!onTime || timeIn(mine) === value) ? mine : timeOfDay(value);
  const [mended, setMended] = useState<string>();
  const problem = (isLeft ? timeProblem(shown) : null) ?? (given === mended ? null : given);
  return (
    <>
      <input
        autoComplete="off"
        {...input}
        value={shown}
        onChange={({ target }) => {
          setTyped(target.value);
          setLeft(false);
          setMended(given);
          onTyped?.(target.value);
          onTime?.(timeIn(target.value));
        }}
        onBlur={() => {
          const time = timeIn(shown);
          if (time) {
            setTyped(timeOfDay(time));
            onTyped?.(timeOfDay(time));
          }
          // Said a moment later: a button on which one just pressed would move away from under the finger.
          setTimeout(() => setLeft(true), 300);
        }}
        {...(problem ? { "aria-invalid": true, "aria-describedby": id } : {})}
      />
      <span id={id} role="alert" className="col-span-full block text-fine font-bold text-error empty:hidden">
        {problem}
      </span>
    </>
  );
}
