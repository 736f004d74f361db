/** What an entry was taken for. */
export const purposes = ["probe", "teaching", "generalisation", "maintenance"] as const;
export type Purpose = (typeof purposes)[number];
