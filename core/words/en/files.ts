import { inDigits } from "../numbers.ts";

/** What files of a report say around it; English. A column has its name and what it holds. */
export const filesEn = {
  edition: (n: number) => `Edition ${inDigits(n)}`,
  about: () => "About this file",
  log: () => "Log",
  incidents: () => "Incidents",
  jots: () => "Jots",
  dictionary: () => "Columns",
  dictionaryHead: () => ["Sheet", "Column", "What it holds"],
  goal: (number: string) => `Goal ${number}`,
  part: (at: number, of: number) => `Part ${inDigits(at)} of ${inDigits(of)}`,
  /** What stands in cells in the words of the figures command; each is shown as it is where it is not named here. */
  values: { out: "not compared" } as Readonly<Record<string, string>>,
  columns: {
    date: ["Date", "The school's own day."],
    time: ["Time", "The school's own time; empty where only the day is known."],
    phase: ["Phase", "The stretch of the goal that the point belongs to; baseline comes before teaching."],
    value: [
      "Value",
      "The result of the session, or of the day, week or month that the goal is counted by. Empty where it does not count.",
    ],
    unit: ["Unit", "What the value is in."],
    counted: ["Counted", "How many of them, as correct answers or steps; empty where the value is no share."],
    of: ["Of", "Out of how many."],
    judged: ["Meets criterion", "yes or no, or not compared with it."],
    setting: ["Setting", "Where it was."],
    observer: ["Observed by", "Who observed."],
    antecedents: ["Antecedents", "What was seen before."],
    behaviors: ["Behaviors", "What was seen."],
    consequences: ["Consequences", "What was seen after."],
    function: ["Suspected function", "What the behavior may get or avoid, as it was recorded."],
    minutes: ["Minutes", "How long it lasted, where it was timed."],
    intensity: ["Intensity", "From 1, the lowest."],
    episode: ["Episode", "Incidents less than 30 minutes apart have the same number."],
    period: ["Period", "The period of the timetable, where no time was noted."],
    length: ["Length", "How long it lasted, where that was estimated."],
    category: ["Category", "What the jot is about."],
    level: ["Level", "The level that was chosen."],
    own: ["Own rating", "yes where the student gave it."],
    words: ["Words", "What was written."],
    pictures: ["Pictures", "What they show."],
    goal: ["Goal", "The number of the goal."],
    line: ["Line", "The entry as the report says it."],
    note: ["Note", "What was written beside it."],
    by: ["By", "When, and who observed."],
  } as Record<ColumnKey, readonly [name: string, holds: string]>,
};

/** The columns of the tables of a report. */
export type ColumnKey =
  | ("date" | "time" | "phase" | "value" | "unit" | "counted" | "of" | "judged" | "setting" | "observer")
  | ("antecedents" | "behaviors" | "consequences" | "function" | "minutes" | "intensity" | "episode")
  | (
      | "period"
      | "length"
      | "category"
      | "level"
      | "own"
      | "words"
      | "pictures"
      | "goal"
      | "line"
      | "note"
      | "by"
    );

/** What files of a report say around it, in one language. */
export type FileWords = typeof filesEn;
