import { Form, Link, useSearchParams } from "react-router";
import { namedSpans, type PatternChoice, type PatternPlan } from "#core/incidents/choose.ts";
import type { ReportingSpan } from "#core/schedule/reporting-spans.ts";
import { binSizes } from "#core/incidents/patterns.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { filledFields } from "#app/ui/filled-fields.ts";
import { binNames } from "./tables.ts";

function Names({
  title,
  name,
  there,
  chosen,
}: {
  title: string;
  name: string;
  there: readonly string[];
  chosen: readonly string[];
}) {
  return (
    <details
      className="relative"
      // It lies over what stands below, so it closes as soon as one goes elsewhere.
      onBlur={({ currentTarget, relatedTarget }) => {
        if (!currentTarget.contains(relatedTarget)) currentTarget.open = false;
      }}
      onKeyDown={({ currentTarget, key }) => {
        if (key !== "Escape" || !currentTarget.open) return;
        currentTarget.open = false;
        currentTarget.querySelector("summary")?.focus();
      }}
    >
      <summary className="btn btn-plain max-w-64 justify-start">
        <span className="truncate" dir="auto">
          {title}: {chosen.length === 0 ? "any" : chosen.join(", ")}
        </span>
      </summary>
      <fieldset
        tabIndex={-1}
        className="absolute z-10 mt-1 grid max-h-80 w-max max-w-[80vw] gap-x-4 overflow-y-auto rounded-lg border border-base-300 bg-base-100 px-3 py-2 shadow-lg"
      >
        <legend className="sr-only">{title}</legend>
        {there.map((one) => (
          <label key={one} className="flex min-h-8 cursor-pointer items-center gap-2">
            <input type="checkbox" name={name} value={one} defaultChecked={chosen.includes(one)} />
            <span dir="auto">{one}</span>
          </label>
        ))}
      </fieldset>
    </details>
  );
}

/** Which span, behaviors and settings, compared with what: it stands in the address, and the page answers at once. */
export function ChooseForm({
  studentId,
  choice,
  plans,
  reporting,
  behaviors,
  settings,
}: {
  studentId: string;
  reporting: readonly ReportingSpan[];
  choice: PatternChoice;
  plans: readonly PatternPlan[];
  behaviors: readonly string[];
  settings: readonly string[];
}) {
  const [search, setSearch] = useSearchParams();
  const { span, from, to, compare } = choice;
  const within = plans.filter(({ beginsOn }) => from < beginsOn && beginsOn <= to);
  return (
    <Form
      key={useChoicesKey()}
      className="no-print mt-3 flex flex-wrap items-start gap-2"
      onChange={(event) =>
        setSearch(filledFields(event.currentTarget), { preventScrollReset: true, state: chosenHere })
      }
      role="search"
      aria-label="Which incidents"
    >
      <select className="select w-44" name="span" defaultValue={span} aria-label="Span">
        {namedSpans.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
        {reporting.map(({ key, words }) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      {span === "own" ? (
        <span className="flex flex-wrap gap-2">
          <input className="input w-40" type="date" name="from" defaultValue={from} aria-label="From" />
          <input className="input w-40" type="date" name="to" defaultValue={to} aria-label="To" />
        </span>
      ) : null}
      <Names title="Behaviors" name="behavior" there={behaviors} chosen={choice.behaviors} />
      <Names title="Settings" name="setting" there={settings} chosen={choice.settings} />
      <select
        className="select w-52"
        name="compare"
        defaultValue={typeof compare === "string" ? compare : compare.planId}
        aria-label="Compare with"
      >
        <option value="none">No comparison</option>
        <option value="before">The same span before</option>
        {within.map(({ planId, name }) => (
          <option key={planId} value={planId}>
            Around “{name}”
          </option>
        ))}
      </select>
      <select className="select w-[6.8rem]" name="by" defaultValue={choice.bins} aria-label="Time axis">
        {binSizes.map((size) => (
          <option key={size} value={size}>
            by {binNames[size]}
          </option>
        ))}
      </select>
      {search.size > 0 ? (
        <Link className="btn btn-plain" to={`/students/${studentId}/patterns`} preventScrollReset>
          Start over
        </Link>
      ) : null}
      <noscript>
        <button className="btn btn-plain">Show</button>
      </noscript>
    </Form>
  );
}
