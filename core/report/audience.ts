import type { Language } from "../words/en.ts";

/** For whom a report is made. A school may add one of its own. */
export const audiences = ["team", "family", "file", "own"] as const;
export type Audience = (typeof audiences)[number];

export const sectionNames = ["glance", "goals", "behavior", "jots", "log"] as const;
export type SectionName = (typeof sectionNames)[number];

/** What of a goal and of a line can be left out. */
export const fieldNames = [
  "statements",
  "standing",
  "figures",
  "chart",
  "changes",
  "decisions",
  "parts",
  "raters",
  "notes",
  "pictures",
  "team only",
] as const;
export type FieldName = (typeof fieldNames)[number];

/** How a report reads for an audience: set once for the school, changed for a student. */
export interface AudienceSettings {
  sections: readonly SectionName[];
  fields: readonly FieldName[];
  /** How staff are named. */
  staff: "names" | "initials" | "none";
  /** Days with times of day, or days alone. */
  when: "times" | "dates";
  /** How the entries of the log read. */
  entries: "list" | "table" | "sentences";
  /** Plain words at about a sixth-grade level, without statistics. */
  plain: boolean;
  language: Language;
}

const all = [...fieldNames];

/** How each audience reads at a school that has set nothing. */
export const audienceDefaults: Readonly<Record<Audience, AudienceSettings>> = {
  team: {
    ...{ sections: [...sectionNames], fields: all, staff: "names", when: "times", entries: "list" },
    ...{ plain: false, language: "en" },
  },
  file: {
    ...{ sections: [...sectionNames], fields: all, staff: "names", when: "times", entries: "list" },
    ...{ plain: false, language: "en" },
  },
  family: {
    sections: ["glance", "goals", "jots", "log"],
    fields: ["statements", "standing", "figures", "chart", "notes", "pictures"],
    ...{ staff: "names", when: "dates", entries: "sentences", plain: true, language: "en" },
  },
  own: {
    sections: ["glance", "goals", "behavior"],
    fields: ["statements", "standing", "figures", "chart", "changes", "decisions"],
    ...{ staff: "initials", when: "dates", entries: "list", plain: false, language: "en" },
  },
};

/**
 * What no setting changes: team-only notes stay out of everything but the reports of the team and the file, and incidents reach a family
 * and others only through a person. Notes and jots are in the language they were written in, so a report in another leaves them out.
 */
export function settledFor(audience: Audience, settings: AudienceSettings): AudienceSettings {
  const isInside = audience === "team" || audience === "file";
  const isWritten = settings.language === "en";
  return {
    ...settings,
    fields: settings.fields.filter(
      (field) => (field !== "team only" || isInside) && (field !== "notes" || isWritten),
    ),
    sections: settings.sections.filter((section) => section !== "jots" || isWritten),
  };
}

/** May incidents be read one by one, and what their patterns gave to check? */
export const readsIncidents = (audience: Audience): boolean => audience === "team" || audience === "file";
