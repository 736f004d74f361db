import { Form, useNavigation } from "react-router";
import { Field } from "#app/ui/field.tsx";

/** What a decision is written with: ids made by the server, so that what is sent twice is one. */
export interface Deciding {
  decisionId: string;
  phaseId: string;
  today: string;
  problems: Readonly<Record<string, string>>;
  typed: Readonly<Record<string, string>> | undefined;
}

/** The ids of a decision, made once by the server. */
export function Ids({ decisionId, phaseId, typed }: Deciding) {
  return (
    <>
      <input type="hidden" name="decisionId" value={typed?.["decisionId"] ?? decisionId} />
      <input type="hidden" name="phaseId" value={typed?.["phaseId"] ?? phaseId} />
    </>
  );
}

/** The question before anything is changed: was it taught as planned? */
export function TaughtAsPlanned({ action, deciding }: { action: string; deciding: Deciding }) {
  const busy = useNavigation().state !== "idle";
  const problem = deciding.typed?.["kind"] === "taught as planned" ? deciding.problems["on"] : undefined;
  return (
    <Form method="post" action={action} className="no-print mt-1 flex flex-wrap items-end gap-2">
      <Ids {...deciding} />
      <input type="hidden" name="kind" value="taught as planned" />
      <Field
        label="Taught as planned up to"
        type="date"
        name="on"
        max={deciding.today}
        defaultValue={deciding.today}
        problem={problem}
      />
      <button className="btn btn-plain" disabled={busy}>
        Yes, it was
      </button>
    </Form>
  );
}

/** The case manager's word that the goal is met, where its criterion is reached. */
export function ConfirmMet({
  action,
  today,
  revision,
  confirm,
}: {
  action: string;
  today: string;
  revision: number;
  confirm: readonly string[];
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <Form method="post" action={action} className="no-print mt-1">
      {confirm.length > 0 ? (
        <p className="text-[0.9375rem]">
          No number shows this; look at it before you confirm: <span dir="auto">{confirm.join("; ")}.</span>
        </p>
      ) : null}
      <div className="mt-1 flex flex-wrap items-end gap-2">
        <input type="hidden" name="intent" value="decide" />
        <input type="hidden" name="revision" value={revision} />
        <Field label="Met on" type="date" name="on" className="min-w-44" max={today} defaultValue={today} />
        <Field label="Reason (optional)" name="reason" maxLength={500} className="min-w-52 flex-1" />
        <button className="btn btn-primary" name="act" value="met" disabled={busy}>
          Confirm as met
        </button>
      </div>
    </Form>
  );
}
