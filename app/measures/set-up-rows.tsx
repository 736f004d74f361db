import { useSetUp } from "../goal-set-up/fields.tsx";
import { mostRows, setUpRows } from "./set-up-form.ts";

/** Rows that grow: one more is always open. */
export function useRows(prefix: string): number[] {
  const { values } = useSetUp();
  const used = setUpRows.filter((row) => values[`${prefix}.${row}.label`]);
  return setUpRows.slice(0, Math.min(mostRows, Math.max(2, (used.at(-1) ?? -1) + 2)));
}

/** What a row is known by in the entries, however its name changes. */
export function KeptId({ name }: { name: string }) {
  const { values } = useSetUp();
  return values[name] ? <input type="hidden" name={name} value={values[name]} /> : null;
}
