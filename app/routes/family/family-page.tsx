import * as z from "zod/mini";
import { data, Form, Link } from "react-router";
import { keepFamily } from "#server/auth/family.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { browserOf, hasAccount, knownAccount } from "#server/auth/session.ts";
import { passwordProblem } from "#server/auth/password-rules.ts";
import { hashPassword } from "#server/auth/password.ts";
import { authorizeFamily } from "#server/access/authorize-family.ts";
import { findCalledName } from "#server/db/family-access.ts";
import { askQuestion, listQuestions, noteFamilyOpened } from "#server/db/guardians.ts";
import { askByRight, listRightsRequests } from "#server/db/rights.ts";
import { listReleased } from "#server/db/releases.ts";
import { inspectBy } from "#core/retention/inspect-by.ts";
import { rightsKinds } from "#core/retention/rights-request.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import type { Language } from "#core/words/en.ts";
import { familyPageWords } from "#core/words/family-page.ts";
import { v7 as newId } from "uuid";
import { useForm } from "#app/kit/use-form.ts";
import { useLasting } from "#app/kit/use-lasting.ts";
import { LogLines } from "#app/report/log-lines.tsx";
import { ReportPathsContext } from "#app/report/report-paths.ts";
import { FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { NewPassword } from "#app/ui/password-fields.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { FamilyFrame } from "./family-frame.tsx";
import { pathsOfFamily } from "./paths-of-family.ts";
import { editionsForFamily } from "./shared-with-family.server.ts";
import type { Route } from "./+types/family-page";

export function loader({ request, context, params: { guardianId } }: Route.LoaderArgs) {
  return authorizeFamily(request, context, "report.read", guardianId, async (scope, guardian) => {
    const { studentId } = scope.actor;
    const { language, schoolName, guardianName, email, hasAccount } = guardian;
    await noteFamilyOpened(scope);
    const { report } = catalogueOf(language);
    return {
      ...{ language, schoolName, guardianName, studentId },
      name: await findCalledName(scope, studentId),
      editions: (await editionsForFamily(scope)).map(({ editionId, span, madeOn }) => ({
        ...{ editionId, madeOn, words: report.span(span.from, span.to) },
      })),
      days: [...groupBy(await listReleased(scope, studentId), ({ on }) => on)].map(([on, lines]) => ({
        ...{ heading: report.day(on), lines },
      })),
      questions: await listQuestions(scope, studentId, guardianId),
      requests: (await listRightsRequests(scope, studentId, guardianId)).map(
        ({ requestId, kind, receivedOn, ended }) => ({
          ...{ requestId, kind, receivedOn, by: kind === "inspect" ? inspectBy(receivedOn) : null },
          ended: ended && { on: ended.on, outcome: ended.outcome },
        }),
      ),
      requestId: newId(),
      // An account is offered to the address that has just shown a code.
      accountFor: hasAccount ? null : email,
    };
  });
}

const forms = (language: Language) => {
  const words = familyPageWords[language];
  return z.discriminatedUnion("intent", [
    z.object({
      intent: z.literal("ask"),
      words: z
        .string()
        .check(z.trim(), z.minLength(1, words.emptyQuestion), z.maxLength(2000, words.longQuestion)),
    }),
    z.object({
      intent: z.literal("rights"),
      requestId: z.uuid(),
      kind: z.enum(rightsKinds),
      rightsWords: z.string().check(z.trim(), z.maxLength(2000, words.longQuestion)),
    }),
    z.object({ intent: z.literal("keep"), password: z.string() }),
  ]);
};

export async function action({ request, context, params: { guardianId } }: Route.ActionArgs) {
  const form = await request.formData();
  const { language, email } = await authorizeFamily(request, context, "report.read", guardianId, (_, mine) =>
    Promise.resolve(mine),
  );
  const words = familyPageWords[language];
  const kept = Object.fromEntries(
    ["words", "rightsWords", "kind"].flatMap((name) => {
      const typed = form.get(name);
      return typeof typed === "string" ? [[name, typed]] : [];
    }),
  );
  const wrong = (problems: Record<string, string>, status = 422) =>
    data({ problems, typed: kept }, { status });
  const read = forms(language).safeParse(Object.fromEntries(form));
  if (!read.success) {
    const field = form.get("intent") === "rights" ? "rightsWords" : "words";
    return wrong({ [field]: read.error.issues[0]?.message ?? words.emptyQuestion });
  }
  const { data: values } = read;
  if (values.intent === "ask") {
    const isAsked = await authorizeFamily(request, context, "family.ask", guardianId, (scope) =>
      askQuestion(scope, values.words),
    );
    return isAsked ? data({ problems: {}, done: "asked" as const }) : wrong({ words: words.oneWaiting }, 409);
  }
  if (values.intent === "rights") {
    const { kind, requestId, rightsWords } = values;
    if (kind === "amend" && rightsWords === "") return wrong({ rightsWords: words.rightsMissing });
    const isAsked = await authorizeFamily(request, context, "rights.ask", guardianId, (scope, mine) =>
      askByRight(scope, { requestId, kind, words: rightsWords, byWhom: mine.guardianName }),
    );
    return isAsked
      ? data({ problems: {}, done: "rights" as const })
      : wrong({ rightsWords: words.rightsWaiting }, 409);
  }
  const keep = (account: { accountId: string; newHash: string | null }) =>
    keepFamily(context.database, request, context.secure, account);
  const done = data({ problems: {}, done: "account" as const });
  const { password } = values;
  // A password that is too weak for a new account may be that of one that is there.
  const isWeak = (await passwordProblem(password, email ?? "")) !== null;
  if (!isWeak && (await keep({ accountId: newId(), newHash: await hashPassword(password) }))) return done;
  if (email === null || !(await hasAccount(context.database, email)))
    return wrong({ password: words.weakPassword });
  const known = await knownAccount(context.database, { email, password, ...browserOf(request, context) });
  if (isSlowDown(known)) return wrong({ password: words.tooManyCodes }, 429);
  if (known === "wrong" || !(await keep({ accountId: known.account_id, newHash: null })))
    return wrong({ password: words.accountThere }, 409);
  return done;
}

/** What the guardian asks by right: to see the record, to correct it, to have it erased. */
function Rights({
  language,
  requests,
  requestId,
  problems,
  typed,
  busy,
}: Pick<Route.ComponentProps["loaderData"], "language" | "requests" | "requestId"> &
  Pick<ReturnType<typeof useForm>, "problems" | "typed" | "busy">) {
  const words = familyPageWords[language];
  return (
    <details className="mt-8" open={problems["rightsWords"] !== undefined || requests.length > 0}>
      <summary className="min-h-11 cursor-pointer font-serif text-xl font-semibold">
        {words.rightsTitle}
      </summary>
      <p className="mb-3">{words.rightsHint}</p>
      <ul className="mb-4 grid gap-2">
        {requests.map(({ requestId: asked, kind, receivedOn, by, ended }) => (
          <li key={asked} className="border-l-4 border-base-300 px-4 py-1">
            <b>{words.rightsKinds[kind]}</b>, {words.rightsOpen(receivedOn, ended ? null : by)}
            {ended ? (
              <p>
                {words.rightsOutcomes[ended.outcome]}{" "}
                <span className="text-soft">{words.rightsEnded(ended.on)}</span>
              </p>
            ) : null}
          </li>
        ))}
      </ul>
      <Form method="post" className="grid max-w-md gap-3" noValidate>
        <input type="hidden" name="requestId" value={requestId} />
        <Select
          label={words.rightsKind}
          name="kind"
          defaultValue={typed?.["kind"] ?? "inspect"}
          options={rightsKinds.map((kind) => [kind, words.rightsKinds[kind]] as const)}
        />
        <TextArea
          label={words.rightsWords}
          name="rightsWords"
          rows={3}
          dir="auto"
          hint={words.rightsWordsHint}
          defaultValue={typed?.["rightsWords"]}
          problem={problems["rightsWords"]}
        />
        <button className="btn btn-plain h-12 w-full sm:w-fit" name="intent" value="rights" disabled={busy}>
          {words.rightsAsk}
        </button>
      </Form>
    </details>
  );
}

/** What a guardian reads of their student: the reports they were given, what was released to them, and a question of their own. */
export default function FamilyPage({ loaderData, actionData, params: { guardianId } }: Route.ComponentProps) {
  const { language, schoolName, guardianName, studentId, name, editions, days, questions, accountFor } =
    loaderData;
  const { requests, requestId } = loaderData;
  const answered = useLasting(actionData);
  const { busy, problems, typed } = useForm(answered);
  const done = answered && "done" in answered ? answered.done : null;
  const words = familyPageWords[language];
  const isWaiting = questions.some(({ answeredAt }) => answeredAt === null);
  const heading = "mt-8 mb-2 font-serif text-xl font-semibold";
  return (
    <FamilyFrame language={language} school={schoolName} mayLeave>
      <PageTitle title={name} className="font-serif text-[1.9rem] leading-tight font-semibold" />
      <p className="text-soft">{words.forWhom(guardianName)}</p>
      {done ? (
        <p role="status" className="mt-4 rounded-lg bg-arrival px-4 py-2">
          {done === "asked" ? words.asked : done === "rights" ? words.rightsSent : words.accountMade}
        </p>
      ) : null}
      <FormProblem>{problems["form"]}</FormProblem>
      <section aria-labelledby="reports">
        <h2 id="reports" className={heading}>
          {words.reports}
        </h2>
        {editions.length === 0 ? (
          <p>{words.noReports}</p>
        ) : (
          <ul className="grid gap-2">
            {editions.map(({ editionId, words: span, madeOn }) => (
              <li key={editionId}>
                <Link
                  className="flex min-h-12 flex-wrap items-baseline gap-x-3 border-l-4 border-primary px-4 py-2 no-underline hover:bg-arrival"
                  to={`/family/${guardianId}/editions/${editionId}`}
                >
                  <b>{span}</b> <span className="text-fine text-soft">{words.madeOn(madeOn)}</span>
                </Link>
              </li>
            ))}
          </ul>
        )}
      </section>
      <section aria-labelledby="days">
        <h2 id="days" className={heading}>
          {words.fromSchool}
        </h2>
        {days.length === 0 ? (
          <p>{words.noEntries}</p>
        ) : (
          <ReportPathsContext value={pathsOfFamily(guardianId)}>
            <div className="report-sheet">
              {days.map(({ heading, lines: ofDay }) => (
                <LogLines key={heading} heading={heading} lines={ofDay} {...{ studentId, language }} />
              ))}
            </div>
          </ReportPathsContext>
        )}
      </section>
      <section aria-labelledby="question">
        <h2 id="question" className={heading}>
          {words.askTitle}
        </h2>
        {questions.length > 0 ? (
          <ul className="mb-4 grid gap-3">
            {questions.map(({ questionId, words: asked, askedAt, answer, answeredAt }) => (
              <li key={questionId} className="border-l-4 border-base-300 px-4 py-1">
                <p className="text-fine text-soft">{words.yourQuestion(askedAt.slice(0, 10))}</p>
                <p className="whitespace-pre-line" dir="auto">
                  {asked}
                </p>
                {answeredAt === null ? (
                  <p className="mt-1 font-bold">{words.asked}</p>
                ) : (
                  <div className="mt-2">
                    <p className="text-fine text-soft">
                      {answer === null
                        ? words.answeredOtherwise(answeredAt.slice(0, 10))
                        : words.answer(answeredAt.slice(0, 10))}
                    </p>
                    <p className="whitespace-pre-line" dir="auto">
                      {answer}
                    </p>
                  </div>
                )}
              </li>
            ))}
          </ul>
        ) : null}
        {isWaiting ? null : (
          <Form key={questions.length} method="post" className="grid gap-3" noValidate>
            <TextArea
              label={words.questionLabel}
              name="words"
              rows={4}
              dir="auto"
              hint={words.askHint}
              defaultValue={typed?.["words"]}
              problem={problems["words"]}
            />
            <button
              className="btn btn-primary h-12 w-full sm:w-fit"
              name="intent"
              value="ask"
              disabled={busy}
            >
              {words.ask}
            </button>
          </Form>
        )}
      </section>
      <p className="mt-6">
        <Link className="link inline-block min-h-6" to={`/family/${guardianId}/access`}>
          {words.accessTitle}
        </Link>
      </p>
      <Rights {...{ language, requests, requestId, problems, typed, busy }} key={requests.length} />
      <section aria-labelledby="words">
        <h2 id="words" className={heading}>
          {words.wordsTitle}
        </h2>
        <dl className="grid gap-2">
          {words.words.map(([word, meaning]) => (
            <div key={word}>
              <dt className="font-bold">{word}</dt>
              <dd>{meaning}</dd>
            </div>
          ))}
        </dl>
      </section>
      {accountFor ? (
        <details className="mt-8" open={problems["password"] !== undefined}>
          <summary className="min-h-11 cursor-pointer font-bold">{words.accountTitle}</summary>
          <p className="mb-3">{words.accountHint(accountFor)}</p>
          <Form method="post" className="grid max-w-md gap-3" noValidate>
            <NewPassword
              email={accountFor}
              label={words.password}
              hint={words.passwordHint}
              problem={problems["password"]}
            />
            <button className="btn btn-plain h-12 w-full sm:w-fit" name="intent" value="keep" disabled={busy}>
              {words.keepAccount}
            </button>
          </Form>
        </details>
      ) : null}
    </FamilyFrame>
  );
}
