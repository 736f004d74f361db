import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { GoalContent } from "./goals.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Tables } from "./tables.ts";

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

interface TemplateRow extends Pick<
  Tables["goal_templates"],
  "template_id" | "title" | "area" | "wording" | "made_by"
> {
  set_up: TemplateContent["setUp"];
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
export async function listTemplates({ trx, schoolId }: Scope): Promise<Template[]> {
  const { rows } = await trx.raw<{ rows: TemplateRow[] }>(
    `${select} and t.removed_at is null order by t.area = '', lower(t.area), lower(t.title), t.template_id`,
    { schoolId },
  );
  return rows.map(toTemplate);
}

/**
 * One template of the school's library, one taken out too.
 *
 * @throws NotFound
 */
export async function findTemplate({ trx, schoolId }: Scope, templateId: string): Promise<Template> {
  const { rows } = await trx.raw<{ rows: TemplateRow[] }>(`${select} and t.template_id = :templateId`, {
    schoolId,
    templateId,
  });
  return toTemplate(rows[0] ?? notFound());
}

/** Adds a template. The same id sent twice is one template. */
export async function addTemplate(
  scope: PersonScope,
  templateId: string,
  content: TemplateContent,
): Promise<void> {
  requirePermission(scope, "template.add");
  const { trx, schoolId, actor } = scope;
  const { setUp, ...words } = content;
  const made = await trx("goal_templates")
    .insert({
      school_id: schoolId,
      template_id: templateId,
      ...words,
      set_up: JSON.stringify(setUp),
      made_by: actor.personId,
    })
    .onConflict()
    .ignore()
    .returning("template_id");
  if (made.length > 0)
    await recordEvent(scope, { act: "made", thing: "template", thingId: templateId, studentId: null });
}

async function requireChangeable(scope: PersonScope, templateId: string): Promise<Template> {
  await scope.trx.raw("select 1 from goal_templates where school_id = ? and template_id = ? for update", [
    scope.schoolId,
    templateId,
  ]);
  const template = await findTemplate(scope, templateId);
  requirePermission(scope, "template.change", template.madeById);
  return template;
}

/** Changes a template; goals that were made from it stay as they are. */
export async function changeTemplate(
  scope: PersonScope,
  templateId: string,
  { setUp, ...words }: TemplateContent,
  seen: string,
): Promise<"saved" | "conflict"> {
  const before = await requireChangeable(scope, templateId);
  if (before.changedAt !== seen) return "conflict";
  await scope
    .trx("goal_templates")
    .where({ school_id: scope.schoolId, template_id: templateId })
    .update({ ...words, set_up: JSON.stringify(setUp), changed_at: scope.trx.raw("clock_now()") });
  await recordEvent(scope, { act: "changed", thing: "template", thingId: templateId, studentId: null });
  return "saved";
}

/** Takes a template out of the library, or puts it back. */
export async function removeTemplate(
  scope: PersonScope,
  templateId: string,
  removed: boolean,
): Promise<void> {
  await requireChangeable(scope, templateId);
  await scope
    .trx("goal_templates")
    .where({ school_id: scope.schoolId, template_id: templateId })
    .update({ removed_at: removed ? scope.trx.raw("clock_now()") : null });
  await recordEvent(scope, {
    act: removed ? "removed" : "put back",
    thing: "template",
    thingId: templateId,
    studentId: null,
  });
}
