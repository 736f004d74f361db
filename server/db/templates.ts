import { notFound, requirePermission, type Visit } from "../access/visit.ts";
import { noteSchoolAct } from "./audit.ts";
import type { GoalContent } from "./goals.ts";
import { shortName } from "./rows.ts";

/** A goal of nobody's: words with blanks in them, and how such a goal is measured. */
export interface TemplateContent {
  title: string;
  area: string;
  wording: string;
  setUp: Pick<GoalContent, "measure" | "criterion" | "schedule" | "strategy">;
}

export interface Template extends TemplateContent {
  templateId: string;
  madeById: string;
  madeBy: string;
  /** Grows with every change: what tells whether a page still shows what stands. */
  changedAt: string;
  removed: boolean;
}

interface TemplateRow {
  template_id: string;
  title: string;
  area: string;
  wording: string;
  set_up: TemplateContent["setUp"];
  made_by: string;
  given_name: string;
  family_name: string;
  changed_at: string;
  removed: boolean;
}

const select = `
  select t.template_id, t.title, t.area, t.wording, t.set_up, t.made_by, p.given_name, p.family_name, t.changed_at::text,
    t.removed_at is not null as removed
  from goal_templates t join people p on p.school_id = t.school_id and p.person_id = t.made_by
  where t.school_id = :schoolId`;

function toTemplate(row: TemplateRow): Template {
  return {
    templateId: row.template_id,
    title: row.title,
    area: row.area,
    wording: row.wording,
    setUp: row.set_up,
    madeById: row.made_by,
    madeBy: shortName(row.given_name, row.family_name),
    changedAt: row.changed_at,
    removed: row.removed,
  };
}

/** The school's library of goals, by area and title. */
export async function listTemplates({ trx, person }: Visit): Promise<Template[]> {
  const { rows } = await trx.raw<{ rows: TemplateRow[] }>(
    `${select} and t.removed_at is null order by t.area = '', lower(t.area), lower(t.title), t.template_id`,
    { schoolId: person.schoolId },
  );
  return rows.map(toTemplate);
}

export async function findTemplate({ trx, person }: Visit, templateId: string): Promise<Template> {
  const { rows } = await trx.raw<{ rows: TemplateRow[] }>(`${select} and t.template_id = :templateId`, {
    schoolId: person.schoolId,
    templateId,
  });
  return toTemplate(rows[0] ?? notFound());
}

/** Adds a template. The same id sent twice is one template. */
export async function addTemplate(visit: Visit, templateId: string, content: TemplateContent): Promise<void> {
  requirePermission(visit, "template.add");
  const { trx, person } = visit;
  const { setUp, ...words } = content;
  const made = await trx("goal_templates")
    .insert({
      school_id: person.schoolId,
      template_id: templateId,
      ...words,
      set_up: JSON.stringify(setUp),
      made_by: person.personId,
    })
    .onConflict()
    .ignore()
    .returning("template_id");
  if (made.length > 0) await noteSchoolAct(visit, { act: "made", thing: "template", thingId: templateId });
}

async function requireChangeable(visit: Visit, templateId: string): Promise<Template> {
  await visit.trx.raw("select 1 from goal_templates where school_id = ? and template_id = ? for update", [
    visit.person.schoolId,
    templateId,
  ]);
  const template = await findTemplate(visit, templateId);
  requirePermission(visit, "template.change", template.madeById);
  return template;
}

/** Changes a template; goals that were made from it stay as they are. */
export async function changeTemplate(
  visit: Visit,
  templateId: string,
  { setUp, ...words }: TemplateContent,
  seen: string,
): Promise<"saved" | "conflict"> {
  const before = await requireChangeable(visit, templateId);
  if (before.changedAt !== seen) return "conflict";
  await visit
    .trx("goal_templates")
    .where({ school_id: visit.person.schoolId, template_id: templateId })
    .update({ ...words, set_up: JSON.stringify(setUp), changed_at: visit.trx.raw("clock_now()") });
  await noteSchoolAct(visit, { act: "changed", thing: "template", thingId: templateId });
  return "saved";
}

/** Takes a template out of the library, or puts it back. */
export async function removeTemplate(visit: Visit, templateId: string, removed: boolean): Promise<void> {
  await requireChangeable(visit, templateId);
  await visit
    .trx("goal_templates")
    .where({ school_id: visit.person.schoolId, template_id: templateId })
    .update({ removed_at: removed ? visit.trx.raw("clock_now()") : null });
  await noteSchoolAct(visit, {
    act: removed ? "removed" : "put back",
    thing: "template",
    thingId: templateId,
  });
}
