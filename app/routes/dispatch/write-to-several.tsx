import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { writtenFields, writtenProblems } from "#core/dispatch/template.ts";
import { shortName } from "#core/model/student-names.ts";
import { listed } from "#core/words/lists.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { sendToMany } from "#server/db/message-batches.ts";
import { schoolMails } from "#server/db/mail-settings.ts";
import { findNamesIn } from "#server/db/names.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { NamesLookedAt } from "#app/ui/names-looked-at.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { previewMessage } from "./preview.server.ts";
import { type ListedFamily, manyContents, readFamilies } from "./read-families.server.ts";
import type { Route } from "./+types/write-to-several";

const contentOf = (search: URLSearchParams) =>
  manyContents.find((one) => one === search.get("what")) ?? "words";

export function loader({ request, context }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  const what = contentOf(search);
  return authorize(request, context, "messages.many", null, async (scope) => ({
    ...{ what, batchId: newId() },
    mails: context.mails === true || (await schoolMails(scope)),
    ...(await readFamilies(scope, { what, whose: search.get("whose"), languages: null })),
  }));
}

const optional = z._default(z.string().check(z.trim(), z.maxLength(5000, "At most 5,000 characters.")), "");
const oneLine = z._default(z.string().check(z.trim(), z.maxLength(200, "At most 200 characters.")), "");
const schema = z.looseObject({
  batchId: id,
  ...{ subjectEn: oneLine, wordsEn: optional, subjectEs: oneLine, wordsEs: optional },
  namesLookedAt: z._default(z.enum(["yes", ""]), ""),
});
type Values = z.output<typeof schema>;
type Sent = Submitted<object>;

/** The words in each language in which there are any; what is wrong with them goes to its field. */
function readWritten({ subjectEn, wordsEn, subjectEs, wordsEs }: Values) {
  const problems: Record<string, string> = {};
  const written: Partial<Record<"en" | "es", { subject: string; words: string }>> = {};
  for (const [language, suffix, subject, words] of [
    ["en", "En", subjectEn, wordsEn],
    ["es", "Es", subjectEs, wordsEs],
  ] as const) {
    if (subject === "" && words === "") continue;
    const wrong = writtenProblems({ subject, text: words });
    if (wrong.subject) problems[`subject${suffix}`] = wrong.subject;
    if (wrong.text) problems[`words${suffix}`] = wrong.text;
    written[language] = { subject, words };
  }
  if (Object.keys(written).length === 0) problems["wordsEn"] = "Write the message.";
  return { written, problems };
}

/** Everything a message to several is made of; problems where something is wrong. */
async function readMany(scope: PersonScope, values: Values, { request, form }: Sent) {
  const search = new URL(request.url).searchParams;
  const what = contentOf(search);
  const { written, problems } = what === "words" ? readWritten(values) : { written: {}, problems: {} };
  if (Object.keys(problems).length > 0) return { ok: false as const, problems };
  const languages = what === "words" ? (["en", "es"] as const).filter((one) => one in written) : null;
  const read = await readFamilies(scope, { what, whose: search.get("whose"), languages });
  const ticked = read.list.filter(({ guardianId }) => form.get(`guardian.${guardianId}`) === "yes");
  return { ok: true as const, what, written, read, ticked };
}

export const action = defineIntents({
  permission: "messages.many",
  intents: {
    preview: intent({
      schema: z.looseObject({ ...schema.shape, previewFor: z._default(z.string(), "") }),
      async run(scope, values, sent: Sent) {
        const many = await readMany(scope, values, sent);
        if (!many.ok) return sent.wrong(many.problems);
        const able = many.ticked.filter(({ why }) => why === null);
        const one = able.find(({ guardianId }) => guardianId === values.previewFor) ?? able[0];
        if (!one) return sent.wrong({ form: "None of these families would get this. Tick one that can." });
        const preview = await previewMessage(scope, {
          ...{ kind: many.what === "words" ? ("words" as const) : ("edition" as const) },
          ...{ guardianId: one.guardianId, studentId: one.studentId, site: sent.site.origin },
          about: {
            ...(one.editionId ? { things: [one.editionId] } : {}),
            ...(many.what === "words" ? { written: many.written, by: nameOf(scope) } : {}),
          },
        });
        return {
          preview: { ...preview, for: one.name, guardianId: one.guardianId },
          typed: sent.typed,
          able: able.map(({ guardianId, name }) => [guardianId, name] as const),
        };
      },
    }),
    send: intent({
      schema,
      async run(scope, values, sent: Sent) {
        const many = await readMany(scope, values, sent);
        if (!many.ok) return sent.wrong(many.problems);
        const { what, written, read, ticked } = many;
        const able = ticked.filter(({ why }) => why === null);
        if (able.length === 0)
          return sent.wrong({ form: "None of these families would get this. Tick one that can." });
        const texts = Object.values(written).flatMap(({ subject, words }) => [subject, words]);
        const finds = (await findNamesIn(scope, newId(), texts)).flat();
        if (finds.length > 0 && values.namesLookedAt !== "yes")
          return sent.wrong({
            names: `${listed([...new Set(finds.map(({ text: words }) => `“${words}”`))])} may name a student. Every family on the list would read it.`,
          });
        const ids = new Set(able.map(({ guardianId }) => guardianId));
        await sendToMany(scope, {
          ...{ batchId: values.batchId, what, written, by: nameOf(scope) },
          title:
            what === "words"
              ? (Object.values(written)[0]?.subject.replaceAll(/\[[a-z]+\]/g, "…") ?? "")
              : `Reports${read.period ? ` of ${read.period}` : ""}: ${read.whoseWords}`,
          to: able,
          out: read.list
            .filter(({ guardianId }) => !ids.has(guardianId))
            .map(({ name, why }) => ({ name, why: why ?? "not ticked" })),
        });
        return redirect(`/dispatch/several/${values.batchId}`);
      },
    }),
  },
});

const nameOf = ({ actor }: PersonScope) => shortName(actor.givenName, actor.familyName);

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

function Families({
  list,
  without,
  others,
  typed,
}: {
  list: readonly ListedFamily[];
  without: readonly string[];
  others: number;
  typed: Readonly<Record<string, string>> | undefined;
}) {
  const able = list.filter(({ why }) => why === null);
  const out = list.filter(({ why }) => why !== null);
  return (
    <>
      <fieldset className="mt-4 min-w-0">
        <legend className="font-serif text-[1.15rem] font-semibold">
          Will get it <span className="font-normal text-soft">{inDigits(able.length)}</span>
        </legend>
        {able.length === 0 ? <p className="text-soft">Nobody yet. Below is what is missing.</p> : null}
        <ul className="grid grid-cols-1 gap-x-8 lg:grid-cols-2">
          {able.map(({ guardianId, name, student, language }) => (
            <li key={guardianId} className="border-t border-base-300">
              <label className="flex min-h-11 min-w-0 cursor-pointer flex-wrap items-center gap-x-3">
                <input
                  type="checkbox"
                  name={`guardian.${guardianId}`}
                  value="yes"
                  defaultChecked={typed ? typed[`guardian.${guardianId}`] === "yes" : true}
                />
                <span className="min-w-0 font-serif font-semibold" dir="auto">
                  {name}
                </span>
                <span className="min-w-0 text-fine text-soft" dir="auto">
                  for {student}
                  {language === "es" ? " · in Spanish" : ""}
                </span>
              </label>
            </li>
          ))}
        </ul>
      </fieldset>
      {out.length > 0 || without.length > 0 || others > 0 ? (
        <section aria-labelledby="will-not" className="mt-4">
          <h2 id="will-not" className="font-serif text-[1.15rem] font-semibold">
            Will not get it{" "}
            <span className="font-normal text-soft">{inDigits(out.length + without.length)}</span>
          </h2>
          <ul>
            {out.map(({ guardianId, name, student, why, to }) => (
              <li
                key={guardianId}
                className="flex flex-wrap items-baseline gap-x-3 border-t border-base-300 py-1.5"
              >
                <span className="font-serif font-semibold" dir="auto">
                  {name}
                </span>
                <span className="text-fine text-soft" dir="auto">
                  for {student}
                </span>
                <span className="text-[0.9375rem]">{why}</span>
                {to ? (
                  <Link className="link text-fine" to={to}>
                    Change<span className="sr-only"> this for {name}</span>
                  </Link>
                ) : null}
              </li>
            ))}
            {without.length > 0 ? (
              <li className="border-t border-base-300 py-1.5">
                <span className="text-[0.9375rem]">No guardian is written down for </span>
                <span dir="auto">{listed(without)}</span>.
              </li>
            ) : null}
          </ul>
          {others > 0 ? (
            <p className="text-fine text-soft">
              {inDigits(others)} more {plural(others, "student")} of this group: you do not lead their
              circles.
            </p>
          ) : null}
        </section>
      ) : null}
    </>
  );
}

/** One message to the families of several students: the list, who gets none and why, a preview, then one press. */
export default function WriteToSeveral({
  loaderData: { what, whose, groups, list, without, others, period, batchId, mails },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed, field } = useForm(
    actionData && "problems" in actionData ? actionData : undefined,
  );
  const preview = actionData && "preview" in actionData ? actionData : null;
  const now = typed ?? preview?.typed;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to="/dispatch">
          Dispatch
        </Link>
      </p>
      <header className="border-b border-base-300 pb-3">
        <PageTitle title="Write to several families" />
        <p className="text-soft">Each family gets a message of its own and sees no other address.</p>
      </header>
      <div className="mt-4 max-w-[64rem]">
        {mails ? null : (
          <p className="mb-4 rounded-lg bg-base-200 px-4 py-2">
            No mail server is set here, so nothing can be sent yet. An administrator sets one under School,
            Mail.
          </p>
        )}
        <ChoicesForm label="What and to whom" className="grid grid-cols-1 gap-3 sm:grid-cols-2">
          <Select
            className="min-w-0"
            label="What"
            name="what"
            defaultValue={what}
            options={[
              ["words", "Words of my own"],
              ["reports", `The report is ready${period ? ` (${period})` : ""}`],
            ]}
          />
          <Select
            className="min-w-0"
            label="Families of"
            name="whose"
            defaultValue={whose}
            options={[["", "My students"], ...groups]}
          />
        </ChoicesForm>
        {list.length === 0 && without.length === 0 ? (
          <EmptyState title="No families here">
            <p>You can write to the families of students whose circle you lead.</p>
          </EmptyState>
        ) : (
          <KeptForm
            draft={`many-${what}`}
            method="post"
            className="mt-2 grid grid-cols-1 gap-4"
            preventScrollReset
            noValidate
          >
            <input type="hidden" name="batchId" value={now?.["batchId"] ?? batchId} />
            {what === "words" ? (
              <div className="grid grid-cols-1 gap-4 lg:grid-cols-2">
                {(
                  [
                    ["En", "English"],
                    ["Es", "Spanish"],
                  ] as const
                ).map(([suffix, language]) => (
                  <fieldset key={suffix} className="min-w-0">
                    <legend className="font-bold">In {language}</legend>
                    <Field
                      label="Subject"
                      maxLength={200}
                      dir="auto"
                      {...field(`subject${suffix}`, preview?.typed[`subject${suffix}`])}
                    />
                    <TextArea
                      className="mt-2"
                      label="Message"
                      rows={6}
                      maxLength={5000}
                      dir="auto"
                      {...field(`words${suffix}`, preview?.typed[`words${suffix}`])}
                    />
                  </fieldset>
                ))}
                <p className="text-fine text-soft lg:col-span-2">
                  {listed(writtenFields.map((one) => `[${one}]`))} are filled in for each family; [student]
                  gives initials. A family gets the message in its own language only.
                </p>
              </div>
            ) : (
              <p className="text-[0.9375rem] text-soft">
                Each family reads in its language that a report is on its page, with a link to it. The words
                are under School, Messages.
              </p>
            )}
            <Families key={`${what} ${whose}`} {...{ list, without, others }} typed={now} />
            <NamesLookedAt problem={problems["names"]} />
            <FormProblem>{problems["form"]}</FormProblem>
            {preview ? (
              <section
                aria-labelledby="preview"
                className="rounded-lg border-l-2 border-base-300 bg-base-200 px-4 py-3"
              >
                <h2 id="preview" className="text-fine font-bold">
                  As {preview.preview.for} gets it
                </h2>
                <p className="mt-1 font-serif text-[1.1rem] font-semibold" dir="auto">
                  {preview.preview.subject}
                </p>
                <p className="whitespace-pre-wrap" dir="auto">
                  {preview.preview.text}
                </p>
              </section>
            ) : null}
            <div className="flex flex-wrap items-end gap-3">
              <button className="btn btn-primary" name="intent" value="send" disabled={busy || !mails}>
                Send
              </button>
              <button className="btn btn-plain" name="intent" value="preview" disabled={busy}>
                Preview
              </button>
              {preview && preview.able.length > 1 ? (
                <Select
                  className="w-64 max-w-full"
                  label="Preview for"
                  name="previewFor"
                  defaultValue={preview.preview.guardianId}
                  options={preview.able}
                />
              ) : null}
            </div>
          </KeptForm>
        )}
      </div>
    </main>
  );
}
