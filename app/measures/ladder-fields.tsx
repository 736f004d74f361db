import { creditedHelp } from "#core/words/en/credited.ts";
import { lines } from "#app/ui/lines.ts";
import { ChoiceField, TextBox, Tick, useSetUp } from "../goal-set-up/fields.tsx";

interface LadderChoice {
  ladderId: string;
  name: string;
  levels: string[];
  misses: string[];
}

/** What the fields of a measure are given: the ladders of the school. */
export interface MeasureFieldsProps {
  ladders: readonly LadderChoice[];
}

/** The prompt ladder of a goal: the school's, or one of its own. */
export function LadderFields({ ladders, misses }: MeasureFieldsProps & { misses: boolean }) {
  const { values, set } = useSetUp();
  const levels = lines(values["levels"]);
  const missList = lines(values["misses"]);
  const chosen = ladders.find(
    (ladder) =>
      ladder.levels.join("\n") === levels.join("\n") && ladder.misses.join("\n") === missList.join("\n"),
  );
  return (
    <>
      <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
        <div>
          <label className="mb-1 block text-fine font-bold" htmlFor="ladder">
            Prompt ladder
          </label>
          <select
            id="ladder"
            className="select w-full"
            value={chosen?.ladderId ?? ""}
            onChange={({ target }) => {
              const ladder = ladders.find(({ ladderId }) => ladderId === target.value);
              if (!ladder) return;
              set("levels", ladder.levels.join("\n"));
              set("misses", ladder.misses.join("\n"));
              set("credited", ladder.levels[0] ?? "");
            }}
          >
            <option value="">custom, for this goal only</option>
            {ladders.map(({ ladderId, name }) => (
              <option key={ladderId} value={ladderId}>
                {name}
              </option>
            ))}
          </select>
          <p className="mt-1 text-fine text-soft">
            Your school’s order. There is no standard order: check it.
          </p>
        </div>
        <ChoiceField
          name="credited"
          label="Credited up to"
          options={levels.map((level, index) => [level, creditedHelp({ level, isFirst: index === 0 })])}
        />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <TextBox
          name="levels"
          label="Levels, least to most help"
          rows={5}
          hint="One per line, independent first."
        />
        <TextBox
          name="misses"
          label="Misses"
          rows={5}
          hint="“No response” and “refused” are recorded separately."
        />
      </div>
      {misses && missList.length > 0 ? (
        <div>
          <p className="text-fine font-bold">Do not count as opportunities</p>
          <div className="flex flex-wrap gap-x-5">
            {missList.map((miss, index) => (
              <Tick key={miss} name={`leaveOut.${index}`} label={miss} />
            ))}
          </div>
          <p className="text-fine text-soft">The figure shows how many were not counted.</p>
        </div>
      ) : null}
    </>
  );
}
