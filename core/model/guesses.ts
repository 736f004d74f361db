/** What a person may think an incident was for. */
export const guesses = ["attention", "escape", "sensory", "tangible", "unknown"] as const;
export type Guess = (typeof guesses)[number];
