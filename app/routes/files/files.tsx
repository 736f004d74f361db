import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { type FileFormat, fileFormats } from "#core/report/file-formats.ts";
import { goalText } from "#core/report/report-text.ts";
import { reportEn } from "#core/words/en/report.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { shortName } from "#core/model/student-names.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { findDisclosure, listDisclosures, noteDisclosure } from "#server/db/disclosures.ts";
import { findEdition } from "#server/db/editions.ts";
import { readSchoolLocale } from "#server/db/locale.ts";
import { findStudent } from "#server/db/students.ts";
import { NotFound } from "#server/errors.ts";
import { findChromium } from "#server/exports/chromium.ts";
import { writeIn } from "#server/locale.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { audienceWords } from "#app/routes/editions/edition-words.ts";
import { NamesFound } from "#app/routes/editions/names-found.tsx";
import { namesFound, readWhole } from "#app/routes/editions/read-whole.server.ts";
import { ChooseReport } from "#app/routes/report/choose-report.tsx";
import { Field, fieldProps, FormProblem } from "#app/ui/field.tsx";
import { id, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { FetchFile } from "./fetch-file.tsx";
import { formatWords } from "./file-words.ts";
import { GoalTexts } from "./goal-texts.tsx";
import type { Route } from "./+types/files";

/** So many of the files that were made are listed. */
const mostListed = 30;

/** The report that an address asks for: an edition that is named there, or the running report. */
async function readAsked(scope: PersonScope, studentId: string, search: string) {
  const editionId = new URLSearchParams(search).get("edition");
  if (isId(editionId)) {
    const { edition, document } = await findEdition(scope, studentId, editionId);
    return { document, edition: { editionId, number: edition.number }, choice: null };
  }
  const { report, spans, chosen, order, audience, audiences } = await readWhole(scope, studentId, search);
  return {
    document: report,
    edition: null,
    choice: { chosen, order, audience, audiences, spans: spans.map(({ key, words }) => ({ key, words })) },
  };
}

/** What was just made by this person, where it can still be fetched. */
async function readMade(scope: PersonScope, studentId: string, made: string | null) {
  if (!isId(made)) return null;
  try {
    const { personId, document, edition, format, recipient } = await findDisclosure(scope, studentId, made);
    if (personId !== scope.actor.personId || (document === null && edition === null)) return null;
    const shown =
      format === "text"
        ? (document ?? (edition && (await findEdition(scope, studentId, edition.editionId)).document))
        : null;
    return {
      ...{ disclosureId: made, format, recipient },
      goals: (shown?.sections ?? []).flatMap(({ blocks }) =>
        blocks.flatMap((block) =>
          block.kind === "goal"
            ? { goalId: block.goalId, name: `${block.number} ${block.title}`, text: goalText(block) }
            : [],
        ),
      ),
    };
  } catch (error) {
    if (error instanceof NotFound) return null;
    throw error;
  }
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "file.make", params.studentId, async (scope) => {
    const { studentId } = params;
    const { search, searchParams } = new URL(request.url);
    const { document, edition, choice } = await readAsked(scope, studentId, search);
    const { audience, audienceName, span, data } = document;
    // Formats that this report cannot be made into, with the reason.
    const without: Partial<Record<FileFormat, string>> = {
      ...(data ? {} : { csv: "This edition was made before points were part of it." }),
      ...(edition
        ? { record: "The full record is of the running report: choose it without an edition." }
        : {}),
      ...(findChromium() === null
        ? {
            pdf: "The server has no Chromium. Its administrator installs it with “apt-get install chromium-headless-shell”. Until then, print the report and choose “Save as PDF”.",
            record: "The server has no Chromium, which makes the PDF in it.",
          }
        : {}),
    };
    return {
      ...{ edition, choice, studentId, disclosureId: newId() },
      initials: (await findStudent(scope, studentId)).initials,
      what: `${reportEn.span(span.from, span.to)}, for ${audienceWords({ audience, name: audienceName })}`,
      without,
      isInside: audience === "team" || audience === "file",
      names: await namesFound(scope, studentId, document),
      made: await readMade(scope, studentId, searchParams.get("made")),
      earlier: (await listDisclosures(scope, studentId, mostListed)).map(({ on, by, ...one }) => ({
        ...one,
        on: dateWithYear(on),
        by: by ? shortName(by.given, by.family) : "from the server",
      })),
    };
  });
}

export const action = defineAction({
  permission: "file.make",
  schema: z.object({
    disclosureId: id,
    format: z.enum(fileFormats, "Choose a kind of file."),
    recipient: text(200, "Say who receives it."),
    reason: optionalText(500),
    kept: z.optional(z.literal("yes")),
  }),
  async run(scope, { disclosureId, format, recipient, reason, kept }, { params, request, wrong }) {
    const { studentId } = params as Route.ActionArgs["params"];
    // A file is the school's, whoever makes it.
    writeIn(await readSchoolLocale(scope));
    const { search, searchParams } = new URL(request.url);
    const { document, edition } = await readAsked(scope, studentId, search);
    const isInside = document.audience === "team" || document.audience === "file";
    if (format === "record" && (edition !== null || !isInside))
      return wrong({ format: "The full record is made of the running report for the team or the file." });
    if ((format === "record" || document.audience === "own") && reason === null)
      return wrong({ reason: "Say why it leaves, as for a parent’s request." });
    const names = await namesFound(scope, studentId, document);
    if (names.length > 0 && kept !== "yes")
      return wrong({ kept: "Look at each of these names first, and keep those that may stay." });
    await noteDisclosure(scope, { disclosureId, studentId, format, edition, recipient, reason }, document);
    searchParams.set("made", disclosureId);
    return redirect(`/students/${studentId}/files?${searchParams.toString()}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** Makes files of a report, and says which were made for whom. */
export default function Files({
  loaderData: {
    studentId,
    initials,
    edition,
    choice,
    what,
    without,
    isInside,
    names,
    made,
    earlier,
    disclosureId,
  },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  const field = fieldProps(typed, problems);
  const offered = fileFormats.filter((format) => format !== "record" || (isInside && !edition));
  const chosen = typed?.["format"] ?? "pdf";
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="flex flex-wrap items-start justify-between gap-3 border-b border-base-300 pb-4">
        <div>
          <PageTitle title="Files" of={initials} />
          <p className="text-soft">
            {edition ? `Edition ${edition.number}: ` : "The running report: "}
            {what}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {edition ? (
            <Link className="btn btn-plain" to={`/students/${studentId}/editions/${edition.editionId}`}>
              Edition {edition.number}
            </Link>
          ) : null}
          <Link className="btn btn-plain" to={`/students/${studentId}/report`}>
            Report
          </Link>
        </div>
      </header>
      {made ? (
        <section aria-label="The file" className="mt-4 max-w-[52rem] rounded-lg bg-base-200 px-4 py-3">
          <p>
            <b>{formatWords[made.format].name}</b> for <span dir="auto">{made.recipient}</span>. It can be
            fetched for a day.
          </p>
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <FetchFile
              key={made.disclosureId}
              href={`/students/${studentId}/files/${made.disclosureId}`}
              words="Download"
              isNew={made.format !== "text"}
            />
          </div>
          {made.goals.length > 0 ? <GoalTexts goals={made.goals} /> : null}
        </section>
      ) : null}
      <div className="mt-4 max-w-[52rem]">
        {choice ? <ChooseReport {...choice} /> : null}
        <Form method="post" className="mt-4 grid gap-4" preventScrollReset>
          <input type="hidden" name="disclosureId" value={typed?.["disclosureId"] ?? disclosureId} />
          <fieldset aria-describedby={problems["format"] ? "format-says" : undefined}>
            <legend className="font-serif text-[1.15rem] font-semibold">Which file</legend>
            <div className="mt-1 grid gap-x-6 sm:grid-cols-2">
              {offered.map((format) => (
                <label
                  key={format}
                  className="flex cursor-pointer items-start gap-3 border-t border-base-300 py-2 has-disabled:cursor-default"
                >
                  <input
                    type="radio"
                    name="format"
                    value={format}
                    className="mt-1"
                    defaultChecked={without[format] === undefined && chosen === format}
                    disabled={without[format] !== undefined}
                  />
                  <span>
                    <b>{formatWords[format].name}</b>
                    <span className="block text-fine text-soft">
                      {without[format] ?? formatWords[format].about}
                    </span>
                  </span>
                </label>
              ))}
            </div>
            {problems["format"] ? (
              <p id="format-says" className="text-fine font-bold text-error" role="alert">
                {problems["format"]}
              </p>
            ) : null}
          </fieldset>
          <div className="grid gap-3 sm:grid-cols-2">
            <Field
              label="For whom"
              hint="Who receives it. The record of what left the school shows it."
              maxLength={200}
              {...field("recipient")}
            />
            <Field
              label="Why"
              hint="Optional, but for the full record: a parent’s request, a meeting."
              maxLength={500}
              {...field("reason")}
            />
          </div>
          {names.length > 0 ? <NamesFound {...{ studentId, names }} problem={problems["kept"]} /> : null}
          <div>
            <button className="btn btn-primary" disabled={busy}>
              Make the file
            </button>
          </div>
          <FormProblem>{problems["form"]}</FormProblem>
        </Form>
      </div>
      <section aria-labelledby="earlier" className="mt-8 max-w-[52rem]">
        <h2 id="earlier" className="font-serif text-[1.15rem] font-semibold">
          Files made
        </h2>
        {earlier.length === 0 ? (
          <p className="text-soft">None yet. Each file is listed here with who made it and for whom.</p>
        ) : (
          <ul className="mt-1">
            {earlier.map((one) => (
              <li key={one.disclosureId} className="border-t border-base-300 py-1.5" dir="auto">
                {[
                  ...[one.on, formatWords[one.format].name],
                  one.edition ? `edition ${one.edition.number}` : "running report",
                  ...[`for ${one.recipient}`, one.reason, one.by],
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </li>
            ))}
          </ul>
        )}
      </section>
    </main>
  );
}
