import type { Values } from "./entry-values.ts";

/** What every panel is given: its measure, what stands in its fields, and how to change that. */
export interface PanelProps<M> {
  measure: M;
  values: Values;
  /** A function makes the new value of what stands at that moment: two touches between two paints are two marks. */
  set: (name: string, value: string | ((before: string) => string)) => void;
  /** Problems by the field of the entry they are about. */
  problems: Readonly<Record<string, string>>;
}
