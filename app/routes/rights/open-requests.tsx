import { Link } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import type { RightsKind } from "#core/retention/rights-request.ts";
import { requestDueWords, requestNames } from "./rights-words.ts";

/** Requests that are open, each with the days that run, and the way to where they are closed. */
export function OpenRequests({
  requests,
  today,
}: {
  requests: readonly {
    requestId: string;
    studentId: string;
    name: string;
    kind: RightsKind;
    receivedOn: string;
  }[];
  today: string;
}) {
  if (requests.length === 0) return null;
  return (
    <section aria-labelledby="open-requests" className="mb-6">
      <h2 id="open-requests" className="font-serif text-[1.35rem] font-semibold">
        Open requests
      </h2>
      <ul className="mt-1 grid gap-2">
        {requests.map(({ requestId, studentId, name, kind, receivedOn }) => (
          <li key={requestId} className="border-l-4 border-primary px-4 py-1">
            <Link className="link font-bold" to={`/students/${studentId}/rights`} dir="auto">
              {name}
            </Link>
            : {requestNames[kind].toLowerCase()}, received {dateWithYear(receivedOn)}
            {kind === "inspect" ? <b>, {requestDueWords(kind, receivedOn, today)}</b> : null}
          </li>
        ))}
      </ul>
    </section>
  );
}
