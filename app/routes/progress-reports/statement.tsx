import * as z from "zod/mini";
import {
  Form,
  Link,
  redirect,
  type ShouldRevalidateFunctionArgs,
  useNavigate,
  useOutletContext,
  useParams,
} from "react-router";
import { type RefObject, useEffect, useRef, useState } from "react";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import "#app/names/load-names.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm, type as typeInto, useKeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import {
  chooseStatementWriter,
  requireStatementWriter,
  saveStatement,
} from "#server/db/progress-statements.ts";
import { readStatementFacts } from "#server/db/statement-facts.ts";
import { listStatementRatings } from "#server/db/statement-ratings.ts";
import { notFound } from "#server/errors.ts";
import { FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { useKeys } from "#app/ui/keys.ts";
import { say } from "#app/ui/say.ts";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import type { Week } from "./progress-reports.tsx";
import { readStatement } from "./read-statement.server.ts";
import type { Route } from "./+types/statement";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "statement.read", params.studentId, (scope) =>
    readStatement(scope, idsOf(params), params.from),
  );
}

/** A conflict shows what another person saved, or the numbers of now. */
export const shouldRevalidate = ({ actionStatus, defaultShouldRevalidate }: ShouldRevalidateFunctionArgs) =>
  actionStatus === 409 || defaultShouldRevalidate;

interface StatementParams {
  from: string;
  studentId: string;
  goalId: string;
}
type Sent = Submitted<StatementParams>;

const idsOf = ({ studentId, goalId }: StatementParams) => ({
  studentId,
  goalId: isId(goalId) ? goalId : notFound(),
});

const longText = z._default(z.string().check(z.trim(), z.maxLength(4000, "At most 4,000 characters.")), "");
const orNone = z.pipe(
  z._default(z.union([id, z.literal("")]), ""),
  z.transform((value) => value || null),
);
const writtenForm = z.object({
  revision: z.coerce.number().check(z.int(), z.gte(0)),
  seen: z.string().check(z.maxLength(100)),
  words: longText,
  translation: longText,
  withNumbers: z.pipe(
    z.optional(z.string()),
    z.transform((value) => value === "yes"),
  ),
  ratingId: orNone,
  nextStudent: orNone,
  nextGoal: orNone,
});
type Written = z.output<typeof writtenForm>;

/** The page of another statement of the same period, or of the period itself, with the choice of goals that the address has. */
function pathTo(
  from: string,
  { nextStudent, nextGoal }: Pick<Written, "nextStudent" | "nextGoal">,
  request: Request,
) {
  const to = nextStudent && nextGoal ? `/${nextStudent}/${nextGoal}` : "";
  return `/progress-reports/${from}${to}${new URL(request.url).search}`;
}

const changedMeanwhile =
  "Another person saved this statement in the meantime. Their words are under “Earlier versions”. Check them, then save again.";
const otherNumbers =
  "The numbers changed while you wrote. Read the sentences above again, then mark the statement ready.";

async function save(scope: PersonScope, values: Written, { params, request, wrong }: Sent, isReady: boolean) {
  const ids = idsOf(params);
  await requireStatementWriter(scope, ids.goalId);
  const { words, translation, withNumbers, ratingId } = values;
  const { period, facts, seen } = await readStatementFacts(scope, ids, params.from);
  if (isReady) {
    const ratings = await listStatementRatings(scope);
    if (ratings.length > 0 && ratingId === null) return wrong({ ratingId: "Choose a rating." });
    if (!withNumbers && words === "")
      return wrong({ words: "Write something, or put the sentences from the numbers first." });
    if (seen !== values.seen) return wrong({ form: otherNumbers }, 409);
  }
  const outcome = await saveStatement(scope, ids, {
    ...{ period, expectedRevision: values.revision, facts: isReady ? facts : null },
    content: { words, translation, withNumbers, ratingId },
  });
  if (outcome === "conflict") return wrong({ form: changedMeanwhile }, 409);
  const here = { nextStudent: ids.studentId, nextGoal: ids.goalId };
  return redirect(pathTo(params.from, isReady ? values : here, request));
}

export const action = defineIntents({
  permission: "statement.read",
  intents: {
    draft: intent({
      schema: writtenForm,
      run: (scope, values, sent: Sent) => save(scope, values, sent, false),
    }),
    ready: intent({
      schema: writtenForm,
      run: (scope, values, sent: Sent) => save(scope, values, sent, true),
    }),
    writer: intent({
      permission: "statement.assign",
      schema: z.object({ personId: orNone }),
      async run(scope, { personId }, { params, request, wrong }: Sent) {
        const ids = idsOf(params);
        if ((await chooseStatementWriter(scope, ids, personId)) !== "saved")
          return wrong({
            personId: "This person does not record for the student. Add them to the circle first.",
          });
        return redirect(pathTo(params.from, { nextStudent: ids.studentId, nextGoal: ids.goalId }, request));
      },
    }),
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type LoaderData = Route.ComponentProps["loaderData"];

/** Writes a text into a field at its end, so that the browser can take it back. */
function append(field: HTMLTextAreaElement, text: string): void {
  field.focus();
  field.setSelectionRange(field.value.length, field.value.length);
  const added = field.value.trim() === "" ? text : `\n${text}`;
  // The one way by which the browser's own undo knows of it; where it does nothing, the text is set.
  if (!document.execCommand("insertText", false, added)) typeInto(field, field.value + added);
}

/** The sentences that are drafted from the numbers. */
function DraftText({ drafted }: { drafted: readonly string[] }) {
  return (
    <>
      <h3 className="mt-3 text-fine text-soft">Drafted from the numbers</h3>
      <p className="statement-draft">{drafted.join(" ")}</p>
    </>
  );
}

function Drafted({
  drafted,
  field,
}: {
  drafted: readonly string[];
  field: RefObject<HTMLTextAreaElement | null>;
}) {
  return (
    <>
      <DraftText drafted={drafted} />
      <p className="with-scripts mt-1">
        <button
          type="button"
          className="link text-fine"
          onClick={() => {
            if (!field.current) return;
            append(field.current, drafted.join(" "));
            const tick = field.current.form?.elements.namedItem("withNumbers");
            if (tick instanceof HTMLInputElement && tick.checked) tick.click();
            say("The draft is in your words now");
          }}
        >
          Edit the draft as my words
        </button>
      </p>
    </>
  );
}

function Ratings({
  data: { ratings, offersRatings, mayEditRatings, statement, mayWrite },
  typed,
  problem,
}: {
  data: LoaderData;
  typed: string | undefined;
  problem: string | undefined;
}) {
  const chosen = typed ?? statement?.content.ratingId ?? "";
  if (ratings.length === 0)
    return (
      <p className="text-fine text-soft">
        The school has no ratings yet.{" "}
        {mayEditRatings ? (
          <Link className="link" to="/school/ratings">
            Write those of your district’s form
          </Link>
        ) : (
          "An administrator or a case manager writes them under The school, Ratings."
        )}
      </p>
    );
  return (
    <fieldset disabled={!mayWrite} aria-describedby={problem ? "rating-says" : undefined}>
      <legend className="mb-1 text-fine font-bold">Rating</legend>
      <div className="flex flex-wrap gap-2">
        {ratings.map(({ ratingId, name }) => (
          <label key={ratingId} className="rating-choice">
            <input
              type="radio"
              className="sr-only"
              name="ratingId"
              value={ratingId}
              defaultChecked={chosen === ratingId}
              aria-invalid={problem ? true : undefined}
            />
            <span dir="auto">{name}</span>
          </label>
        ))}
      </div>
      {problem ? (
        <p id="rating-says" className="mt-1 text-fine font-bold text-error">
          {problem}
        </p>
      ) : offersRatings ? null : (
        <p className="mt-1 text-fine text-soft">The school offers no rating any more.</p>
      )}
    </fieldset>
  );
}

/**
 * What the writer began with: the version of the statement and the numbers. While something is typed both stay what they were, so that
 * what others save meanwhile is noticed; once a conflict is shown they are what the page shows.
 */
function Begun({
  revision,
  seen,
  conflict,
}: {
  revision: number;
  seen: string;
  conflict: string | undefined;
}) {
  const { isTouched } = useKeptForm();
  const [held, setHeld] = useState({ revision, seen });
  const isOther = held.revision !== revision || held.seen !== seen;
  if (isOther && (!isTouched || conflict !== undefined)) setHeld({ revision, seen });
  return (
    <>
      <input type="hidden" name="revision" value={held.revision} />
      <input type="hidden" name="seen" value={held.seen} />
    </>
  );
}

/** How the statement stands: ready by whom, saved, or changed and not saved. */
function Stands({ data: { statement, isChanged } }: { data: LoaderData }) {
  const { isTouched, saves } = useKeptForm();
  const ready = statement?.ready;
  if (isTouched) return <p className="text-fine font-bold">Changed, not saved yet.</p>;
  if (ready)
    return (
      <p className="text-fine">
        <b>
          Ready: {ready.by}, {dateWithYear(ready.on)}.
        </b>
        {isChanged ? " The numbers have changed since. Read them again and mark it ready." : null}
      </p>
    );
  return <p className="text-fine font-bold">{saves > 0 ? "Saved." : statement ? "A draft is saved." : ""}</p>;
}

function Writing({ data, actionData }: { data: LoaderData; actionData: Route.ComponentProps["actionData"] }) {
  const { busy, problems, typed, field } = useForm(actionData);
  const { next, here } = useOutletContext<Week>();
  const navigate = useNavigate();
  const form = useRef<HTMLDivElement>(null);
  const words = useRef<HTMLTextAreaElement>(null);
  const { statement, earlier, family, seen, drafted, student, goal } = data;
  const press = (name: string) => {
    const button = form.current?.querySelector<HTMLButtonElement>(`button[value=${name}]`);
    // While the form is on its way its buttons are off, and so are their keys.
    if (button && !button.disabled && !document.querySelector("dialog[open]"))
      button.form?.requestSubmit(button);
  };
  useEffect(() => {
    // Beside the goals the draft is in view with the field; on a narrow screen it is read first.
    if (matchMedia("(min-width: 1100px)").matches) words.current?.focus({ preventScroll: true });
  }, []);
  useKeys({ "mod+enter": () => press("ready"), "mod+s": () => press("draft") });
  return (
    <div
      ref={form}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || event.nativeEvent.isComposing) return;
        event.preventDefault();
        void navigate(here, { state: { goal: goal.goalId }, preventScrollReset: true });
      }}
    >
      <Drafted drafted={drafted} field={words} />
      <KeptForm draft="statement" method="post" className="mt-2 grid gap-3" noValidate preventScrollReset>
        <FormProblem>{problems["form"]}</FormProblem>
        <Begun revision={statement?.revision ?? 0} seen={seen} conflict={problems["form"]} />
        <input type="hidden" name="nextStudent" value={next?.studentId ?? ""} />
        <input type="hidden" name="nextGoal" value={next?.goalId ?? ""} />
        <label className="flex min-h-8 items-center gap-2 text-fine">
          <input
            type="checkbox"
            name="withNumbers"
            value="yes"
            className="size-4.5 accent-primary"
            defaultChecked={typed ? typed["withNumbers"] === "yes" : (statement?.content.withNumbers ?? true)}
          />
          These sentences come before my words
        </label>
        <div>
          <TextArea
            ref={words}
            label="In your words"
            rows={5}
            maxLength={4000}
            lang="en"
            spellCheck
            dir="auto"
            className="statement-words"
            {...field("words", statement?.content.words)}
          />
          <names-under about={student.studentId} />
        </div>
        {earlier ? (
          <details>
            <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
              Last period’s words: {earlier.period}
            </summary>
            <p className="statement-draft whitespace-pre-line" dir="auto">
              {earlier.rating ? <b>{earlier.rating}. </b> : null}
              {earlier.words}
            </p>
            {earlier.words ? (
              <button
                type="button"
                className="btn btn-plain btn-sm with-scripts mt-1"
                onClick={() => words.current && append(words.current, earlier.words)}
              >
                Put them into mine
              </button>
            ) : null}
          </details>
        ) : null}
        {family === "es" || statement?.content.translation ? (
          <div>
            <TextArea
              label="The same in Spanish, for the family"
              rows={3}
              maxLength={4000}
              lang="es"
              spellCheck
              className="statement-words"
              hint="The family’s report has the numbers in Spanish. Your words are left out of it unless they are here."
              {...field("translation", statement?.content.translation)}
            />
            <names-under about={student.studentId} />
          </div>
        ) : null}
        <Ratings data={data} typed={typed?.["ratingId"]} problem={problems["ratingId"]} />
        <div className="flex flex-wrap gap-2">
          <button className="btn btn-primary h-11" name="intent" value="ready" disabled={busy}>
            {next ? "Ready, next" : "Ready"}
          </button>
          <button className="btn btn-plain h-11" name="intent" value="draft" disabled={busy}>
            Save the draft
          </button>
        </div>
        <Stands data={data} />
      </KeptForm>
    </div>
  );
}

/** A statement as one reads it who does not write it. */
function Reading({ data: { statement, drafted, writer, lead } }: { data: LoaderData }) {
  const { content, rating, ready } = statement ?? {};
  return (
    <>
      <DraftText drafted={drafted} />
      {content?.words ? (
        <p className="mt-3 font-serif leading-snug whitespace-pre-line" dir="auto">
          {content.words}
        </p>
      ) : null}
      {rating ? <p className="mt-2 font-bold">{rating.name}</p> : null}
      <p className="mt-3 text-fine text-soft">
        {ready
          ? `Ready: ${ready.by}, ${dateWithYear(ready.on)}.`
          : `${writer?.name ?? lead} writes this statement.`}
      </p>
    </>
  );
}

/** Who writes the statements of this goal: a related-service person of the circle, or the case manager. */
function Writer({
  data: { people, writer, lead },
  problem,
}: {
  data: LoaderData;
  problem: string | undefined;
}) {
  return (
    <details className="mt-4" open={problem !== undefined}>
      <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
        Written by {writer?.name ?? lead}
      </summary>
      <Form method="post" className="flex flex-wrap items-end gap-2" preventScrollReset>
        <Select
          key={writer?.personId ?? ""}
          label="Who writes the statements of this goal"
          name="personId"
          className="min-w-0 flex-1"
          defaultValue={writer?.personId ?? ""}
          options={[
            ["", `${lead}, case manager`],
            ...people.map((one) => [one.personId, one.words] as const),
          ]}
          problem={problem}
        />
        <button className="btn btn-plain" name="intent" value="writer">
          Choose
        </button>
      </Form>
    </details>
  );
}

/** The statement of one goal: the draft from the numbers beside the writer's own words. */
export default function Statement({ loaderData: data, actionData }: Route.ComponentProps) {
  const { goal, student, standing, mayWrite, mayAssign, steps, plainly, family } = data;
  const { here, period } = useOutletContext<Week>();
  const { goalId } = useParams();
  return (
    <section className="statement" aria-label={`Statement of ${goal.number} ${goal.title}`}>
      <div className="flex items-baseline justify-between gap-2 text-fine text-soft">
        <h2 className="min-w-0" dir="auto">
          <span className="font-bold text-base-content">{student.name}</span> ·{" "}
          <Link className="link" to={`/students/${student.studentId}/goals/${goal.goalId}`}>
            {goal.number} {goal.title}
          </Link>
        </h2>
        <Link
          className="btn btn-plain btn-sm shrink-0"
          to={here}
          state={{ goal: goal.goalId }}
          preventScrollReset
        >
          Close
        </Link>
      </div>
      {standing ? (
        <p className="mt-1.5">
          <StandingMark standing={standing} />
        </p>
      ) : null}
      <p className="mt-1 text-fine text-soft">
        {[goal.criterion && `Criterion: ${goal.criterion}`, goal.dueOn && `due ${dateWithYear(goal.dueOn)}`]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <details>
        <summary className="w-fit cursor-pointer py-1 text-fine font-bold">The goal’s wording</summary>
        <p className="font-serif leading-snug" dir="auto">
          {goal.wording}
        </p>
      </details>
      {mayWrite ? (
        <Writing key={`${period} ${goalId ?? ""}`} {...{ data, actionData }} />
      ) : (
        <Reading data={data} />
      )}
      <details className="mt-3">
        <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
          The numbers as the family reads them{family === "es" ? ", in Spanish" : ""}
        </summary>
        <p className="statement-draft" lang={family}>
          {plainly.join(" ")}
        </p>
      </details>
      {mayAssign ? <Writer data={data} problem={actionData?.problems["personId"]} /> : null}
      {steps.length > 0 ? (
        <details className="mt-1">
          <summary className="w-fit cursor-pointer py-1 text-fine font-bold">
            Earlier versions ({steps.length})
          </summary>
          <ol className="grid gap-2">
            {steps.toReversed().map(({ revision, by, on, time, words, ready }) => (
              <li key={revision} className="text-fine">
                <span className="text-soft">
                  {dateWithYear(on)}, {timeOfDay(time)} · {by ?? "no longer known"}
                  {ready ? " · ready" : ""}
                </span>
                <span className="block font-serif whitespace-pre-line" dir="auto">
                  {words || "No words of their own."}
                </span>
              </li>
            ))}
          </ol>
        </details>
      ) : null}
    </section>
  );
}
