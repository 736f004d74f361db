/** Where the all-day tallies that a person's device knows of lie, beside their pack. */
export const talliesPlace = (personId: string) => `${personId} tallies`;

/** Where the incident or the jot that a person is writing lies, beside their pack. */
export const draftPlace = (personId: string, kind: "incident" | "jot") => `${personId} ${kind}`;
