import { Form } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import type { ListedStatement } from "#server/db/rights.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { useForm } from "#app/kit/use-form.ts";
import { Field, fieldProps, Select, TextArea } from "#app/ui/field.tsx";

/** What parents added to a record that they contest, and a form to add one. */
export function ParentStatements({
  statements,
  goals,
  newId,
  today,
  studentId,
  sent,
}: {
  statements: readonly ListedStatement[];
  goals: readonly { goalId: string; name: string }[];
  newId: string;
  today: string;
  studentId: string;
  sent: ReturnType<typeof useForm>;
}) {
  const field = fieldProps(sent.typed, sent.problems);
  const aboutWords = ({ part, goalId }: ListedStatement) =>
    part === "record"
      ? "the whole record"
      : part === "incidents"
        ? "incidents"
        : (goals.find((one) => one.goalId === goalId)?.name ?? "a goal");
  return (
    <section aria-labelledby="statements" className="mt-10 max-w-[52rem]">
      <h2 id="statements" className="font-serif text-[1.35rem] font-semibold">
        Statements of the parents
      </h2>
      <p className="text-soft">
        Parents who contest a part of the record may add a statement. It is in every report, edition and file
        that holds that part, in their words.
      </p>
      {statements.length === 0 ? <p className="mt-2">There is none.</p> : null}
      <ul className="mt-2 grid gap-4">
        {statements.map((one) => (
          <li key={one.statementId} className="border-l-4 border-base-300 px-4 py-1">
            <p dir="auto">
              <b>{one.byWhom}</b>, {dateWithYear(one.receivedOn)}, about {aboutWords(one)}
            </p>
            <p className="mt-1 whitespace-pre-line" dir="auto">
              {one.words}
            </p>
            {one.withdrawn ? (
              <p className="mt-1 font-bold">
                Withdrawn {dateWithYear(one.withdrawn.at.slice(0, 10))} ({one.withdrawn.by}): in no report any
                more
              </p>
            ) : (
              <Form method="post" className="no-print mt-1" preventScrollReset>
                <input type="hidden" name="statementId" value={one.statementId} />
                <button
                  className="link min-h-8 text-fine"
                  name="intent"
                  value="withdraw"
                  disabled={sent.busy}
                >
                  They withdraw it<span className="sr-only">: {one.byWhom}</span>
                </button>
              </Form>
            )}
          </li>
        ))}
      </ul>
      <details
        key={statements.length}
        className="no-print mt-4"
        open={sent.problems["statementWords"] !== undefined}
      >
        <summary className="w-fit cursor-pointer py-1 font-bold">Add a statement</summary>
        <KeptForm draft={`statement-${studentId}`} method="post" className="mt-2 grid gap-3" noValidate>
          <input type="hidden" name="statementId" value={newId} />
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-3">
            <Select
              label="About"
              {...field("about", "record")}
              options={[
                ["record", "The whole record"],
                ["incidents", "Incidents"],
                ...goals.map(({ goalId, name }) => [goalId, name] as const),
              ]}
            />
            <Field
              label="Whose statement"
              {...field("statementBy")}
              maxLength={200}
              dir="auto"
              hint="As reports name them: “The mother”."
            />
            <Field label="Received on" {...field("statementOn", today)} type="date" max={today} />
          </div>
          <TextArea
            label="Their statement"
            {...field("statementWords")}
            rows={5}
            maxLength={5000}
            dir="auto"
            hint="Word for word."
          />
          <button className="btn btn-primary w-fit" name="intent" value="add statement" disabled={sent.busy}>
            Add to the record
          </button>
        </KeptForm>
      </details>
    </section>
  );
}
