import * as z from "zod/mini";
import { type AudienceSettings, fieldNames, sectionNames } from "./audience.ts";

/** The settings of an audience as a form sends them and as they are stored. */
export const audienceSettingsSchema = z.object({
  sections: z.array(z.enum(sectionNames)),
  fields: z.array(z.enum(fieldNames)),
  staff: z.enum(["names", "initials", "none"]),
  when: z.enum(["times", "dates"]),
  entries: z.enum(["list", "table", "sentences"]),
  plain: z.boolean(),
  language: z.enum(["en", "es"]),
}) satisfies z.ZodMiniType<AudienceSettings>;
