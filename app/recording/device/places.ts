/** Where the all-day tallies that a person's device knows of lie, beside their pack. */
export const talliesPlace = (personId: string) => `${personId} tallies`;

/** Where the jot that a person is writing lies, beside their pack. */
export const jotPlace = (personId: string) => `${personId} jot`;

/** Where the incident that a person is writing down lies, beside their pack. */
export const incidentPlace = (personId: string) => `${personId} incident`;
