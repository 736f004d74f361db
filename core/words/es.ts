import type { Catalogue } from "./en.ts";
import { chartEs } from "./es/chart.ts";
import { chartTextEs } from "./es/chart-text.ts";
import { changesEs } from "./es/changes.ts";
import { criterionEs } from "./es/criterion.ts";
import { entriesEs } from "./es/entries.ts";
import { familyEs } from "./es/family.ts";
import { findingsEs } from "./es/findings.ts";
import { goalHistoryEs } from "./es/goal-history.ts";
import { incidentLineEs } from "./es/incident-line.ts";
import { jotsEs } from "./es/jots.ts";
import { progressEs } from "./es/progress.ts";
import { reportEs } from "./es/report.ts";
import { sidesEs } from "./es/sides.ts";
import { standingEs } from "./es/standing.ts";
import { statementEs } from "./es/statement.ts";

/** Every sentence that can be in a report, a message or a download; Spanish, as families in the United States read it. */
export const es: Catalogue = {
  language: "es",
  entries: entriesEs,
  incidentLine: incidentLineEs,
  criterion: criterionEs,
  standing: standingEs,
  progress: progressEs,
  changes: changesEs,
  sides: sidesEs,
  family: familyEs,
  findings: findingsEs,
  report: reportEs,
  jots: jotsEs,
  statement: statementEs,
  chart: chartEs,
  chartText: chartTextEs,
  goalHistory: goalHistoryEs,
};
