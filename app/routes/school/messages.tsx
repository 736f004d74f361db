import * as z from "zod/mini";
import { Link, redirect, useSearchParams } from "react-router";
import { isMessageKind, messageKinds, type MessageKind } from "#core/dispatch/message-kinds.ts";
import { fieldsOfKind, templateProblems } from "#core/dispatch/template.ts";
import type { Language } from "#core/words/en.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listOwnTemplates, readMessageTemplate, saveTemplateOf } from "#server/db/mail-settings.ts";
import { listStudents } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { Field, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { kindWords } from "../dispatch/message-words.ts";
import { previewTemplate } from "./preview-template.server.ts";
import type { Route } from "./+types/messages";

const languageOf = (search: URLSearchParams): Language => (search.get("in") === "es" ? "es" : "en");

function readAddress(request: Request): { kind: MessageKind; language: Language } {
  const search = new URL(request.url).searchParams;
  const kind = search.get("kind") ?? "entry";
  return { kind: isMessageKind(kind) ? kind : notFound(), language: languageOf(search) };
}

/** The person's students, for the preview. */
const previewStudents = async (scope: PersonScope) =>
  (await listStudents(scope)).map(({ studentId, name }) => [studentId, name] as const);

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => {
    const { kind, language } = readAddress(request);
    const own = await listOwnTemplates(scope);
    return {
      ...{ kind, language, fields: fieldsOfKind[kind] },
      template: await readMessageTemplate(scope, kind, language),
      mayEditMail: may(scope.actor, "staff.edit", { circleRole: null }),
      own: own.map((one) => `${one.kind} ${one.language}`),
      students: await previewStudents(scope),
    };
  });
}

const schema = z.looseObject({
  subject: z.string().check(z.trim(), z.maxLength(200, "At most 200 characters.")),
  text: z.string().check(z.trim(), z.maxLength(5000, "At most 5,000 characters.")),
  student: z._default(z.string(), ""),
});

/** What is wrong with a template, beside its fields. */
const problemsWith = (kind: MessageKind, { subject, text }: { subject: string; text: string }) => {
  const problems = templateProblems(kind, { subject, text: text.replaceAll("\r\n", "\n") });
  return Object.keys(problems).length > 0 ? { ...problems } : null;
};

export const action = defineIntents({
  permission: "school.edit",
  intents: {
    save: intent({
      schema,
      async run(scope, { subject, text }, { request, wrong }: Submitted<object>) {
        const { kind, language } = readAddress(request);
        const problems = problemsWith(kind, { subject, text });
        if (problems) return wrong(problems);
        await saveTemplateOf(scope, kind, language, { subject, text: text.replaceAll("\r\n", "\n") });
        return redirect(`/school/messages?kind=${kind}&in=${language}&done=1`);
      },
    }),
    preview: intent({
      schema,
      async run(scope, { subject, text, student }, { request, wrong, typed, site }: Submitted<object>) {
        const { kind, language } = readAddress(request);
        const problems = problemsWith(kind, { subject, text });
        if (problems) return wrong(problems);
        const template = { subject, text: text.replaceAll("\r\n", "\n") };
        return {
          typed,
          preview: await previewTemplate(scope, {
            kind,
            language,
            template,
            studentId: student,
            site: site.origin,
          }),
        };
      },
    }),
    "put back": intent({
      schema: z.looseObject({}),
      async run(scope, _, { request }: Submitted<object>) {
        const { kind, language } = readAddress(request);
        await saveTemplateOf(scope, kind, language, null);
        return redirect(`/school/messages?kind=${kind}&in=${language}&done=1`);
      },
    }),
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** Puts a field where the cursor is in the text. */
function insertField(name: string) {
  const area = document.querySelector<HTMLTextAreaElement>('textarea[name="text"]');
  if (!area) return;
  area.setRangeText(`[${name}]`, area.selectionStart, area.selectionEnd, "end");
  area.dispatchEvent(new Event("input", { bubbles: true }));
  area.focus();
}

/** The words of the school's messages, a kind and a language at a time. */
export default function MessageTemplates({
  loaderData: { kind, language, fields, template, own, students, mayEditMail },
  actionData,
}: Route.ComponentProps) {
  const search = useSearchParams()[0];
  const answer = actionData && "problems" in actionData ? actionData : undefined;
  const shown = actionData && "preview" in actionData ? actionData : null;
  const { busy, problems, field } = useForm(answer);
  return (
    <div className="max-w-3xl">
      <PageTitle title="Words of the messages" className="sr-only" />
      <h2 className="font-serif text-lg font-semibold">Words of the messages</h2>
      <p className="mt-1 text-[0.9375rem]">
        What the school’s messages say. A message holds the least: initials and a link.{" "}
        {mayEditMail ? (
          <Link className="link" to="/school/mail">
            Mail server and limits
          </Link>
        ) : null}
      </p>
      <ChoicesForm label="Which message" className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
        <Select
          className="min-w-0"
          label="Message"
          name="kind"
          defaultValue={kind}
          options={messageKinds.map(
            (one) =>
              [one, `${kindWords[one]}${own.includes(`${one} ${language}`) ? " (yours)" : ""}`] as const,
          )}
        />
        <Select
          className="min-w-0"
          label="Language"
          name="in"
          defaultValue={language}
          options={[
            ["en", "English"],
            ["es", "Spanish"],
          ]}
        />
      </ChoicesForm>
      {search.get("done") && !actionData ? (
        <p role="status" className="mt-3 w-fit rounded-lg bg-arrival px-4 py-2">
          Saved.
        </p>
      ) : null}
      <KeptForm
        key={`${kind} ${language} ${template.subject} ${template.text}`}
        draft={`template-${kind}-${language}`}
        method="post"
        className="mt-4 grid grid-cols-1 gap-3"
        preventScrollReset
        noValidate
      >
        <Field
          label="Subject"
          maxLength={200}
          dir="auto"
          {...field("subject", shown?.typed["subject"] ?? template.subject)}
        />
        <TextArea
          label="Text"
          rows={10}
          maxLength={5000}
          dir="auto"
          {...field("text", shown?.typed["text"] ?? template.text)}
        />
        <fieldset className="min-w-0">
          <legend className="text-fine font-bold">Fields</legend>
          <ul className="mt-1 flex flex-wrap gap-2">
            {fields.fields.map((name) => (
              <li key={name}>
                <button
                  type="button"
                  className="btn btn-plain btn-sm min-h-9"
                  onClick={() => insertField(name)}
                  aria-label={`Insert ${name}`}
                >
                  [{name}]
                </button>
              </li>
            ))}
          </ul>
          {fields.needs.length > 0 ? (
            <p className="mt-1 text-fine text-soft">
              The text needs {fields.needs.map((one) => `[${one}]`).join(", ")}.
            </p>
          ) : null}
        </fieldset>
        <FormProblem>{problems["form"]}</FormProblem>
        {shown ? (
          <section aria-labelledby="preview" className="rounded-lg bg-base-200 px-4 py-3">
            <h3 id="preview" className="text-fine font-bold">
              Preview{shown.preview.isExample ? ", with an example" : ""}
            </h3>
            <p className="mt-1 font-serif text-[1.1rem] font-semibold" dir="auto">
              {shown.preview.subject}
            </p>
            <p className="whitespace-pre-wrap" dir="auto">
              {shown.preview.text}
            </p>
          </section>
        ) : null}
        <div className="flex flex-wrap items-end gap-3">
          <button className="btn btn-primary" name="intent" value="save" disabled={busy}>
            Save
          </button>
          <button className="btn btn-plain" name="intent" value="preview" disabled={busy}>
            Preview
          </button>
          {students.length > 0 && fields.fields.includes("student") ? (
            <Select
              className="w-56 max-w-full"
              label="Preview with"
              name="student"
              defaultValue={shown?.typed["student"] ?? ""}
              options={[["", "an example"], ...students]}
            />
          ) : null}
          {template.isOwn ? (
            <button className="btn btn-plain" name="intent" value="put back" disabled={busy}>
              Put the first words back
            </button>
          ) : null}
        </div>
      </KeptForm>
    </div>
  );
}
