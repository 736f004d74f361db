import type { Audience } from "#core/report/audience.ts";
import { Form, useSearchParams } from "react-router";
import type { ReportOrder } from "#core/report/document.ts";
import { type NamedSpan, ownDates } from "#core/report/report-spans.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { filledFields } from "#app/ui/filled-fields.ts";

/** For which days the report is, and how its log stands: it is in the address, and the page answers at once. */
export function ChooseReport({
  spans,
  chosen,
  order,
  audience,
  audiences = [],
}: {
  spans: readonly Pick<NamedSpan, "key" | "words">[];
  chosen: NamedSpan;
  order: ReportOrder;
  /** For whom, where that can be chosen. */
  audience?: Audience;
  audiences?: readonly { audience: Audience; words: string }[];
}) {
  const [, setSearch] = useSearchParams();
  return (
    <Form
      key={useChoicesKey()}
      className="flex flex-wrap items-start gap-2"
      onChange={(event) =>
        setSearch(filledFields(event.currentTarget), { preventScrollReset: true, state: chosenHere })
      }
      role="search"
      aria-label="Which report"
    >
      <select className="select w-60" name="span" defaultValue={chosen.key} aria-label="Span">
        {spans.map(({ key, words }) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
        <option value={ownDates}>Other dates</option>
      </select>
      {chosen.key === ownDates ? (
        <span className="flex flex-wrap gap-2">
          <input
            className="input w-40"
            type="date"
            name="from"
            defaultValue={chosen.from ?? ""}
            aria-label="From"
          />
          <input className="input w-40" type="date" name="to" defaultValue={chosen.to} aria-label="To" />
        </span>
      ) : null}
      <select
        className="select w-40"
        name="by"
        defaultValue={order === "goal" ? "goal" : ""}
        aria-label="Log"
      >
        <option value="">Log by day</option>
        <option value="goal">Log by goal</option>
      </select>
      {audience ? (
        <select
          className="select w-40"
          name="for"
          defaultValue={audience === "team" ? "" : audience}
          aria-label="Audience"
        >
          {audiences.map(({ audience: key, words }) => (
            <option key={key} value={key === "team" ? "" : key}>
              For {words}
            </option>
          ))}
        </select>
      ) : null}
      <noscript>
        <button className="btn btn-plain">Show</button>
      </noscript>
    </Form>
  );
}
