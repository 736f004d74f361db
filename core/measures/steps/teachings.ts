/** In which order the steps of a chain are taught. */
export const teachings = ["forward", "backward", "total-task"] as const;
