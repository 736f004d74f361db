/** What stands under the choice that a jot or a note is for the team only: 34 CFR 99.10 (FERPA) and 34 CFR 300.613 (IDEA) let parents inspect it. */
export const teamOnlyHint =
  "Left out of family reports. Parents may still inspect it on request (34 CFR 99.10, 34 CFR 300.613).";
