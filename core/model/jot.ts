import * as z from "zod/mini";
import { isWebAddress, mostPictures } from "./jot-rules.ts";

/** One level of a category: how much help, how well. What it means is read beside it. */
export const jotLevelSchema = z.object({
  levelId: z.uuid(),
  name: z.string().check(z.minLength(1), z.maxLength(80)),
  /** What counts as this level; empty where the name says it. */
  meaning: z.string().check(z.maxLength(300)),
});
export interface JotLevel extends z.infer<typeof jotLevelSchema> {}

/** What a school writes jots about: "Work habits", with levels where it wants them, the lowest first. */
export const jotCategorySchema = z.object({
  categoryId: z.uuid(),
  name: z.string().check(z.minLength(1), z.maxLength(60)),
  levels: z.array(jotLevelSchema).check(z.maxLength(10)),
});
export interface JotCategory extends z.infer<typeof jotCategorySchema> {}

const captionSchema = z
  .string()
  .check(z.trim(), z.minLength(1, "Say in a few words what the picture shows."), z.maxLength(300));

/** What a jot holds beside its category, its time and its words. */
export const jotDetailsSchema = z.object({
  levelId: z.nullable(z.uuid()),
  /** Something to look at elsewhere. */
  link: z.nullable(
    z.object({
      url: z
        .string()
        .check(
          z.trim(),
          z.maxLength(1000),
          z.refine(isWebAddress, "Write the whole address, beginning with https://."),
        ),
      words: z.string().check(z.maxLength(120)),
    }),
  ),
  /** The pictures in their order. Each has words for those who do not see it. */
  pictures: z
    .array(z.object({ pictureId: z.uuid(), caption: captionSchema }))
    .check(z.maxLength(mostPictures, `At most ${mostPictures} pictures in one jot.`)),
});
export interface JotDetails extends z.infer<typeof jotDetailsSchema> {}

/** A picture of a jot as it is drawn. Its bytes are served apart. */
export interface JotPicture {
  pictureId: string;
  caption: string;
  /** Pixels, and the SHA-256 of its bytes; null while the picture is still on the device that took it. */
  file: { width: number; height: number; sha256: string } | null;
}

/** A jot as its readers see it. */
export interface Jot {
  jotId: string;
  studentId: string;
  authorId: string;
  observerId: string | null;
  /** In words: "I. Okafor", or "I. Okafor, written by N. Halloran". */
  author: string;
  /** Who rated or noted it: the observer, or the author where nobody else was named. Their number and short name. */
  rater: { personId: string; name: string };
  /** The school's own day, `YYYY-MM-DD`. */
  on: string;
  /** `HH:MM`; null where only the day or its period is known. */
  at: string | null;
  period: string | null;
  /** With the words that the category and its levels have now. */
  category: { categoryId: string; name: string } | null;
  /** The level, its place among those that are offered now (1 is the lowest; null where it is not offered any more) and how many there are. */
  level: (JotLevel & { step: number | null; of: number }) | null;
  link: JotDetails["link"];
  pictures: JotPicture[];
  note: string | null;
  /** The student's own rating. */
  own: boolean;
  teamOnly: boolean;
  state: "kept" | "removed";
  revision: number;
}
