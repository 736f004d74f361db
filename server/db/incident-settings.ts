import { starterChoices } from "#core/incidents/starter-choices.ts";
import { type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import { type IncidentSettings, starterSettings } from "#core/incidents/settings.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import { listItems } from "./lists.ts";

/** What each list of a student begins with at this school. */
export type Starters = Readonly<Record<ChoiceList, readonly string[]>>;

/** Beside the settings a school may keep its own starters; those of `setting` are its list of settings. */
interface Stored extends IncidentSettings {
  starters: Partial<Starters>;
}

async function readStored({ trx, schoolId }: Scope): Promise<Partial<Stored>> {
  const { rows } = await trx.raw<{ rows: { settings: Partial<Stored> }[] }>(
    "select settings from incident_settings where school_id = ?",
    [schoolId],
  );
  return rows[0]?.settings ?? {};
}

/** How this school records incidents, with our defaults for what it has not set. */
export async function readIncidentSettings(scope: Scope): Promise<IncidentSettings> {
  const stored = await readStored(scope);
  const { bands, strengths, off, whyAsked, harmAsked } = { ...starterSettings, ...stored };
  return { bands, strengths, off, whyAsked, harmAsked };
}

/** The choices that a student without lists of their own begins with: the school's, or ours where it has none. */
export async function readStarters(scope: Scope): Promise<Starters> {
  const { starters } = await readStored(scope);
  const settings = await listItems(scope, "setting");
  return Object.fromEntries(
    choiceLists.map((list) => {
      const own = list === "setting" ? settings : starters?.[list];
      return [list, own && own.length > 0 ? own : starterChoices[list]];
    }),
  ) as unknown as Starters;
}

/** Saves how this school records incidents. Recorded incidents keep the bands and questions of their time. */
export async function saveIncidentSettings(
  scope: PersonScope,
  settings: IncidentSettings,
  starters: Partial<Starters>,
): Promise<void> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId } = scope;
  await trx("incident_settings")
    .insert({
      school_id: schoolId,
      settings: JSON.stringify({ ...settings, starters } satisfies Stored),
    })
    .onConflict("school_id")
    .merge(["settings"]);
  await recordEvent(scope, { act: "changed", thing: "incident settings", thingId: null, studentId: null });
}
