import { isMeasureKind, kinds, measureKinds } from "#core/measures/measure.ts";
import { ChoiceField, TextBox, TextField, Tick, useSetUp } from "./fields.tsx";
import { lines, mostRows } from "./read-set-up.ts";

export interface LadderChoice {
  ladderId: string;
  name: string;
  levels: string[];
  misses: string[];
}

const kindOptions = [
  ["", "Choose …"] as const,
  ...measureKinds.map((kind) => [kind, kinds[kind].name] as const),
];

/** The prompt ladder of a goal: the school's, or one of its own. */
function LadderFields({ ladders, misses }: { ladders: readonly LadderChoice[]; misses: boolean }) {
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
            <option value="">one of this goal’s own</option>
            {ladders.map(({ ladderId, name }) => (
              <option key={ladderId} value={ladderId}>
                {name}
              </option>
            ))}
          </select>
          <p className="mt-1 text-fine text-soft">
            The school’s own order. No order is standard: look at it.
          </p>
        </div>
        <ChoiceField
          name="credited"
          label="Credited up to"
          options={levels.map((level, index) => [level, index === 0 ? level : `${level} or less help`])}
        />
      </div>
      <div className="grid grid-cols-2 gap-3">
        <TextBox
          name="levels"
          label="Levels, least to most help"
          rows={5}
          hint="One a line, the first is independent."
        />
        <TextBox name="misses" label="Misses" rows={5} hint="No response, refused: kept as themselves." />
      </div>
      {misses && missList.length > 0 ? (
        <div>
          <p className="text-fine font-bold">Leave out of the opportunities</p>
          <div className="flex flex-wrap gap-x-5">
            {missList.map((miss, index) => (
              <Tick key={miss} name={`leaveOut.${index}`} label={miss} />
            ))}
          </div>
          <p className="text-fine text-soft">What is left out is shown beside the figure that counts it.</p>
        </div>
      ) : null}
    </>
  );
}

/** Rows that grow: one more is always open. */
function useRows(prefix: string): number[] {
  const { values } = useSetUp();
  const used = Array.from({ length: mostRows }, (_, row) => row).filter(
    (row) => values[`${prefix}.${row}.label`],
  );
  return Array.from({ length: Math.min(mostRows, Math.max(2, (used.at(-1) ?? -1) + 2)) }, (_, row) => row);
}

/** What a row is known by in the entries, however its name changes. */
function KeptId({ name }: { name: string }) {
  const { values } = useSetUp();
  return values[name] ? <input type="hidden" name={name} value={values[name]} /> : null;
}

function RubricFields() {
  const { problems } = useSetUp();
  return (
    <div className="grid gap-3">
      {useRows("criterion").map((row) => (
        <div key={row} className="grid grid-cols-[1fr_5rem_1.4fr] gap-3 max-sm:grid-cols-[1fr_5rem]">
          <KeptId name={`criterion.${row}.id`} />
          <TextField name={`criterion.${row}.label`} label={`Criterion ${row + 1}`} />
          <TextField name={`criterion.${row}.max`} label="Highest" numeric />
          <TextBox
            name={`criterion.${row}.levels`}
            label="Wording of each level"
            rows={2}
            className="max-sm:col-span-2"
            {...(row === 0 ? { hint: "One a line, from the lowest; may be left empty." } : {})}
          />
        </div>
      ))}
      {problems["criteria"] ? <p className="text-fine font-bold text-error">{problems["criteria"]}</p> : null}
    </div>
  );
}

function OutcomesFields() {
  const { problems } = useSetUp();
  return (
    <div className="grid gap-3">
      {useRows("outcome").map((row) => (
        <div key={row} className="grid grid-cols-[1fr_7rem] gap-3">
          <KeptId name={`outcome.${row}.id`} />
          <TextField name={`outcome.${row}.label`} label={`Outcome ${row + 1}`} />
          <TextField name={`outcome.${row}.credit`} label="Credit, %" numeric />
        </div>
      ))}
      <p className="text-fine text-soft">“Something else” is always there: noted in words, not scored.</p>
      {problems["outcomes"] ? <p className="text-fine font-bold text-error">{problems["outcomes"]}</p> : null}
    </div>
  );
}

const parts = {
  skills: ["The sub-skills", "One a line. Each is marked with one prompt level."],
  checklist: ["The items", "One a line: letters, words, tools. A pasted list is fine."],
  steps: ["The steps in their order", "One a line, as the task analysis has them."],
} as const;

/** How the goal is measured: the kind, and what that kind needs to know. */
export function MeasureFields({ ladders }: { ladders: readonly LadderChoice[] }) {
  const { values } = useSetUp();
  const kind = values["kind"] ?? "";
  return (
    <>
      <ChoiceField
        name="kind"
        label="Kind"
        options={kindOptions}
        hint={isMeasureKind(kind) ? kinds[kind].when : "The wording does not say how it is measured."}
      />
      {kind === "skills" || kind === "checklist" || kind === "steps" ? (
        <TextBox name="parts" label={parts[kind][0]} hint={parts[kind][1]} rows={7} maxLength={70_000} />
      ) : null}
      {kind === "steps" ? (
        <ChoiceField
          name="teaching"
          label="Taught by"
          options={[
            ["", "not said"],
            ["forward", "forward chaining: the first open step next"],
            ["backward", "backward chaining: the last open step next"],
            ["total-task", "total task: every step each time"],
          ]}
        />
      ) : null}
      {kind === "supports" || kind === "skills" || kind === "steps" ? (
        <LadderFields ladders={ladders} misses={kind === "supports"} />
      ) : null}
      {kind === "trials" || kind === "supports" ? (
        <TextField name="planned" label="Opportunities in one probe" numeric className="w-56" />
      ) : null}
      {kind === "count" ? (
        <div className="grid grid-cols-2 gap-3">
          <ChoiceField
            name="per"
            label="Reported"
            options={[
              ["observation", "as a count"],
              ["minute", "per minute observed"],
              ["hour", "per hour observed"],
            ]}
          />
          <TextField name="counted" label="What is counted" hint="In the plural: call-outs, turns." />
        </div>
      ) : null}
      {kind === "duration" ? (
        <ChoiceField
          name="report"
          label="Reported"
          className="w-72 max-w-full"
          options={[
            ["total", "all bouts together"],
            ["longest", "the longest bout"],
            ["mean", "a bout on average"],
            ["share", "share of the time observed"],
          ]}
        />
      ) : null}
      {kind === "latency" ? (
        <div className="grid grid-cols-2 gap-3">
          <ChoiceField
            name="report"
            label="Reported"
            options={[
              ["within", "how often within a time"],
              ["median", "the median delay"],
              ["mean", "the mean delay"],
            ]}
          />
          {(values["report"] || "within") === "within" ? (
            <TextField name="within" label="In time is within" hint="30 s, 2 min." />
          ) : null}
        </div>
      ) : null}
      {kind === "intervals" ? (
        <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
          <ChoiceField
            name="method"
            label="Method"
            options={[
              ["momentary", "momentary time sampling"],
              ["partial", "partial interval"],
              ["whole", "whole interval"],
            ]}
          />
          <TextField name="interval" label="Each lasts" hint="10 s, 1 min." />
          <TextField name="planned" label="How many" numeric />
        </div>
      ) : null}
      {kind === "fluency" ? (
        <div className="grid grid-cols-2 gap-3">
          <ChoiceField
            name="counted"
            label="Counted"
            options={[
              ["words", "words"],
              ["letters", "letters"],
              ["sounds", "sounds"],
              ["digits", "digits"],
            ]}
          />
          <TextField name="length" label="One reading lasts" hint="1 min unless said." />
        </div>
      ) : null}
      {kind === "rubric" ? <RubricFields /> : null}
      {kind === "outcomes" ? <OutcomesFields /> : null}
      {kind === "running-total" ? (
        <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
          <TextField name="target" label="Target" numeric />
          <TextField name="unit" label="Of what" hint="Minutes, books, hours." />
          <ChoiceField
            name="startsAgain"
            label="Starts again"
            options={[
              ["", "never"],
              ["week", "each week"],
              ["month", "each month"],
            ]}
          />
        </div>
      ) : null}
    </>
  );
}
