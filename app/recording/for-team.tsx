import { type ComponentProps, useId } from "react";
import { teamOnlyHint } from "./team-only.ts";

/** The choice that a note is for the team only, with what that means. */
export function ForTeam(input: ComponentProps<"input">) {
  const id = useId();
  return (
    <div>
      <label className="flex min-h-11 cursor-pointer items-center gap-2">
        <input {...input} type="checkbox" className="size-5 shrink-0 accent-primary" aria-describedby={id} />
        For the team only
      </label>
      <p id={id} className="pl-7 text-fine text-soft">
        {teamOnlyHint}
      </p>
    </div>
  );
}
