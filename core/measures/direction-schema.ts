import * as z from "zod/mini";

/** Which way is better: more, or less. */
export const directionSchema = z.enum(["increase", "decrease"]);
export type Direction = z.infer<typeof directionSchema>;
