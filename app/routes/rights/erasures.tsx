import type { ReactNode } from "react";
import { dateWithYear } from "#core/words/dates.ts";
import { goneFromBackupsBy } from "#core/retention/gone-from-backups.ts";
import type { Erasure } from "#server/db/retention.ts";
import { recordKindsListed } from "./rights-words.ts";

function What({ of }: { of: Erasure }) {
  const what = recordKindsListed(of.kinds);
  switch (of.state) {
    case "done":
      return (
        <>
          <b>Erased {dateWithYear(of.doneOn ?? "")}</b>: {what}. In no backup from{" "}
          {dateWithYear(goneFromBackupsBy(of.doneOn ?? ""))} on, where one is made every night.
        </>
      );
    case "cancelled":
      return (
        <>
          <b>Cancelled</b>: {what} was to be erased on {dateWithYear(of.plannedOn)}.
        </>
      );
    case "planned":
      return (
        <>
          <b>In the night of {dateWithYear(of.plannedOn)}</b> this is erased: {what}.
        </>
      );
  }
}

/**
 * What was planned, cancelled and done, with why and how the parents were informed.
 *
 * @param children what can be done with one that is planned
 */
export function Erasures({
  erasures,
  children,
}: {
  erasures: readonly Erasure[];
  children: (planned: Erasure) => ReactNode;
}) {
  return (
    <ul className="mt-3 grid gap-3">
      {erasures.map((one) => (
        <li
          key={one.erasureId}
          className={`border-l-4 px-4 py-1 ${one.state === "planned" ? "border-primary" : "border-base-300"}`}
        >
          <p>
            <What of={one} />
          </p>
          <p className="text-soft" dir="auto">
            {one.why === "parents asked" ? "The parents asked for it" : "The years are over"}. Informed:{" "}
            {one.toldWhom}, {one.toldHow}, {dateWithYear(one.toldOn)}. Planned by {one.by}.
          </p>
          {one.state === "planned" ? children(one) : null}
        </li>
      ))}
    </ul>
  );
}
