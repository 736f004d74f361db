import type { ComponentProps } from "react";
import { teamOnlyHint } from "./team-only.ts";

/** The choice that a note is for the team only, with what that means. */
export function ForTeam(input: ComponentProps<"input">) {
  return (
    <label className="flex min-h-11 items-start gap-2 py-2">
      <input {...input} type="checkbox" className="mt-0.5 size-5 shrink-0 accent-primary" />
      <span>
        For the team only
        <span className="block text-fine text-soft">{teamOnlyHint}</span>
      </span>
    </label>
  );
}
