import { type IncidentSettings, starterSettings } from "#core/incidents/settings.ts";
import type { Visit } from "../access/visit.ts";

/** How this school records incidents; what it has not said itself is as the program begins. */
export async function readIncidentSettings({ trx, person }: Visit): Promise<IncidentSettings> {
  const { rows } = await trx.raw<{ rows: { settings: Partial<IncidentSettings> }[] }>(
    "select settings from incident_settings where school_id = ?",
    [person.schoolId],
  );
  return { ...starterSettings, ...rows[0]?.settings };
}
