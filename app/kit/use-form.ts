import { useEffect, useRef } from "react";
import { useNavigation } from "react-router";
import { fieldProps } from "#app/ui/field.tsx";
import { say } from "#app/ui/say.ts";
import { useLasting } from "./use-lasting.ts";

interface Sent {
  problems?: Readonly<Record<string, string>>;
  typed?: Readonly<Record<string, string>>;
}

/** Where a field that is wrong is found; what is wrong is read with it, since it describes the field. */
const wrongField = 'main [aria-invalid="true"]';

/** Leads to the first field that is wrong as soon as its problem stands beside it, and says how many are. Problems of the whole form announce themselves. */
function useLedToProblem(problems: Readonly<Record<string, string>>): void {
  const known = useRef(problems);
  useEffect(() => {
    if (known.current === problems) return;
    known.current = problems;
    const fields = document.querySelectorAll<HTMLElement>(wrongField);
    const [first] = fields;
    if (!first) return;
    // A folded part opens for what is wrong in it.
    first.closest("details")?.setAttribute("open", "");
    first.focus();
    say(`Not saved. Wrong fields: ${fields.length}`);
  }, [problems]);
}

const none: Readonly<Record<string, string>> = {};

/**
 * How a form stands that was sent to this page's action: is it on its way, what was wrong with it, what was typed, and what it conflicts
 * with. `field` gives a field its value and its problem.
 *
 * Ours: `@conform-to/react` is 9.2 kB on every page with a form (measured, gzipped), and its checks in the browser would need the schemas
 * there too. The server checks, and its answer stands beside the field.
 */
export function useForm<Conflict = never>(given: (Sent & { conflict?: Conflict }) | undefined) {
  const sent = useLasting(given);
  const busy = useNavigation().state !== "idle";
  const problems: Readonly<Record<string, string>> = sent?.problems ?? none;
  useLedToProblem(problems);
  const typed = sent?.typed;
  return { busy, problems, typed, conflict: sent?.conflict, field: fieldProps(typed, problems) };
}
