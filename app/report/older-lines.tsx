import { useEffect, useEffectEvent, useRef } from "react";
import { Link, useFetcher, useSearchParams } from "react-router";
import type { loader } from "#app/routes/report/older.ts";
import { lastHeading, layoutOf, ReportBlocks } from "./report-blocks.tsx";

/** After so long it is looked whether the lines are being read. */
const retryMs = 1000;

/**
 * The lines of a report older than the line `before`: they load when one scrolls near, and so does what is older than they are. Each
 * part is read anew by itself when something changes.
 */
export function OlderLines({
  studentId,
  before,
  after,
}: {
  studentId: string;
  before: string;
  after: string | null;
}) {
  const [search] = useSearchParams();
  const older = new URLSearchParams([...search, ["before", before]]).toString();
  const fetcher = useFetcher<typeof loader>({ key: `older ${studentId} ${older}` });
  const end = useRef<HTMLDivElement>(null);
  const { load, data, state } = fetcher;
  const read = useEffectEvent(() => {
    if (state === "idle") void load(`/students/${studentId}/report/older?${older}`);
  });
  useEffect(() => {
    if (data || !end.current) return;
    let again: number | undefined;
    const near = new IntersectionObserver(
      ([seen]) => {
        if (!seen?.isIntersecting) return;
        near.disconnect();
        read();
        // A reading that is broken off, as by another that begins meanwhile, is begun again until the lines are there.
        again = window.setInterval(read, retryMs);
      },
      { rootMargin: "1500px" },
    );
    near.observe(end.current);
    return () => {
      near.disconnect();
      window.clearInterval(again);
    };
  }, [data, studentId, older]);
  if (!data)
    return (
      <div ref={end} className="no-print py-2 font-sans text-fine text-soft">
        <span className="with-scripts">
          {state === "idle" ? "Earlier lines load as you scroll." : "Loading earlier lines …"}
        </span>{" "}
        <Link
          className="link"
          to={`?${new URLSearchParams([...search, ["all", ""]]).toString()}`}
          preventScrollReset
        >
          Show everything, for printing
        </Link>
      </div>
    );
  return (
    <>
      <ReportBlocks studentId={studentId} blocks={data.blocks} after={after} {...layoutOf(data)} />
      {data.next ? (
        <OlderLines studentId={studentId} before={data.next} after={lastHeading(data.blocks)} />
      ) : null}
    </>
  );
}
