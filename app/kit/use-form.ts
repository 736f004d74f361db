import { useNavigation } from "react-router";
import { fieldProps } from "#app/ui/field.tsx";

interface Sent {
  problems?: Readonly<Record<string, string>>;
  typed?: Readonly<Record<string, string>>;
}

/**
 * How a form stands that was sent to this page's action: is it on its way, what was wrong with it, what was typed, and what it conflicts
 * with. `field` gives a field its value and its problem.
 *
 * Ours: `@conform-to/react` is 9.2 kB on every page with a form (measured, gzipped), and its checks in the browser would need the schemas
 * there too. The server checks, and its answer stands beside the field.
 */
export function useForm<Conflict = never>(sent: (Sent & { conflict?: Conflict }) | undefined) {
  const busy = useNavigation().state !== "idle";
  const problems: Readonly<Record<string, string>> = sent?.problems ?? {};
  const typed = sent?.typed;
  return { busy, problems, typed, conflict: sent?.conflict, field: fieldProps(typed, problems) };
}
