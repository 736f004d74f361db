/** What is read or written in a fluency measure. */
export const fluencyUnits = ["words", "letters", "sounds", "digits"] as const;
