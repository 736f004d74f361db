import { useCallback, useEffect, useRef, useState } from "react";

type State = "idle" | "busy" | "done" | "not printed" | "failed";

const nameIn = (header: string | null): string => {
  const [, encoded = ""] = /filename\*=UTF-8''([^;]+)/.exec(header ?? "") ?? [];
  return decodeURIComponent(encoded) || "report";
};

/**
 * Fetches a file and hands it to the browser to save. It begins by itself when it is new; without scripts the link fetches it.
 *
 * @param isNew has it just been made?
 */
export function FetchFile({ href, words, isNew }: { href: string; words: string; isNew: boolean }) {
  const [state, setState] = useState<State>("idle");
  const fetched = useRef(false);
  const fetchIt = useCallback(async () => {
    setState("busy");
    try {
      const answer = await fetch(href);
      if (answer.status === 503) return setState("not printed");
      if (!answer.ok || answer.redirected) return setState("failed");
      const url = URL.createObjectURL(await answer.blob());
      const link = document.createElement("a");
      link.href = url;
      link.download = nameIn(answer.headers.get("Content-Disposition"));
      link.click();
      window.setTimeout(() => URL.revokeObjectURL(url), 60_000);
      setState("done");
    } catch {
      setState("failed");
    }
  }, [href]);
  useEffect(() => {
    if (!isNew || fetched.current) return;
    fetched.current = true;
    void fetchIt();
  }, [isNew, fetchIt]);
  return (
    <>
      <a
        className="btn btn-primary"
        href={href}
        download
        aria-disabled={state === "busy" || undefined}
        onClick={(event) => {
          event.preventDefault();
          if (state !== "busy") void fetchIt();
        }}
      >
        {words}
      </a>
      <p
        role="status"
        className={state === "failed" || state === "not printed" ? "font-bold text-error" : ""}
      >
        {state === "busy" ? "Making the file …" : null}
        {state === "done" ? "The browser has it: look in its downloads." : null}
        {state === "not printed"
          ? "The PDF could not be made just now. Try again, or print the report and choose “Save as PDF”."
          : null}
        {state === "failed" ? "The file did not come. Look at the connection, then try again." : null}
      </p>
    </>
  );
}
