/** The outcome that every outcomes measure has, without credit. */
export const otherOutcome = "other";
