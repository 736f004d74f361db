import { type AudienceSettings, fieldNames, sectionNames } from "#core/report/audience.ts";
import { audienceSettingsSchema } from "#core/report/audience-schema.ts";

const isOn = (typed: Readonly<Record<string, string>>, name: string) => typed[name] !== undefined;

/** The settings of an audience as its form has them; null where they are none that the form sends. */
export function readAudience(typed: Readonly<Record<string, string>>): AudienceSettings | null {
  const read = audienceSettingsSchema.safeParse({
    sections: sectionNames.filter((name) => isOn(typed, `section ${name}`)),
    fields: fieldNames.filter((name) => isOn(typed, `field ${name}`)),
    ...{ staff: typed["staff"], when: typed["when"], entries: typed["entries"] },
    ...{ plain: isOn(typed, "plain"), language: typed["language"] },
  });
  return read.success ? read.data : null;
}
