import { isRouteErrorResponse, Link } from "react-router";
import type { ReactNode } from "react";
import { listed } from "#core/words/lists.ts";
import { PageTitle } from "./page-title.tsx";

interface ErrorBody {
  kind?: string;
  id?: string;
  ask?: readonly string[];
  ofSchool?: boolean;
}

/** Whom one can ask, where the server named somebody. */
const whoCan = (names: readonly string[], otherwise: string) =>
  names.length === 0 ? otherwise : `${listed(names)} can, and can help.`;

function explain(error: unknown): {
  title: string;
  text: ReactNode;
  id?: string;
  retry: boolean;
  toStaff?: boolean;
  mayRecord?: boolean;
} {
  const sent: unknown = isRouteErrorResponse(error) ? error.data : null;
  const body: ErrorBody = typeof sent === "object" && sent !== null ? sent : {};
  const status = isRouteErrorResponse(error) ? error.status : 500;
  if (status === 404) {
    return {
      title: "Not found",
      text: "This page does not exist, or it is not shared with you. If you expected a student here, ask the case manager to add you to the circle.",
      retry: false,
    };
  }
  if (status === 403) {
    return {
      title: "You don’t have permission to do this",
      text: body.ofSchool
        ? `This is not part of your role in the school. ${whoCan(body.ask ?? [], "Ask the administrator.")}`
        : `You can read this student’s record, but not change it. ${whoCan(body.ask ?? [], "If you need to, ask the case manager.")}`,
      retry: false,
      toStaff: body.ofSchool ?? false,
    };
  }
  if (body.kind === "turned") {
    return {
      title: "Another school, or another person",
      text: "In another tab this browser turned to another school or person, so nothing was done here. Open the page again to go on.",
      retry: false,
    };
  }
  if (body.kind === "unavailable") {
    return {
      title: "We cannot reach the records just now",
      text: "Everything confirmed as saved is safe. Try again in a moment. If it happens again, contact your administrator.",
      id: body.id,
      retry: true,
    };
  }
  if (error instanceof TypeError && /fetch|network/i.test(error.message)) {
    return {
      title: "No connection",
      text: "This page could not be loaded. Recording works without the network; try again when the device is back on it.",
      retry: true,
      mayRecord: true,
    };
  }
  const tell = body.id
    ? "give your administrator the reference below"
    : "tell your administrator what you were doing";
  return {
    title: "Something went wrong on our side",
    text: `You did nothing wrong. Try again. If it happens again, ${tell}.`,
    id: body.id,
    retry: true,
  };
}

export function ErrorPage({ error }: { error: unknown }) {
  const { title, text, id, retry, toStaff, mayRecord } = explain(error);
  return (
    <main className="mx-auto flex min-h-dvh max-w-xl flex-col justify-center border-l border-rule px-8 py-12">
      <PageTitle title={title} />
      <p className="mt-3 max-w-md font-serif leading-relaxed">{text}</p>
      {id ? <p className="mt-3 text-fine text-soft">Reference {id}</p> : null}
      <p className="mt-6 flex gap-3">
        {retry ? (
          <a className="btn btn-primary" href="">
            Try again
          </a>
        ) : null}
        {toStaff ? (
          <Link className="btn btn-plain" to="/school/staff">
            Staff
          </Link>
        ) : null}
        {mayRecord ? (
          <Link className="btn btn-primary" to="/record">
            Record
          </Link>
        ) : null}
        <Link className="btn btn-plain" to="/caseload">
          To the caseload
        </Link>
      </p>
    </main>
  );
}
