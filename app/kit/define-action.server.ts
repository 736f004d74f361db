import type * as z from "zod/mini";
import { type AppLoadContext, data } from "react-router";
import { keepTyped } from "#app/kit/keep-typed.server.ts";
import { type Problems, readForm, typedValues } from "#app/ui/form-data.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import type { Permission } from "#server/access/table.ts";
import { notFound } from "#server/errors.ts";

/** What was typed, field by field, to be given back beside the problems. */
export type Typed = Record<string, string>;

type Answered<More> = ReturnType<typeof data<{ problems: Problems; typed: Typed } & More>>;

/** A form as it was sent. */
export interface Submitted<Params> {
  request: Request;
  params: Params;
  form: FormData;
  typed: Typed;
  /** The address of this site as the sender's browser knows it, and whether it sends mail. */
  site: { origin: string; mails: boolean };
  /** Gives the form back with a message beside each field that is wrong; `form` stands for the whole. Nothing typed is lost. */
  wrong: (problems: Problems, status?: number) => Answered<object>;
}

interface Args<Params> {
  request: Request;
  context: AppLoadContext;
  params: Params;
}

interface Asked<Params> {
  /** What the sender must be allowed to, for the student of the address where it names one. */
  permission: Permission | ((submitted: Submitted<Params>) => Permission);
}

/** A day and a time of day sent as `name.date` and `name.time` are one value under `name`: the date, `T`, and the time as typed. */
function joinMoments(form: FormData): void {
  for (const name of [...form.keys()].filter((one) => one.endsWith(".date"))) {
    const base = name.slice(0, -".date".length);
    const [on, time] = [form.get(name), form.get(`${base}.time`)];
    if (typeof on === "string" && typeof time === "string" && !form.has(base))
      form.set(base, `${on}T${time}`);
  }
}

const studentOf = (params: object): string | null =>
  "studentId" in params && typeof params.studentId === "string" ? params.studentId : null;

/** What an action asks before it runs, by its intents, `""` where it has one act only; null where that depends on what is sent. */
export type AsksFor = Readonly<Record<string, Permission | null>>;

/** An action that runs `work` for whoever may: nothing typed is lost, whatever happens. It tells the table of docs/access.md what it asks. */
function authorized<Params extends object, Answer>(
  { permission }: Asked<Params>,
  work: (scope: PersonScope, submitted: Submitted<Params>) => Promise<Answer>,
  asksFor: AsksFor = { "": typeof permission === "string" ? permission : null },
) {
  const act = async ({ request, context, params }: Args<Params>) => {
    const form = await request.formData();
    joinMoments(form);
    const typed = typedValues(form);
    const submitted: Submitted<Params> = {
      ...{ request, params, form, typed },
      site: { origin: new URL(request.url).origin, mails: context.mails ?? false },
      wrong: (problems, status = 422) => data({ problems, typed }, { status }),
    };
    const asked = typeof permission === "function" ? permission(submitted) : permission;
    return keepTyped(typed, () =>
      authorize(request, context, asked, studentOf(params), (scope) => work(scope, submitted)),
    );
  };
  return Object.assign(act, { asksFor });
}

/** The action of a form that reads its fields itself, as rows of a table are: who may send it, and what it does. */
export const defineForm = <Params extends object, Answer>({
  run,
  ...asked
}: Asked<Params> & {
  run: (scope: PersonScope, submitted: Submitted<Params>) => Promise<Answer>;
}) => authorized(asked, run);

/**
 * The action of a form: who may send it, its schema, and what it does with values that are right. Values that are wrong come back with
 * their messages; what `run` throws as `Invalid` does too, and takes everything back.
 */
export const defineAction = <Params extends object, Schema extends z.ZodMiniType, Answer>({
  schema,
  run,
  ...asked
}: Asked<Params> & {
  schema: Schema;
  run: (scope: PersonScope, values: z.output<Schema>, submitted: Submitted<Params>) => Promise<Answer>;
}) =>
  authorized(asked, async (scope, submitted: Submitted<Params>) => {
    const read = readForm(submitted.form, schema);
    return read.ok ? run(scope, read.values, submitted) : submitted.wrong(read.problems);
  });

/** One intent of a form with several buttons. It needs the page's permission, or its own where it has one. */
export interface Intent<Params, Answer> {
  permission?: Permission;
  run: (scope: PersonScope, submitted: Submitted<Params>) => Promise<Answer>;
}

/** An intent with a schema of its own, as `defineAction` has. `part` says which part of its page the problems belong to. */
export const intent = <Params, Schema extends z.ZodMiniType, Answer>({
  schema,
  part,
  permission,
  run,
}: {
  schema: Schema;
  part?: string;
  permission?: Permission;
  run: (scope: PersonScope, values: z.output<Schema>, submitted: Submitted<Params>) => Promise<Answer>;
}): Intent<Params, Answer | Answered<{ part?: string }>> => ({
  ...(permission ? { permission } : {}),
  async run(scope, submitted) {
    const read = readForm(submitted.form, schema);
    if (read.ok) return run(scope, read.values, submitted);
    const { typed } = submitted;
    return data({ problems: read.problems, typed, ...(part ? { part } : {}) }, { status: 422 });
  },
});

type AnyIntents = Readonly<Record<string, Intent<never, unknown>>>;
type AnswerOf<Intents> =
  Intents extends Readonly<Record<string, Intent<never, infer Answer>>> ? Answer : never;

/**
 * The action of a page whose form says with its button what it is sent for. `otherwise` is what it is sent for where it names
 * nothing; another name is not found. The permission asked is that of what is run, so that the two cannot differ.
 */
export function defineIntents<Params extends object, Intents extends AnyIntents>({
  permission,
  intents,
  otherwise,
}: Asked<Params> & { intents: Intents; otherwise?: keyof Intents }) {
  const wanted = ({ form }: Submitted<Params>) => {
    const named = form.get("intent") || otherwise;
    const found = typeof named === "string" && Object.hasOwn(intents, named) ? intents[named] : undefined;
    return found as Intent<Params, AnswerOf<Intents>> | undefined;
  };
  const asked = (submitted: Submitted<Params>) =>
    wanted(submitted)?.permission ?? (typeof permission === "function" ? permission(submitted) : permission);
  const ofPage = typeof permission === "function" ? null : permission;
  return authorized(
    { permission: asked },
    (scope, submitted: Submitted<Params>) => (wanted(submitted) ?? notFound()).run(scope, submitted),
    Object.fromEntries(Object.entries(intents).map(([name, one]) => [name, one.permission ?? ofPage])),
  );
}
