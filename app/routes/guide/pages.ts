import calendar from "../../../docs/screenshots/calendar.png";
import caseload from "../../../docs/screenshots/caseload.png";
import goalSetUp from "../../../docs/screenshots/goal-set-up.png";
import incident from "../../../docs/screenshots/incident.png";
import meeting from "../../../docs/screenshots/meeting.png";
import patterns from "../../../docs/screenshots/patterns.png";
import report from "../../../docs/screenshots/report.png";
import sitting from "../../../docs/screenshots/sitting.png";
import statement from "../../../docs/screenshots/statement.png";
import student from "../../../docs/screenshots/student.png";
import { guideContents, type GuideSlug } from "./contents.ts";

interface GuidePage {
  picture: string;
  /** What the picture shows, for who does not see it. */
  alt: string;
  paragraphs: readonly string[];
  steps: readonly string[];
}

const pages: Record<GuideSlug, GuidePage> = {
  caseload: {
    picture: caseload,
    alt: "The caseload: a line for each student, with the goals, their standing and their last values.",
    paragraphs: [
      "The caseload lists the students whose circle you belong to. Each goal shows its number, its standing as a shape with a word, the last value, the last points and when data are due next.",
      "Students who need attention come first: behind the aim line, a criterion that is reached and not confirmed, no data for two school weeks, due today.",
    ],
    steps: [
      "“New student” adds one student; a given name is enough. “Several students” reads a list of names.",
      "Choose by standing, area, person or group above the list.",
      "The students are at the left edge too, on a phone at the bottom. Find leads to any of them by a part of the name.",
    ],
  },
  "first-goal": {
    picture: goalSetUp,
    alt: "The set-up of a goal: its wording with the parts that were read underlined, and the preview beside it.",
    paragraphs: [
      "A goal begins with its words. Paste them as the IEP has them: kind, criterion, baseline, dates and schedule are read from the wording, and what was read is underlined.",
      "Look at each field, change what is not right, and save. The preview shows how the goal will be recorded and how its line in the report will read.",
    ],
    steps: [
      "Open the student and choose “New goal”.",
      "Paste the wording. Correct what was read.",
      "Save. The criterion, the due date and the baseline can also be added later.",
    ],
  },
  sitting: {
    picture: sitting,
    alt: "A sitting with three students side by side, each with large buttons to mark.",
    paragraphs: [
      "A sitting is one stretch of taking data: one goal of one student, or several students side by side. Mark with the large buttons or with the digits on them. Each mark is on this device at once, also without a network.",
      "“Finish” shows the lines as the reports will have them. Anything open is asked about there, such as fewer opportunities than planned.",
    ],
    steps: [
      "Choose Record. Goals due today are chosen already.",
      "Mark. Undo takes the last mark back; the arrow goes on to the next goal or student.",
      "“Absent”, “refused” and “interrupted” say what was not as planned.",
      "Finish, look at the lines, save.",
    ],
  },
  incident: {
    picture: incident,
    alt: "Recording an incident: columns for what came before, what the student did and what followed.",
    paragraphs: [
      "An incident needs the student and what the student did. What came before, what followed, the place, how long and how strong can be added at once or later.",
      "The words are the student’s own: the case manager sets them under “Choice lists”, with what each behavior looks like.",
    ],
    steps: [
      "Choose Incident. From a student’s page that student is chosen already.",
      "Touch what the student did. Touch again to take it back.",
      "Save. The line is in the report; its page adds details, corrects it and keeps its history.",
    ],
  },
  progress: {
    picture: student,
    alt: "A student’s goal with its chart: points, aim line, criterion and phases.",
    paragraphs: [
      "The chart shows each point with its date. The dotted line is the criterion, the dashed line is the aim line from the baseline to the criterion on the due date. A vertical line begins a phase.",
      "Standing compares the last points with the aim line; fewer than four points in a phase are called too few. Each sentence can be opened to see how it is computed.",
    ],
    steps: [
      "Open a point to see the entry behind it, and correct it there.",
      "Record a decision below the chart: keep going, change the instruction, a new phase. It becomes a line of the report.",
      "PNG, SVG and CSV take the chart and its numbers along.",
    ],
  },
  patterns: {
    picture: patterns,
    alt: "The patterns of a student’s incidents: findings, times of the day and what surrounds them.",
    paragraphs: [
      "Patterns counts a student’s incidents by time, place, antecedent, behavior and consequence. A finding is what occurs more often than expected from the other incidents, with the strength of its evidence.",
      "A finding is something to check in the room, not a cause. Few incidents give few findings, and the page says so.",
    ],
    steps: [
      "Open the student’s Incidents, then Patterns.",
      "Choose a span or a behavior.",
      "Add a finding to the report where the team should see it. Write down a plan, and compare before and after.",
    ],
  },
  report: {
    picture: report,
    alt: "A student’s report: lines of entries and incidents by day.",
    paragraphs: [
      "The report writes itself: each entry, incident, decision and finding is a line as soon as it is saved. The support team reads the same lines.",
      "A correction replaces the line. A removal takes it out. The history of both stays on the line’s page and is not in the report.",
    ],
    steps: [
      "Open the student and choose Report, or open a line in the margin.",
      "Open a line to correct it. Say why, if you like.",
      "Print prints the report and nothing else.",
    ],
  },
  "progress-reports": {
    picture: statement,
    alt: "The statements of a reporting period by student and goal, and the open statement beside them.",
    paragraphs: [
      "For each reporting period every open goal has a progress statement. Its first sentences are drafted from the numbers: this period, the one before, the baseline, the latest session, and whether progress is enough to reach the goal by its due date.",
      "You add your own words and a rating from your school’s list, and mark the statement ready. Only statements that are ready appear in the report and in editions, with the numbers as you read them.",
    ],
    steps: [
      "Press g then p, or choose Progress reports at the end of the caseload.",
      "Open the first goal to write. Read the draft, write, choose a rating, and press Ctrl and Enter: the next goal opens.",
      "Under “Written by”, give a goal to the speech, occupational or PE specialist of the circle. The filter “from others” shows what you wait for.",
      "When entries come after a statement is ready, it says so. Read the numbers again and mark it ready once more.",
    ],
  },
  meeting: {
    picture: meeting,
    alt: "A goal in a meeting: a sentence, a large chart, where it began and where it is now.",
    paragraphs: [
      "The meeting shows one goal at a time on a wall: a sentence, the chart, where it began and where it is now, and what changed. Goals that need a decision come first.",
      "It reads as the family’s report does, until you choose other readers. What is for the team only is on no page of it.",
    ],
    steps: [
      "Open the student’s report and choose Meeting. It fills the screen.",
      "Turn the page with the arrow keys, a clicker or a finger. The key b makes the wall dark, d shows initials in place of the name.",
      "Write questions, decisions and what was agreed at once. My notes opens your own notes beside it.",
      "On the last page, end the meeting. You look through the edition before it is made.",
    ],
  },
  school: {
    picture: calendar,
    alt: "The school’s calendar: school year, reporting periods and days without school.",
    paragraphs: [
      "The calendar says on which days there is school. Days without school are not due and not counted. The timetable gives an observation without a time its place in the day.",
      "Groups are students who are recorded together. Staff says who belongs to the school and who carries a caseload. Lists hold the school’s own words.",
    ],
    steps: [
      "Choose “The school” at the end of the caseload.",
      "Set the school year, its reporting periods and closures first.",
      "Then groups with the times at which they meet: the one that meets now is offered first when you record.",
    ],
  },
};

/** A page of the guide; null where there is none of this name. */
export function guidePage(slug: string): (GuidePage & { slug: GuideSlug; title: string }) | null {
  const entry = guideContents.find((one) => one.slug === slug);
  return entry ? { ...entry, ...pages[entry.slug] } : null;
}
