/** The pages of the guide in their order; `words` are what one may look for besides the title. */
export const guideContents = [
  { slug: "caseload", title: "The caseload", words: "students standing attention find new student list" },
  { slug: "first-goal", title: "Setting up a goal", words: "wording IEP criterion baseline kind measure" },
  {
    slug: "sitting",
    title: "Recording in a sitting",
    words: "trials marks data collection several students offline",
  },
  { slug: "incident", title: "Recording an incident", words: "ABC antecedent behavior consequence" },
  { slug: "progress", title: "Progress and decisions", words: "chart aim line trend phase percentage" },
  { slug: "patterns", title: "Patterns of incidents", words: "findings function plan hours" },
  { slug: "report", title: "The report", words: "team lines correct history print" },
  {
    slug: "progress-reports",
    title: "Progress-report week",
    words: "statements rating period trimester ready related service",
  },
  { slug: "meeting", title: "The meeting", words: "IEP wall present full screen family agreed clicker" },
  { slug: "school", title: "The school", words: "calendar timetable groups staff lists templates" },
] as const;
export type GuideSlug = (typeof guideContents)[number]["slug"];
