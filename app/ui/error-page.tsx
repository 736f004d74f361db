import { isRouteErrorResponse, Link } from "react-router";
import type { ReactNode } from "react";

interface ErrorBody {
  kind?: string;
  id?: string;
}

function explain(error: unknown): { title: string; text: ReactNode; id?: string; retry: boolean } {
  const sent: unknown = isRouteErrorResponse(error) ? error.data : null;
  const body: ErrorBody = typeof sent === "object" && sent !== null ? sent : {};
  const status = isRouteErrorResponse(error) ? error.status : 500;
  if (status === 404) {
    return {
      title: "Not found",
      text: "There is no such page, or it is not shared with you. If you expected a student here, ask the case manager to bring you into the circle.",
      retry: false,
    };
  }
  if (status === 403) {
    return {
      title: "This is for someone else to do",
      text: "You can read this student’s record. Changing it is for those who record or lead; the case manager can widen your part.",
      retry: false,
    };
  }
  if (body.kind === "unavailable") {
    return {
      title: "We cannot reach the records just now",
      text: "Nothing that was answered as saved is lost. Please try again in a moment; if it lasts, tell whoever runs this server.",
      id: body.id,
      retry: true,
    };
  }
  if (error instanceof TypeError && /fetch|network/i.test(error.message)) {
    return {
      title: "No connection",
      text: "This page could not be fetched. Please try again when the device is back on the network.",
      retry: true,
    };
  }
  const tell = body.id
    ? "give whoever runs this server the reference below"
    : "tell whoever runs this server what you were doing";
  return {
    title: "Something went wrong on our side",
    text: `It is not anything you did. Please try again; if it happens again, ${tell}.`,
    id: body.id,
    retry: true,
  };
}

export function ErrorPage({ error }: { error: unknown }) {
  const { title, text, id, retry } = explain(error);
  return (
    <main className="mx-auto flex min-h-dvh max-w-xl flex-col justify-center border-l border-rule px-8 py-12">
      <title>{`${title} · Gentle Margin`}</title>
      <h1 className="font-serif text-[1.7rem] font-semibold">{title}</h1>
      <p className="mt-3 max-w-md font-serif leading-relaxed">{text}</p>
      {id ? <p className="mt-3 text-fine text-soft">Reference {id}</p> : null}
      <p className="mt-6 flex gap-3">
        {retry ? (
          <a className="btn btn-primary" href="">
            Try again
          </a>
        ) : null}
        <Link className="btn btn-plain" to="/caseload">
          To the caseload
        </Link>
      </p>
    </main>
  );
}
