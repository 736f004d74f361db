import type { Database } from "#server/db/connection.ts";

/** Days on which a school's software is easily wrong. The demo is seeded on each; where its calendar has no such day, it is set so. */
export const eightDays: readonly {
  what: string;
  on: string;
  calendar?: (owner: Database, on: string) => Promise<unknown>;
}[] = [
  { what: "a Saturday", on: "2026-11-28" },
  { what: "a Sunday", on: "2026-11-29" },
  {
    what: "a closed day",
    on: "2026-11-25",
    calendar: (owner, on) =>
      owner.raw(
        `insert into closures (school_id, closure_id, name, from_on, to_on)
         select school_id, gen_random_uuid(), 'Storm day', :on, :on from schools`,
        { on },
      ),
  },
  {
    what: "the first day of school",
    on: "2026-09-08",
    calendar: (owner, on) => owner("school_years").update({ from_on: on }),
  },
  {
    what: "the last day of school",
    on: "2027-06-18",
    calendar: (owner, on) => owner("school_years").update({ to_on: on }),
  },
  { what: "the day the clocks go back", on: "2026-11-01" },
  { what: "the day the clocks go ahead", on: "2027-03-14" },
  { what: "the last day of the year", on: "2026-12-31" },
];

/** Is the whole of the tests wished for, slow ones too (`npm test -- --all`, and CI)? */
export const withSlowTests = process.env["GENTLE_MARGIN_ALL"] !== undefined;
