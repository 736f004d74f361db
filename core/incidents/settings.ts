import { type LengthBand, starterBands } from "./lengths.ts";

/** Parts of the incident screen that a school may leave out. */
export const parts = [
  "why",
  "how long",
  "how strong",
  "resolved",
  "setting events",
  "adults",
  "peers",
  "harm",
] as const;
export type IncidentPart = (typeof parts)[number];

/** How a school records incidents. */
export interface IncidentSettings {
  bands: readonly LengthBand[];
  /** What each of the five strengths means here, from the mildest. */
  strengths: readonly string[];
  off: readonly IncidentPart[];
  /** Who is asked why they think it happened: a guess at the time biases the record, so at first only who leads the circle. */
  whyAsked: "of leads" | "of everyone";
  /** What else is asked where there was an injury, a restraint or seclusion; the law differs by state and province. */
  harmAsked: readonly string[];
}

export const starterSettings: IncidentSettings = {
  bands: starterBands,
  strengths: [
    "noticed by people nearby",
    "noticed by the room",
    "work in the room stopped",
    "an adult had to step in",
    "danger to a person",
  ],
  off: [],
  whyAsked: "of leads",
  harmAsked: ["Began at", "Ended at", "Who was notified, and when"],
};
