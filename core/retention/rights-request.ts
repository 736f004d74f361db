/** What parents, or a student who is 18, ask by right: 34 CFR 99.10 (inspect), 99.20 (amend), 300.624 (erase). */
export const rightsKinds = ["inspect", "amend", "erase"] as const;
export type RightsKind = (typeof rightsKinds)[number];

/** What may become of each. */
export const rightsOutcomes = {
  inspect: ["inspected", "withdrawn"],
  amend: ["amended", "not amended", "withdrawn"],
  erase: ["will be erased", "not erased", "withdrawn"],
} as const satisfies Record<RightsKind, readonly string[]>;
export type RightsOutcome = (typeof rightsOutcomes)[RightsKind][number];

/** Is this something that can become of a request of this kind? */
export const isOutcomeOf = (kind: RightsKind, outcome: RightsOutcome): boolean =>
  (rightsOutcomes[kind] as readonly RightsOutcome[]).includes(outcome);

/** Of which part of a record a statement of parents is: 34 CFR 99.21(c) has it go wherever that part goes. */
export type StatementPart = "record" | "goal" | "incidents";

/** What parents add to a record that they contest. Days are `YYYY-MM-DD`. */
export interface ParentStatement {
  statementId: string;
  part: StatementPart;
  goalId: string | null;
  byWhom: string;
  words: string;
  receivedOn: string;
}
