import type { ReactNode } from "react";
import { Form, useNavigation } from "react-router";

/** Asks whether two adults wrote down the same incident: joined, the first is an account of the other. */
export function SameOne({
  studentId,
  incidentId,
  otherId,
  back,
  children,
}: {
  studentId: string;
  incidentId: string;
  otherId: string;
  /** Where the answer leads: to the list, or to the incident's own page. */
  back?: "list";
  children: ReactNode;
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <Form
      method="post"
      action={`/students/${studentId}/incidents/${incidentId}`}
      className="no-print mt-3 flex max-w-3xl flex-wrap items-center gap-2 rounded-lg bg-arrival px-4 py-2"
    >
      <p className="flex-1">{children}</p>
      <input type="hidden" name="otherId" value={otherId} />
      {back ? <input type="hidden" name="back" value={back} /> : null}
      <button className="btn btn-plain btn-sm" name="intent" value="join" disabled={busy}>
        Yes, join the two
      </button>
      <button className="btn btn-plain btn-sm" name="intent" value="apart" disabled={busy}>
        No, two
      </button>
    </Form>
  );
}
