import { Field } from "#app/ui/field.tsx";
import { partChoices } from "./part-words.ts";

/** What people are brought in for, from which day, and until when. */
export function GivenPartFields({
  today,
  typed,
  problems,
}: {
  today: string;
  typed: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
}) {
  return (
    <>
      <fieldset className="min-w-0">
        <legend className="text-fine font-bold">What they may do</legend>
        {partChoices.map(([value, label, means], at) => (
          <label key={value} className="flex cursor-pointer items-start gap-2 py-1">
            <input
              type="radio"
              name="circleRole"
              value={value}
              className="mt-1"
              defaultChecked={typed?.["circleRole"] ? typed["circleRole"] === value : at === 0}
            />
            <span>
              {label}
              <span className="block text-fine text-soft">{means}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <div className="grid grid-cols-2 gap-3">
        <Field
          label="From"
          name="fromOn"
          type="date"
          defaultValue={typed?.["fromOn"] ?? today}
          problem={problems["fromOn"]}
        />
        <Field
          label="Last day"
          name="toOn"
          type="date"
          defaultValue={typed?.["toOn"] ?? ""}
          problem={problems["toOn"]}
        />
      </div>
      <p className="text-fine text-soft">Leave the last day empty for a part without an end.</p>
    </>
  );
}
