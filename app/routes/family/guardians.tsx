import * as z from "zod/mini";
import { data, Form, Link, redirect } from "react-router";
import { makeFamilyCode } from "#server/auth/family.ts";
import { hashToken, newToken } from "#server/auth/session.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { recordEvent } from "#server/db/events.ts";
import {
  addFamilyLink,
  answerQuestion,
  confirmGuardianAddress,
  type FamilyQuestion,
  type Guardian,
  isGuardianOf,
  listGuardians,
  listQuestions,
  readMajority,
  refuseGuardian,
  removeGuardian,
  revokeFamilyLink,
  saveGuardian,
  saveMajority,
} from "#server/db/guardians.ts";
import { listRightsRequests } from "#server/db/rights.ts";
import { schoolMails } from "#server/db/mail-settings.ts";
import { findStudent } from "#server/db/students.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, fieldProps, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { email, id, optionalDate, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { momentWords } from "#app/ui/moment-words.ts";
import { OpenRequests } from "../rights/open-requests.tsx";
import { HandedLinks } from "../school/handed-links.tsx";
import { qrOf } from "#app/kit/qr.server.ts";
import type { Route } from "./+types/guardians";

export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  return authorize(request, context, "family.read", studentId, async (scope) => {
    const student = await findStudent(scope, studentId);
    return {
      student: { studentId, name: student.name, initials: student.initials },
      today: scope.today,
      mails: context.mails === true || (await schoolMails(scope)),
      mayEdit: may(scope.actor, "family.edit", { circleRole: scope.circleRole }),
      guardians: await listGuardians(scope, studentId),
      questions: await listQuestions(scope, studentId),
      openRequests: may(scope.actor, "rights.read", { circleRole: scope.circleRole })
        ? (await listRightsRequests(scope, studentId))
            .filter(({ ended }) => ended === null)
            .map((one) => ({ ...one, name: student.name }))
        : [],
      majority: await readMajority(scope, studentId),
    };
  });
}

type Params = Submitted<{ studentId: string }>;
const back = (studentId: string) => redirect(`/students/${studentId}/family`);
const ofGuardian = z.object({ guardianId: id });

const languages = [
  ["en", "English"],
  ["es", "Spanish"],
] as const;

const saving = intent({
  schema: z.object({
    guardianId: z.union([id, z.literal("")]),
    name: text(100, "What is the guardian called?"),
    relation: z._default(z.string().check(z.trim(), z.maxLength(60, "At most 60 characters.")), ""),
    email: z.union([z.literal(""), email]),
    language: z.enum(["en", "es"]),
    agreed: z.optional(z.literal("yes")),
  }),
  async run(scope, { guardianId, email: address, agreed, ...content }, { params }: Params) {
    await saveGuardian(scope, params.studentId, guardianId || null, {
      ...{ ...content, email: address || null, hasAgreed: agreed === "yes" },
    });
    return back(params.studentId);
  },
});

const linking = intent({
  schema: z.object({ guardianId: id, days: z.enum(["7", "30", "120", "365"]) }),
  async run(scope, { guardianId, days }, { params: { studentId }, site }: Params) {
    const token = newToken();
    const until = await addFamilyLink(scope, studentId, guardianId, {
      ...{ tokenHash: hashToken(token), days: Number(days) },
    });
    const guardian = (await listGuardians(scope, studentId)).find((one) => one.guardianId === guardianId);
    if (until === null || !guardian) throw new Invalid({ form: "This guardian may not read now." });
    const url = `${site.origin}/family/open/${token}`;
    const { name, email: address } = guardian;
    return data({
      problems: {},
      links: [{ name, email: address ?? "no e-mail", url, until, qr: qrOf(url) }],
    });
  },
});

const coding = intent({
  schema: ofGuardian,
  async run(scope, { guardianId }, { params: { studentId } }: Params) {
    if (!(await isGuardianOf(scope, studentId, guardianId))) notFound();
    const code = await makeFamilyCode(scope.trx, scope.schoolId, guardianId);
    if (code === null) throw new Invalid({ form: "This guardian may not read now." });
    await recordEvent(scope, { thing: "guardian", act: "code made", thingId: guardianId, studentId });
    return data({ problems: {}, code: { guardianId, digits: code } });
  },
});

const revoking = intent({
  schema: ofGuardian,
  async run(scope, { guardianId }, { params: { studentId } }: Params) {
    await revokeFamilyLink(scope, studentId, guardianId);
    return back(studentId);
  },
});

const refusing = intent({
  schema: z.object({ guardianId: id, reason: text(500, "Write why. Only staff sees it.") }),
  async run(scope, { guardianId, reason }, { params: { studentId } }: Params) {
    await refuseGuardian(scope, studentId, guardianId, reason);
    return back(studentId);
  },
});

const allowing = intent({
  schema: ofGuardian,
  async run(scope, { guardianId }, { params: { studentId } }: Params) {
    await refuseGuardian(scope, studentId, guardianId, null);
    return back(studentId);
  },
});

const confirming = intent({
  schema: ofGuardian,
  async run(scope, { guardianId }, { params: { studentId } }: Params) {
    await confirmGuardianAddress(scope, studentId, guardianId);
    return back(studentId);
  },
});

const removing = intent({
  schema: ofGuardian,
  async run(scope, { guardianId }, { params: { studentId } }: Params) {
    await removeGuardian(scope, studentId, guardianId);
    return back(studentId);
  },
});

const answering = intent({
  schema: z.object({ questionId: id, answer: optionalText(2000) }),
  permission: "family.answer",
  async run(scope, { questionId, answer }, { params: { studentId } }: Params) {
    await answerQuestion(scope, studentId, questionId, answer);
    return back(studentId);
  },
});

const notingRights = intent({
  schema: z.object({
    bornOn: optionalDate,
    familyAfter: z.enum(["", "ended", "student agrees"]),
  }),
  async run(scope, { bornOn, familyAfter }, { params: { studentId } }: Params) {
    await saveMajority(scope, studentId, { bornOn, familyAfter: familyAfter || null });
    return back(studentId);
  },
});

export const action = defineIntents({
  permission: "family.edit",
  intents: {
    ...{ "save the guardian": saving, "make a link": linking, "make a code": coding },
    ...{ "take the link back": revoking, refuse: refusing, "allow again": allowing },
    ...{ "confirm the address": confirming },
    ...{ remove: removing, answer: answering, "save the rights": notingRights },
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Sent = ReturnType<typeof useForm>;

function GuardianFields({ guardian, sent }: { guardian: Guardian | null; sent: Sent }) {
  const guardianId = guardian?.guardianId ?? "";
  const isMine = sent.typed?.["guardianId"] === guardianId && sent.typed["intent"] === "save the guardian";
  const field = fieldProps(isMine ? sent.typed : undefined, isMine ? sent.problems : {});
  return (
    <>
      <input type="hidden" name="guardianId" value={guardianId} />
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Name" {...field("name", guardian?.name)} dir="auto" maxLength={100} />
        <Field
          label="Relation"
          {...field("relation", guardian?.relation)}
          dir="auto"
          maxLength={60}
          hint="Mother, foster father, aunt."
        />
        <Field
          label="E-mail"
          {...field("email", guardian?.email)}
          type="email"
          hint="Codes are sent here. Without one you hand the code over yourself."
        />
        <Select label="Reads" options={languages} {...field("language", guardian?.language ?? "en")} />
      </div>
      <label className="flex min-h-11 w-fit cursor-pointer items-center gap-3">
        <input
          type="checkbox"
          name="agreed"
          value="yes"
          defaultChecked={isMine ? sent.typed?.["agreed"] === "yes" : (guardian?.hasAgreed ?? false)}
        />
        Has agreed to messages by e-mail
      </label>
      <button className="btn btn-primary w-fit" name="intent" value="save the guardian" disabled={sent.busy}>
        {guardian ? "Save" : "Add the guardian"}
      </button>
    </>
  );
}

const stateOf = (one: Guardian): string =>
  one.noAccessReason !== null
    ? "no access"
    : [
        one.hasAccount ? "signs in with an account" : null,
        one.linkUntil ? `link until ${dateWithYear(one.linkUntil.slice(0, 10))}` : null,
      ]
        .filter(Boolean)
        .join(", ") || "no link yet";

const openedWords = ({ opened, lastOpened }: Guardian): string =>
  lastOpened === null
    ? "not opened yet"
    : `opened ${opened} ${plural(opened, "time")}, last ${momentWords(lastOpened)}`;

function GuardianLine({
  guardian,
  mayEdit,
  mails,
  code,
  sent,
}: {
  guardian: Guardian;
  mayEdit: boolean;
  mails: boolean;
  code: string | null;
  sent: Sent;
}) {
  const {
    guardianId,
    name,
    relation,
    email: address,
    language,
    noAccessReason,
    hasAgreed,
    refusedWith,
  } = guardian;
  const isRefused = noAccessReason !== null;
  const hidden = <input type="hidden" name="guardianId" value={guardianId} />;
  const button = (value: string, label: string) => (
    <Form method="post" preventScrollReset>
      {hidden}
      <button className="btn btn-plain btn-sm" name="intent" value={value} disabled={sent.busy}>
        {label}
        <span className="sr-only">: {name}</span>
      </button>
    </Form>
  );
  const isAboutThis = sent.typed?.["guardianId"] === guardianId;
  return (
    <li className="border-b border-base-300 py-3">
      <p>
        <b className="font-serif text-[1.1rem] font-semibold" dir="auto">
          {name}
        </b>{" "}
        <span dir="auto">{relation}</span>
      </p>
      <p className="text-fine text-soft">
        {[
          address ?? "no e-mail",
          ...(address ? [hasAgreed ? "agreed to e-mail" : "has not agreed to e-mail"] : []),
          ...(address && hasAgreed && !guardian.isConfirmed ? ["address not confirmed"] : []),
          language === "es" ? "reads Spanish" : "reads English",
        ].join(" · ")}{" "}
        · <span className={isRefused ? "font-bold text-error" : ""}>{stateOf(guardian)}</span> ·{" "}
        {openedWords(guardian)}
      </p>
      {isRefused ? (
        <p className="mt-1 text-[0.9375rem]" dir="auto">
          No access, because: {noAccessReason}
        </p>
      ) : null}
      {refusedWith ? (
        <p className="mt-1 text-[0.9375rem]" dir="auto">
          <b>Mail to {address} was refused:</b> “{refusedWith}”. Correct the address below; what waits is sent
          then.
        </p>
      ) : null}
      {code ? (
        <p role="status" className="mt-2 w-fit rounded-lg bg-arrival px-4 py-2">
          Code for {name}: <b className="font-mono text-lg tracking-widest">{code}</b>. Good for ten minutes
          and one use.
        </p>
      ) : null}
      {mayEdit ? (
        <>
          <div className="mt-2 flex flex-wrap items-end gap-2">
            {isRefused ? (
              button("allow again", "Allow again")
            ) : (
              <>
                <Form method="post" className="flex flex-wrap items-end gap-2" preventScrollReset>
                  {hidden}
                  <label className="text-fine">
                    <span className="sr-only">{name}: link good for</span>
                    <select name="days" defaultValue="120" className="select select-sm w-auto">
                      <option value="7">for a week</option>
                      <option value="30">for a month</option>
                      <option value="120">for four months</option>
                      <option value="365">for a year</option>
                    </select>
                  </label>
                  <button
                    className="btn btn-plain btn-sm"
                    name="intent"
                    value="make a link"
                    disabled={sent.busy}
                  >
                    {guardian.linkUntil ? "New link" : "Make a link"}
                    <span className="sr-only">: {name}</span>
                  </button>
                </Form>
                {guardian.linkUntil && !(mails && address) ? button("make a code", "Make a code") : null}
                {address && hasAgreed && !guardian.isConfirmed
                  ? button("confirm the address", "I checked the address")
                  : null}
                {guardian.linkUntil ? button("take the link back", "Take the link back") : null}
              </>
            )}
          </div>
          <details
            className="mt-1"
            open={(isAboutThis && Object.keys(sent.problems).length > 0) || undefined}
          >
            <summary className="w-fit cursor-pointer py-1.5 text-fine font-bold text-soft">
              Change, refuse or remove<span className="sr-only">: {name}</span>
            </summary>
            <KeptForm draft={`guardian ${guardianId}`} method="post" className="mt-2 grid gap-3" noValidate>
              <GuardianFields {...{ guardian, sent }} />
            </KeptForm>
            {isRefused ? null : (
              <Form method="post" className="mt-5 grid gap-2" noValidate preventScrollReset>
                {hidden}
                <Field
                  label="No access, because"
                  name="reason"
                  dir="auto"
                  maxLength={500}
                  defaultValue={isAboutThis ? sent.typed?.["reason"] : undefined}
                  problem={isAboutThis ? sent.problems["reason"] : undefined}
                  hint="For instance a court’s order. Only staff sees it. Links, codes and the account open nothing from this moment."
                />
                <button className="btn btn-plain w-fit" name="intent" value="refuse" disabled={sent.busy}>
                  Refuse {name}
                </button>
              </Form>
            )}
            <div className="mt-4">{button("remove", "Remove")}</div>
          </details>
        </>
      ) : null}
    </li>
  );
}

function Question({
  question: { questionId, by, words, askedAt, answer, answeredAt },
  mayEdit,
  sent,
}: {
  question: FamilyQuestion;
  mayEdit: boolean;
  sent: Sent;
}) {
  const isMine = sent.typed?.["questionId"] === questionId;
  return (
    <li className="border-b border-base-300 py-3">
      <p className="text-fine text-soft">
        {by}, {momentWords(askedAt)}
      </p>
      <p className="font-serif whitespace-pre-line" dir="auto">
        {words}
      </p>
      {answeredAt !== null ? (
        <p className="mt-1 text-[0.9375rem] whitespace-pre-line" dir="auto">
          <span className="text-soft">Answered {momentWords(answeredAt)}:</span>{" "}
          {answer ?? "in person, nothing written here"}
        </p>
      ) : mayEdit ? (
        <Form method="post" className="mt-2 grid max-w-2xl gap-2" noValidate preventScrollReset>
          <input type="hidden" name="questionId" value={questionId} />
          <TextArea
            label="Answer"
            name="answer"
            rows={3}
            dir="auto"
            defaultValue={isMine ? sent.typed?.["answer"] : undefined}
            problem={isMine ? sent.problems["answer"] : undefined}
            hint="The family reads it on its page. Leave it empty where you answered in person."
          />
          <button className="btn btn-primary w-fit" name="intent" value="answer" disabled={sent.busy}>
            Answered
          </button>
        </Form>
      ) : (
        <p className="mt-1 text-fine font-bold">Waits for an answer of a lead.</p>
      )}
    </li>
  );
}

/** Who of the family reads about a student, with which link, and what they ask. */
export default function Guardians({ loaderData, actionData }: Route.ComponentProps) {
  const { student, guardians, questions, openRequests, majority, mayEdit, mails, today } = loaderData;
  const answered = useLasting(actionData);
  const sent = useForm(answered);
  const links = answered && "links" in answered ? answered.links : null;
  const code = answered && "code" in answered ? answered.code : null;
  const { comesOfAge } = majority;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-2">
        <PageTitle title={`The family of ${student.name}`} />
        <Link className="btn btn-plain btn-sm no-print ml-auto" to={`/students/${student.studentId}`}>
          Back to {student.initials}
        </Link>
      </header>
      <FormProblem>{sent.problems["form"]}</FormProblem>
      <OpenRequests requests={openRequests} today={today} />
      {links ? <HandedLinks links={links} mails={false} /> : null}
      <div className="no-print max-w-4xl">
        <p className="text-[0.9375rem]">
          A guardian opens the family’s page with a link and a code of six digits
          {mails ? ", which is sent to their own address" : ", which you make here and hand over"}. They see
          the editions that were shared on the family’s page, and the entries and jots that were released. Put
          an edition there under{" "}
          <Link className="link" to={`/students/${student.studentId}/editions`}>
            Editions
          </Link>
          , “Note how it was shared”.
        </p>
        {guardians.length === 0 ? (
          <EmptyState title="No guardian yet">
            <p>
              {mayEdit
                ? "Add the people who may read about this student at home, each with their own link."
                : "A lead of this student adds the people who may read at home."}
            </p>
          </EmptyState>
        ) : (
          <ul className="mt-4">
            {guardians.map((guardian) => (
              <GuardianLine
                key={guardian.guardianId}
                {...{ guardian, mayEdit, mails, sent }}
                code={code?.guardianId === guardian.guardianId ? code.digits : null}
              />
            ))}
          </ul>
        )}
        {mayEdit ? (
          <details
            className="mt-4"
            open={guardians.length === 0 || sent.typed?.["guardianId"] === "" || undefined}
          >
            <summary className="w-fit cursor-pointer py-1.5 font-bold">Add a guardian</summary>
            <KeptForm
              key={guardians.length}
              draft={`guardian of ${student.studentId}`}
              method="post"
              className="mt-2 grid gap-3"
              noValidate
            >
              <GuardianFields guardian={null} sent={sent} />
            </KeptForm>
          </details>
        ) : null}

        {questions.length > 0 ? (
          <section aria-labelledby="questions" className="mt-8">
            <h2 id="questions" className="text-lg font-bold">
              Questions
            </h2>
            <ul>
              {questions.map((question) => (
                <Question key={question.questionId} {...{ question, mayEdit, sent }} />
              ))}
            </ul>
          </section>
        ) : null}

        {mayEdit ? (
          <section aria-labelledby="rights" className="mt-8">
            <h2 id="rights" className="text-lg font-bold">
              When the student turns 18
            </h2>
            <p className="mt-1 text-[0.9375rem]">
              The rights over the record pass to the student then (34 CFR 99.5).{" "}
              {comesOfAge === null
                ? "With the birth date written down, your caseload reminds you 60 days before."
                : comesOfAge <= today
                  ? `${student.name} turned 18 on ${dateWithYear(comesOfAge)}.`
                  : `${student.name} turns 18 on ${dateWithYear(comesOfAge)}; your caseload reminds you 60 days before.`}
            </p>
            <Form
              key={`${majority.bornOn ?? ""} ${majority.familyAfter ?? ""}`}
              method="post"
              className="mt-3 flex flex-wrap items-start gap-3"
              preventScrollReset
            >
              <Field
                label="Birth date"
                name="bornOn"
                type="date"
                className="w-48"
                defaultValue={majority.bornOn ?? ""}
                problem={sent.problems["bornOn"]}
                hint="Optional."
              />
              <Select
                label="The family"
                name="familyAfter"
                className="w-72"
                defaultValue={majority.familyAfter ?? ""}
                options={[
                  ["", "nothing decided, reads on"],
                  ["student agrees", "reads on, the student agrees"],
                  ["ended", "reads no longer"],
                ]}
              />
              <button
                className="btn btn-plain mt-6"
                name="intent"
                value="save the rights"
                disabled={sent.busy}
              >
                Save
              </button>
            </Form>
          </section>
        ) : null}
      </div>
    </main>
  );
}
