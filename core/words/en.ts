import { chartEn } from "./en/chart.ts";
import { chartTextEn } from "./en/chart-text.ts";
import { changesEn } from "./en/changes.ts";
import { criterionEn } from "./en/criterion.ts";
import { entriesEn } from "./en/entries.ts";
import { familyEn } from "./en/family.ts";
import { findingsEn } from "./en/findings.ts";
import { goalHistoryEn } from "./en/goal-history.ts";
import { incidentLineEn } from "./en/incident-line.ts";
import { jotsEn } from "./en/jots.ts";
import { progressEn } from "./en/progress.ts";
import { reportEn } from "./en/report.ts";
import { sidesEn } from "./en/sides.ts";
import { standingEn } from "./en/standing.ts";
import { statementEn } from "./en/statement.ts";

/** The languages that reports and messages are written in. */
export type Language = "en" | "es";

/** Every sentence that can be in a report, a message or a download; English. Pages that need one area import it alone. */
export const en = {
  language: "en" as Language,
  entries: entriesEn,
  incidentLine: incidentLineEn,
  criterion: criterionEn,
  standing: standingEn,
  progress: progressEn,
  changes: changesEn,
  sides: sidesEn,
  family: familyEn,
  findings: findingsEn,
  report: reportEn,
  jots: jotsEn,
  statement: statementEn,
  chart: chartEn,
  chartText: chartTextEn,
  goalHistory: goalHistoryEn,
};

/** All sentences of one language. A language that lacks one, or has one too many, does not compile. */
export type Catalogue = typeof en;
