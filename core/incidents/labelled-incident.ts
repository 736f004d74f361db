/** One incident as the figures need it: what was seen, in the labels of the student's own choice lists. */
export interface LabelledIncident {
  /** The school's own day, `YYYY-MM-DD`. */
  on: string;
  /** `HH:MM` of the school; null where only the day, or the period of the day, is known. */
  at: string | null;
  setting: string | null;
  antecedents: readonly string[];
  behaviors: readonly string[];
  consequences: readonly string[];
  /** What the person who wrote it down thought the behavior was for. */
  functions: readonly string[];
  /** How long it lasted by the clock, minutes; null where only a band is known, or nothing. */
  minutes: number | null;
  /** 1–5 in the school's own words; null where not given. */
  intensity: number | null;
}

/** What labels may be asked of an incident. */
export const aspects = {
  setting: ({ setting }: LabelledIncident) => (setting === null ? [] : [setting]),
  antecedent: ({ antecedents }: LabelledIncident) => antecedents,
  behavior: ({ behaviors }: LabelledIncident) => behaviors,
  consequence: ({ consequences }: LabelledIncident) => consequences,
  function: ({ functions }: LabelledIncident) => functions,
} as const;
export type Aspect = keyof typeof aspects;

/** The labels of one aspect, each once. */
export const labelsOf = (incident: LabelledIncident, aspect: Aspect): Set<string> =>
  new Set(aspects[aspect](incident));

/** Does an incident bear this label in this aspect? */
export const hasLabel = (incident: LabelledIncident, aspect: Aspect, label: string): boolean =>
  aspects[aspect](incident).includes(label);
