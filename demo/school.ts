import type { WeeklyRow } from "#core/schedule/timetable.ts";

/** The demo school. Every name and every number in it is invented. */
export const school = { name: "Larkspur Bay School", timeZone: "America/Los_Angeles" };

/** Students whose families read Spanish, by given name. */
export const familiesReadSpanish: readonly string[] = ["Juniper"];

/** The secret of the demo's link for Juniper's family. It opens invented data only, and only with a code. */
export const demoFamilyLink = "demo-link-of-marisol-reyes-for-junie-larksp";

/** Guardians of the demo, and how they come in. */
export const guardians: readonly {
  given: string;
  name: string;
  relation: string;
  email: string | null;
  language: "en" | "es";
  way: "account" | "link" | null;
  noAccess?: string;
  /** Have they agreed to e-mail, and was a code opened that was mailed to them? */
  mail?: "confirmed" | "agreed";
}[] = [
  {
    ...{ given: "Wren", name: "Lena Abara", relation: "mother", email: "lena.abara@home.example" },
    ...{ language: "en", way: "account", mail: "confirmed" },
  },
  {
    ...{ given: "Juniper", name: "Marisol Reyes", relation: "mother", email: "marisol.reyes@home.example" },
    ...{ language: "es", way: "link", mail: "confirmed" },
  },
  {
    ...{ given: "Juniper", name: "Dario Reyes", relation: "father", email: "dario.reyes@home.example" },
    ...{ language: "es", way: null, noAccess: "Court order of September 14; ask the principal." },
  },
  {
    // As it was written down from a form, with two letters changed.
    ...{ given: "Caspian", name: "Fergus Doyle", relation: "father", email: "fergus.doyle@hmoe.example" },
    ...{ language: "en", way: null, mail: "confirmed" },
  },
  {
    ...{ given: "Malik", name: "Ama Osei", relation: "mother", email: "ama.osei@home.example" },
    ...{ language: "en", way: null, mail: "agreed" },
  },
  {
    ...{ given: "Otis", name: "June Fairweather", relation: "grandmother", email: null },
    ...{ language: "en", way: null },
  },
];

/** The school's own words for areas of goals and for settings. */
export const lists = {
  area: [
    "Reading",
    "Writing",
    "Mathematics",
    "Language",
    "Speech",
    "Communication",
    "Behavior",
    "Social",
    "Daily living",
    "Fine motor",
    "Adapted PE",
    "Organization",
    "Vocational",
  ],
  setting: ["resource room", "classroom", "hallway", "gym", "lunch room", "speech room", "school office"],
};

/** The school year, in days from the Monday of its first week. */
export const year = {
  lastDay: 284,
  reportingPeriods: [
    { name: "Trimester 1", fromDay: 0, toDay: 88 },
    { name: "Trimester 2", fromDay: 91, toDay: 186 },
    { name: "Trimester 3", fromDay: 189, toDay: 284 },
  ],
  closures: [
    { name: "Staff day", fromDay: 32, toDay: 32 },
    { name: "Harbor day", fromDay: 65, toDay: 65 },
    { name: "Conference days", fromDay: 87, toDay: 88 },
    { name: "Winter break", fromDay: 105, toDay: 116 },
    { name: "Midwinter break", fromDay: 161, toDay: 165 },
    { name: "Spring break", fromDay: 210, toDay: 214 },
    { name: "Founders’ day", fromDay: 266, toDay: 266 },
  ],
};

const everyDay = [1, 2, 3, 4, 5];
export const timetable: WeeklyRow[] = [
  { name: "Arrival", startsAt: "08:30", endsAt: "08:50", weekdays: everyDay },
  { name: "Reading", startsAt: "08:50", endsAt: "09:50", weekdays: everyDay },
  { name: "Choice time", startsAt: "09:50", endsAt: "10:15", weekdays: [1, 3] },
  { name: "Recess", startsAt: "09:50", endsAt: "10:15", weekdays: [2, 4, 5] },
  { name: "Math", startsAt: "10:15", endsAt: "11:00", weekdays: everyDay },
  { name: "Writing", startsAt: "11:00", endsAt: "11:45", weekdays: everyDay },
  { name: "Lunch and yard", startsAt: "11:45", endsAt: "12:30", weekdays: everyDay },
  { name: "Art", startsAt: "12:30", endsAt: "13:20", weekdays: [1] },
  { name: "Science", startsAt: "12:30", endsAt: "13:20", weekdays: [2, 4] },
  { name: "Music", startsAt: "12:30", endsAt: "13:20", weekdays: [3] },
  { name: "Gym", startsAt: "12:30", endsAt: "13:20", weekdays: [5] },
  { name: "Workshop", startsAt: "13:20", endsAt: "14:10", weekdays: everyDay },
  { name: "Pack up", startsAt: "14:10", endsAt: "14:30", weekdays: everyDay },
];

/** Groups that meet, with their students by given name. */
export const groups: { name: string; meets: WeeklyRow[]; students: string[] }[] = [
  {
    name: "Window table reading",
    meets: [{ name: "", startsAt: "08:50", endsAt: "09:20", weekdays: [1, 3, 5] }],
    students: ["Wren", "Priya", "Isaura", "Juniper"],
  },
  {
    name: "Kitchen crew",
    meets: [{ name: "", startsAt: "13:20", endsAt: "14:10", weekdays: [4] }],
    students: ["Otis", "Tobias", "Rafi"],
  },
  {
    name: "Gym with Gus",
    meets: [
      { name: "", startsAt: "12:30", endsAt: "13:10", weekdays: [5] },
      { name: "", startsAt: "09:20", endsAt: "09:50", weekdays: [2] },
    ],
    students: ["Lumi", "Malik", "Caspian"],
  },
];

export const demoPassword = "gentle margin demo";

export type PersonKey = "noor" | "teo" | "mirela" | "ines" | "paloma" | "gus" | "hana" | "desmond";

export const people: Record<
  PersonKey,
  { given: string; family: string; position: string; role: "administrator" | "staff" }
> = {
  noor: { given: "Noor", family: "Halloran", position: "Case manager", role: "staff" },
  teo: { given: "Teo", family: "Brandvold", position: "Paraeducator", role: "staff" },
  mirela: { given: "Mirela", family: "Castellan", position: "Paraeducator", role: "staff" },
  ines: { given: "Ines", family: "Okafor", position: "Speech-language pathologist", role: "staff" },
  paloma: { given: "Paloma", family: "Ruiz", position: "Occupational therapist", role: "staff" },
  gus: { given: "Gus", family: "Lindqvist", position: "Adapted PE", role: "staff" },
  hana: { given: "Hana", family: "Whitlock", position: "Psychologist", role: "staff" },
  desmond: { given: "Desmond", family: "Achterberg", position: "Principal", role: "administrator" },
};

export function emailOf({ given, family }: { given: string; family: string }): string {
  return `${given}.${family}@larkspurbay.example`.toLowerCase();
}
