import { index, layout, type RouteConfig, route } from "@react-router/dev/routes";

/** The whole site. Every loader and action behind these paths asks server/access first. */
export default [
  index("routes/sign-in/start.ts"),
  route("sign-in", "routes/sign-in/sign-in.tsx"),
  route("sign-out", "routes/sign-in/sign-out.ts"),
  route("first-run", "routes/sign-in/first-run.tsx"),

  layout("routes/frame/frame.tsx", [
    route("caseload", "routes/caseload/caseload.tsx"),
    route("students/:studentId", "routes/student/student.tsx", [
      index("routes/student/goals.tsx", { id: "student-goals" }),
      route("goals/:goalId", "routes/student/goals.tsx", { id: "student-goal" }),
      route("entries/:entryId", "routes/student/entry.tsx"),
    ]),
    route("students/:studentId/report", "routes/report/report.tsx"),
  ]),

  route("students/:studentId/goals/:goalId/record", "routes/record/record.tsx"),

  route("find", "routes/frame/find.ts"),
  route("live", "routes/live/live.ts"),
  route("*", "routes/not-found.tsx"),
] satisfies RouteConfig;
