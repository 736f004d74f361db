import { useState } from "react";
import { isFlagged } from "#core/incidents/missing-facts.ts";
import type { ChoiceList } from "#core/model/choice-lists.ts";
import type { PackedStudent, RecordingPack } from "#core/sync/pack.ts";
import { ChoiceColumn } from "./choice-column.tsx";
import type { IncidentFacts } from "./draft.ts";
import { More } from "./more.tsx";
import { When } from "./when.tsx";

export type IncidentSchool = Pick<RecordingPack, "timeZone" | "timetable" | "incidents" | "colleagues">;
export type IncidentStudent = Pick<PackedStudent, "studentId" | "screenName" | "choices" | "asksWhy">;

/** How many things the folded part says already. */
function saidMore({ details, chosen }: IncidentFacts): number {
  const { length, intensity, resolved, functions, adults, peers, harm } = details;
  return [
    length !== null,
    intensity !== null,
    resolved !== null,
    functions.length > 0,
    adults.length > 0,
    peers > 0,
    isFlagged(harm),
    chosen["setting event"].length > 0,
  ].filter(Boolean).length;
}

/** One incident on one screen: when, where, just before, what the student did, right after; the rest behind one touch. */
export function IncidentFields({
  facts,
  student,
  school,
  now,
  clocked = true,
  onChange,
}: {
  facts: IncidentFacts;
  student: IncidentStudent;
  school: IncidentSchool;
  now: number;
  clocked?: boolean;
  onChange: (part: Partial<IncidentFacts>) => void;
}) {
  const [more, setMore] = useState(!clocked || saidMore(facts) > 0 || facts.note !== "");
  const { chosen, details, clock } = facts;
  const offered = (list: ChoiceList) => student.choices.filter((one) => one.list === list);
  const choose = (list: ChoiceList) => (next: IncidentFacts["chosen"][ChoiceList]) =>
    onChange({ chosen: { ...chosen, [list]: next } });
  const said = saidMore(facts);
  return (
    <>
      <When facts={facts} school={school} now={now} clocked={clocked} onChange={onChange} />
      <div className="choice-place">
        <div className="choice-columns">
          <ChoiceColumn
            label="Where"
            hint="one place"
            single
            offered={offered("setting")}
            chosen={chosen.setting}
            onChoose={choose("setting")}
          />
          <ChoiceColumn
            label="Just before"
            offered={offered("antecedent")}
            chosen={chosen.antecedent}
            onChoose={choose("antecedent")}
          />
          <ChoiceColumn
            label={`What ${student.screenName} did`}
            offered={offered("behavior")}
            chosen={chosen.behavior}
            onChoose={choose("behavior")}
          />
          <ChoiceColumn
            label="Right after"
            offered={offered("consequence")}
            chosen={chosen.consequence}
            onChoose={choose("consequence")}
          />
        </div>
      </div>
      <div className="mt-4 border-t border-base-300 pt-2">
        <button
          type="button"
          className="flex min-h-11 min-w-11 cursor-pointer items-center gap-2 font-bold underline decoration-dotted underline-offset-4"
          aria-expanded={more}
          onClick={() => setMore(!more)}
        >
          {more ? "Less" : "More: how long, how strong, resolved, a note …"}
          {said > 0 && !more ? <span className="font-normal text-soft">{said} recorded</span> : null}
        </button>
        {more ? (
          <div className="mt-3 grid gap-5">
            <More
              settings={school.incidents}
              asksWhy={student.asksWhy}
              colleagues={school.colleagues}
              events={offered("setting event")}
              details={details}
              chosen={chosen}
              clocked={clock?.stoppedAt !== null && clock !== null}
              onDetails={(part) => onChange({ details: { ...details, ...part } })}
              onEvents={choose("setting event")}
            />
            <label className="grid gap-1 text-fine font-bold">
              Note
              <textarea
                className="textarea w-full text-base font-normal"
                maxLength={2000}
                value={facts.note}
                onChange={({ target }) => onChange({ note: target.value })}
              />
              <span className="font-normal text-soft">Appears in the report as written.</span>
            </label>
            <names-under about={student.studentId} />
          </div>
        ) : null}
      </div>
    </>
  );
}
