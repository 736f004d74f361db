import { Form, Link } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import { daysToCancel } from "#core/retention/against-erasing.ts";
import { recordKinds, type RecordKind } from "#core/retention/record-kinds.ts";
import type { Erasure, ErasingState, RecordHold } from "#server/db/retention.ts";
import type { useForm } from "#app/kit/use-form.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { Field, fieldProps, FormProblem, Select } from "#app/ui/field.tsx";
import { Erasures } from "./erasures.tsx";
import { againstNames, recordKindNames } from "./rights-words.ts";

type Sent = ReturnType<typeof useForm>;

/** Holds on a record: nothing of it is erased while one is on. */
export function Holds({
  holds,
  newId,
  studentId,
  sent,
}: {
  holds: readonly RecordHold[];
  newId: string;
  studentId: string;
  sent: Sent;
}) {
  const field = fieldProps(sent.typed, sent.problems);
  return (
    <section aria-labelledby="holds" className="mt-10 max-w-[52rem]">
      <h2 id="holds" className="font-serif text-[1.35rem] font-semibold">
        Holds
      </h2>
      <p className="text-soft">
        While a hold is on, nothing of this record is erased: during a dispute, a due process complaint, an
        audit.
      </p>
      <ul className="mt-2">
        {holds.map(({ holdId, reason, by, at, ended }) => (
          <li key={holdId} className="flex flex-wrap items-baseline gap-x-4 border-t border-base-300 py-2">
            <span dir="auto">
              <b>{ended ? "Ended" : "On hold"}</b>: {reason}
            </span>
            <span className="text-fine text-soft">
              {dateWithYear(at.slice(0, 10))}, {by}
              {ended ? `; ended ${dateWithYear(ended.at.slice(0, 10))}, ${ended.by}` : ""}
            </span>
            {ended ? null : (
              <Form method="post" className="no-print ml-auto" preventScrollReset>
                <input type="hidden" name="holdId" value={holdId} />
                <button className="btn btn-plain btn-sm" name="intent" value="end hold" disabled={sent.busy}>
                  End the hold<span className="sr-only">: {reason}</span>
                </button>
              </Form>
            )}
          </li>
        ))}
      </ul>
      <KeptForm
        key={holds.length}
        draft={`hold-${studentId}`}
        method="post"
        className="no-print mt-2 flex flex-wrap items-start gap-3"
        preventScrollReset
        noValidate
      >
        <input type="hidden" name="holdId" value={newId} />
        <Field
          label="Why"
          {...field("holdReason")}
          maxLength={500}
          dir="auto"
          className="min-w-0 flex-1 basis-72"
        />
        <button className="btn btn-plain mt-6" name="intent" value="set hold" disabled={sent.busy}>
          Put on hold
        </button>
      </KeptForm>
    </section>
  );
}

function Rules({ state: { rules, until: days } }: { state: ErasingState }) {
  return (
    <ul className="mt-2">
      {recordKinds.map((kind) => {
        const rule = rules[kind];
        const until = days[kind];
        return (
          <li key={kind} className="flex flex-wrap items-baseline gap-x-3 border-t border-base-300 py-1.5">
            <b className="w-44">{recordKindNames[kind].name}</b>
            {rule === undefined ? (
              <span className="text-soft">no rule is set</span>
            ) : until === undefined ? (
              <span>
                {rule.years} years after the student leaves <span className="text-soft">({rule.source})</span>
              </span>
            ) : (
              <span>
                until {dateWithYear(until)} <span className="text-soft">({rule.source})</span>
              </span>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function PlanErasing({
  student,
  newId,
  soonest,
  today,
  due,
  sent: { typed, problems, busy },
}: {
  student: { studentId: string; initials: string };
  newId: string;
  soonest: string;
  today: string;
  due: readonly RecordKind[];
  sent: Sent;
}) {
  const field = fieldProps(typed, problems);
  return (
    <KeptForm
      draft={`erase-${student.studentId}`}
      method="post"
      className="no-print mt-4 grid gap-3"
      noValidate
    >
      <input type="hidden" name="erasureId" value={newId} />
      <fieldset className="min-w-0" aria-describedby={problems["kinds"] ? "kinds-says" : undefined}>
        <legend className="text-fine font-bold">What is erased</legend>
        <ul>
          {recordKinds.map((kind) => (
            <li key={kind}>
              <label className="flex min-h-9 items-baseline gap-2">
                <input
                  type="checkbox"
                  name={`kind.${kind}`}
                  className="size-4.5 translate-y-1 accent-primary"
                  defaultChecked={typed ? typed[`kind.${kind}`] === "on" : due.includes(kind)}
                />
                <span>
                  <b>{recordKindNames[kind].name}</b>{" "}
                  <span className="text-soft">{recordKindNames[kind].holds}</span>
                </span>
              </label>
            </li>
          ))}
        </ul>
        {problems["kinds"] ? (
          <p id="kinds-says" role="alert" className="text-fine font-bold text-error">
            {problems["kinds"]}
          </p>
        ) : null}
      </fieldset>
      <label className="flex min-h-9 items-baseline gap-2">
        <input
          type="checkbox"
          name="keepsName"
          className="size-4.5 translate-y-1 accent-primary"
          defaultChecked={typed?.["keepsName"] === "on"}
        />
        <span>
          Keep the name, the grade and the day of leaving{" "}
          <span className="text-soft">A school may keep these without limit (34 CFR 300.624).</span>
        </span>
      </label>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-2 lg:grid-cols-4">
        <Select
          label="Why"
          {...field("why", due.length > 0 ? "years are over" : "parents asked")}
          options={[
            ["years are over", "The years are over"],
            ["parents asked", "The parents asked"],
          ]}
        />
        <Field label="The parents were informed on" {...field("toldOn")} type="date" max={today} />
        <Select
          label="How"
          {...field("toldHow", "letter")}
          options={[
            ["letter", "By letter"],
            ["e-mail", "By e-mail"],
            ["in person", "In person"],
            ["by phone", "By phone"],
          ]}
        />
        <Field
          label="Who was informed"
          {...field("toldWhom")}
          maxLength={100}
          hint="“Both parents”. No name: this line stays."
        />
        <Field label="In the night of" {...field("plannedOn", soonest)} type="date" min={soonest} />
        <Field
          label={`Type ${student.initials} to make sure`}
          {...field("initials")}
          maxLength={12}
          autoComplete="off"
        />
      </div>
      <FormProblem>{problems["form"]}</FormProblem>
      <p className="text-soft">
        Until that night it can be cancelled, for at least {daysToCancel} days. After it nobody can bring it
        back.
      </p>
      <button className="btn btn-primary w-fit" name="intent" value="plan erasing" disabled={busy}>
        Plan the erasing
      </button>
    </KeptForm>
  );
}

/** For how long the record is stored, what stands against erasing it, and what is planned. */
export function Erasing({
  student,
  state,
  erasures,
  mayErase,
  soonest,
  newId,
  today,
  sent,
}: {
  student: { studentId: string; initials: string };
  state: ErasingState;
  erasures: readonly Erasure[];
  mayErase: boolean;
  soonest: string;
  newId: string;
  today: string;
  sent: Sent;
}) {
  const due = recordKinds.filter((kind) => (state.until[kind] ?? "9999") < today);
  return (
    <section aria-labelledby="keeping" className="mt-10 max-w-[52rem]">
      <h2 id="keeping" className="font-serif text-[1.35rem] font-semibold">
        Keeping and erasing
      </h2>
      <p>
        {state.leftOn === null
          ? "The student is at the school: nothing is erased."
          : `Left the school ${dateWithYear(state.leftOn)}.`}{" "}
        <Link className="link" to="/school/retention">
          For how long records are stored
        </Link>
      </p>
      <Rules state={state} />
      <Erasures erasures={erasures}>
        {({ erasureId }) =>
          mayErase ? (
            <Form method="post" className="no-print mt-1" preventScrollReset>
              <input type="hidden" name="erasureId" value={erasureId} />
              <button
                className="btn btn-plain btn-sm"
                name="intent"
                value="cancel erasing"
                disabled={sent.busy}
              >
                Cancel the erasing
              </button>
            </Form>
          ) : null
        }
      </Erasures>
      {state.leftOn === null || erasures.some((one) => one.state === "planned") ? null : state.against
          .length > 0 ? (
        <p className="mt-3">
          Nothing can be erased now. {state.against.map((reason) => againstNames[reason]).join(" ")}
        </p>
      ) : mayErase ? (
        <PlanErasing {...{ student, newId, soonest, today, due, sent }} />
      ) : (
        <p className="mt-3">An administrator of the school can plan the erasing.</p>
      )}
    </section>
  );
}
