/** The files that a report is made into. `record` is everything of a student as a folder in a ZIP. */
export const fileFormats = ["pdf", "docx", "xlsx", "csv", "json", "text", "record"] as const;
export type FileFormat = (typeof fileFormats)[number];
