import { index, layout, type RouteConfig, route } from "@react-router/dev/routes";

/** The whole site. Every loader and action behind these paths asks server/access first. */
export default [
  index("routes/sign-in/start.ts"),
  route("sign-in", "routes/sign-in/sign-in.tsx"),
  route("sign-out", "routes/sign-in/sign-out.ts"),
  route("first-run", "routes/sign-in/first-run.tsx"),

  layout("routes/frame/frame.tsx", [
    route("caseload", "routes/caseload/caseload.tsx"),
    route("today", "routes/today/today.tsx"),
    route("devices", "routes/recording/devices.tsx"),
    route("past", "routes/past/past.tsx"),
    route("sheets", "routes/past/sheets.tsx"),
    route("school", "routes/school/school.tsx", [
      index("routes/school/start.ts", { id: "school-start" }),
      route("calendar", "routes/school/calendar.tsx"),
      route("week", "routes/school/week.tsx"),
      route("groups/:groupId?", "routes/school/groups.tsx"),
      route("staff/:personId?", "routes/school/staff.tsx"),
      route("templates", "routes/school/templates.tsx"),
      route("templates/:templateId", "routes/school/template.tsx"),
      route("lists", "routes/school/lists.tsx"),
      route("incidents", "routes/school/incidents.tsx", { id: "school-incidents" }),
      route("patterns", "routes/school/patterns.tsx", { id: "school-patterns" }),
    ]),
    route("school/patterns.csv", "routes/school/patterns-csv.ts", { id: "school-patterns-csv" }),
    route("students/new", "routes/student/edit-student.tsx", { id: "new-student" }),
    route("students/:studentId", "routes/student/student.tsx", [
      index("routes/student/goals.tsx", { id: "student-goals" }),
      route("goals/:goalId", "routes/student/goals.tsx", { id: "student-goal" }),
      route("entries/:entryId", "routes/student/entry.tsx"),
      route("not-measured/:noteId", "routes/student/not-measured.tsx"),
      route("beside/:observationId", "routes/student/beside.tsx"),
      route("incidents", "routes/incidents/incidents.tsx"),
      route("incidents/several", "routes/incidents/several.tsx"),
      route("incidents/:incidentId", "routes/incidents/incident.tsx"),
      route("choices", "routes/incidents/choices.tsx"),
      route("patterns", "routes/incidents/patterns.tsx"),
      route("plans/:planId", "routes/incidents/plan.tsx"),
      route("noted/:patternId", "routes/incidents/noted.tsx"),
    ]),
    route("students/:studentId/edit", "routes/student/edit-student.tsx", { id: "edit-student" }),
    route("students/:studentId/order", "routes/student/order.tsx"),
    route("students/:studentId/copy", "routes/student/copy.tsx"),
    route("students/:studentId/absent-today", "routes/student/absent-today.ts"),
    route("students/:studentId/goals/new", "routes/student/set-up.tsx", { id: "new-goal" }),
    route("students/:studentId/goals/:goalId/set-up", "routes/student/set-up.tsx", { id: "goal-set-up" }),
    route("students/:studentId/report", "routes/report/report.tsx"),
    route("students/:studentId/patterns.csv", "routes/incidents/patterns-csv.ts"),
  ]),

  route("students/:studentId/goals/:goalId/record", "routes/record/record.tsx"),

  // Works without a network: no loader, no parameter in its path, nothing personal in its document.
  route("record", "routes/record/sitting.tsx"),
  route("recording/pack", "routes/recording/pack.ts"),
  route("recording/keep", "routes/recording/keep.ts"),
  route("recording/now", "routes/recording/now.ts"),
  route("recording/hand-over", "routes/recording/hand-over.ts"),
  route("recording/near", "routes/recording/near.ts"),

  route("wording", "routes/student/wording.ts"),
  route("find", "routes/frame/find.ts"),
  route("live", "routes/live/live.ts"),
  route("*", "routes/not-found.tsx"),
] satisfies RouteConfig;
