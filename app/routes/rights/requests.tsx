import { Form, Link } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import { rightsKinds, rightsOutcomes } from "#core/retention/rights-request.ts";
import type { RightsRequest } from "#server/db/rights.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { useForm } from "#app/kit/use-form.ts";
import { Field, fieldProps, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { requestDueWords, outcomeNames, requestNames } from "./rights-words.ts";

type Sent = ReturnType<typeof useForm>;

function OpenRequest({
  request: { requestId, studentId, kind, byWhom, isOwn, words, receivedOn },
  today,
  isInside,
  sent: { busy, typed, problems },
}: {
  request: RightsRequest;
  today: string;
  isInside: boolean;
  sent: Sent;
}) {
  const due = requestDueWords(kind, receivedOn, today);
  const mine = typed?.["requestId"] === requestId ? typed : undefined;
  return (
    <li className="border-l-4 border-primary px-4 py-2">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b className="font-serif text-[1.1rem] font-semibold">{requestNames[kind]}</b>
        {due ? <b>{due}</b> : null}
      </p>
      <p className="text-soft" dir="auto">
        {byWhom}, {isOwn ? "on the family’s page" : "received"} {dateWithYear(receivedOn)}
      </p>
      {words ? (
        <p className="mt-1 whitespace-pre-line" dir="auto">
          {words}
        </p>
      ) : null}
      {kind === "inspect" && isInside ? (
        <p className="mt-1">
          <Link className="link" to={`/students/${studentId}/files`}>
            Make one file of the full record
          </Link>
        </p>
      ) : null}
      <Form method="post" className="no-print mt-2 grid max-w-[40rem] gap-2" preventScrollReset noValidate>
        <input type="hidden" name="requestId" value={requestId} />
        <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <Select
            label="What became of it"
            name="outcome"
            defaultValue={mine?.["outcome"] ?? ""}
            problem={mine && problems["outcome"]}
            options={[
              ["", "Choose …"],
              ...rightsOutcomes[kind].map((outcome) => [outcome, outcomeNames[outcome]] as const),
            ]}
          />
          <Field
            label="In a few words"
            name="outcomeWords"
            defaultValue={mine?.["outcomeWords"] ?? ""}
            problem={mine && problems["outcomeWords"]}
            maxLength={1000}
            dir="auto"
            hint="Where, with whom. May be empty."
          />
        </div>
        <button className="btn btn-plain w-fit" name="intent" value="end request" disabled={busy}>
          Close the request<span className="sr-only">: {requestNames[kind]}</span>
        </button>
      </Form>
    </li>
  );
}

/** What is asked by right, with the days that run, and what became of earlier requests. */
export function Requests({
  requests,
  newId,
  today,
  studentId,
  isInside,
  sent,
}: {
  requests: readonly RightsRequest[];
  newId: string;
  today: string;
  studentId: string;
  isInside: boolean;
  sent: Sent;
}) {
  const open = requests.filter(({ ended }) => ended === null);
  const over = requests.filter(({ ended }) => ended !== null);
  const field = fieldProps(sent.typed, sent.problems);
  return (
    <section aria-labelledby="requests" className="mt-6 max-w-[52rem]">
      <h2 id="requests" className="font-serif text-[1.35rem] font-semibold">
        Requests
      </h2>
      <p className="text-soft">
        Parents, or the student from 18 on, may ask to inspect the record, to amend it, and after it is needed
        no longer to erase it. A request to inspect has 45 days, and comes before any IEP meeting.
      </p>
      {open.length === 0 ? <p className="mt-2">No request is open.</p> : null}
      <ul className="mt-2 grid gap-4">
        {open.map((request) => (
          <OpenRequest key={request.requestId} {...{ request, today, isInside, sent }} />
        ))}
      </ul>
      {over.length > 0 ? (
        <ul className="mt-4" aria-label="Earlier requests">
          {over.map(({ requestId, kind, byWhom, receivedOn, ended }) => (
            <li key={requestId} className="border-t border-base-300 py-1.5" dir="auto">
              <b>{requestNames[kind]}</b>, {byWhom}, {dateWithYear(receivedOn)}.{" "}
              {ended ? `${outcomeNames[ended.outcome]}, ${dateWithYear(ended.on)}` : ""}
              {ended?.words ? `: ${ended.words}` : ""}
              {ended ? <span className="text-soft"> ({ended.by})</span> : null}
            </li>
          ))}
        </ul>
      ) : null}
      <details key={requests.length} className="no-print mt-4" open={sent.problems["byWhom"] !== undefined}>
        <summary className="w-fit cursor-pointer py-1 font-bold">Write down a request</summary>
        <KeptForm draft={`rights-${studentId}`} method="post" className="mt-2 grid gap-3" noValidate>
          <input type="hidden" name="requestId" value={newId} />
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
            <Select
              label="What they ask"
              {...field("kind", "inspect")}
              options={rightsKinds.map((kind) => [kind, requestNames[kind]] as const)}
            />
            <Field
              label="Who asks"
              {...field("byWhom")}
              maxLength={200}
              dir="auto"
              hint="As in “Wren’s mother, by letter”."
            />
            <Field label="Received on" {...field("receivedOn", today)} type="date" max={today} />
          </div>
          <TextArea
            label="In their words"
            {...field("words")}
            maxLength={2000}
            dir="auto"
            hint="May be empty."
          />
          <FormProblem>{sent.problems["form"]}</FormProblem>
          <button className="btn btn-primary w-fit" name="intent" value="note request" disabled={sent.busy}>
            Write it down
          </button>
        </KeptForm>
      </details>
    </section>
  );
}
