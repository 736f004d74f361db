import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { packetForms } from "#core/report/packet.ts";
import { localDay } from "#core/dates/school-time.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import { alsoAuthorizeEach, authorize } from "#server/access/authorize.ts";
import { readSchoolLocale } from "#server/db/locale.ts";
import { askForPacket, listPackets } from "#server/db/packets.ts";
import { writeIn } from "#server/locale.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, fieldProps, FormProblem, Select } from "#app/ui/field.tsx";
import { id, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { formWords, packetStateWords } from "./packet-words.ts";
import { type PacketStudent, readPacketChoice } from "./read-choice.server.ts";
import type { Route } from "./+types/packets";

/** So many of the packets that were made are listed, and so many students can be in one. */
const mostListed = 20;
const mostStudents = 500;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "packet.make", null, async (scope) => {
    const { choice, ...read } = await readPacketChoice(scope, new URL(request.url).searchParams);
    return {
      ...read,
      ...{ title: choice.title, packetId: newId() },
      earlier: (await listPackets(scope, mostListed)).map(({ packetId, choice: { title }, ...one }) => ({
        ...{ packetId, title, recipient: one.recipient, state: packetStateWords[one.state] },
        ...{ students: one.students, on: dateWithYear(localDay(scope.timeZone, one.madeAt.getTime())) },
      })),
    };
  });
}

export const action = defineAction({
  permission: "packet.make",
  schema: z.object({
    packetId: id,
    recipient: text(200, "Say who receives it."),
    reason: optionalText(500),
  }),
  async run(scope, { packetId, recipient, reason }, { request, form, wrong }) {
    writeIn(await readSchoolLocale(scope));
    const { choice, students, hasChromium } = await readPacketChoice(
      scope,
      new URL(request.url).searchParams,
    );
    const studentIds = students
      .filter(({ state, studentId }) => state !== "out" && form.get(`student.${studentId}`) === "yes")
      .map(({ studentId }) => studentId);
    if (studentIds.length === 0) return wrong({ form: "Tick at least one student." });
    if (studentIds.length > mostStudents)
      return wrong({ form: `At most ${inDigits(mostStudents)} students can be in one packet.` });
    if (!hasChromium && choice.form !== "words")
      return wrong({ form: "The server has no Chromium, which makes PDFs. Choose Word files." });
    if (choice.audience === "own" && reason === null)
      return wrong({ reason: "Say why these reports leave." });
    await alsoAuthorizeEach(scope, "file.make", studentIds);
    const made = await askForPacket(scope, packetId, { choice, recipient, reason, studentIds });
    return redirect(`/packets/${made}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** What the packet is of: it stands in the address, and the page answers at once. */
function ChoosePacket({
  chosen: { whose, order, of, audience, form, odd, span, rubric },
  options,
  hasChromium,
}: Pick<Route.ComponentProps["loaderData"], "chosen" | "options" | "hasChromium">) {
  return (
    <ChoicesForm
      label="Which packet"
      className="grid grid-cols-1 gap-x-4 gap-y-3 sm:grid-cols-2 lg:grid-cols-4"
    >
      <Select className="min-w-0" label="What" name="of" defaultValue={of} options={options.contents} />
      <Select className="min-w-0" label="Whose" name="whose" defaultValue={whose} options={options.whose} />
      {of === "reports" ? (
        <Select
          className="min-w-0"
          label="Of which days"
          name="span"
          defaultValue={span}
          options={options.spans}
        />
      ) : null}
      {of === "assessment" && options.days.length > 0 ? (
        <Select
          className="min-w-0"
          label="Which day"
          name="rubric"
          defaultValue={rubric}
          options={options.days}
        />
      ) : null}
      <Select
        className="min-w-0"
        label="For which readers"
        name="for"
        defaultValue={audience}
        options={options.audiences}
      />
      {order ? (
        <Select
          className="min-w-0"
          label="In which order"
          name="order"
          defaultValue={order}
          options={[
            ["names", "By first name"],
            ["groups", "As groups meet in the day"],
          ]}
        />
      ) : null}
      <fieldset className="min-w-0 sm:col-span-2 lg:col-span-4">
        <legend className="text-fine font-bold">As what</legend>
        <div className="mt-1 flex flex-wrap gap-x-6 gap-y-1">
          {packetForms.map((one) => (
            <label key={one} className="flex min-h-11 cursor-pointer items-center gap-2">
              <input
                type="radio"
                name="form"
                value={one}
                defaultChecked={form === one}
                disabled={!hasChromium && one !== "words"}
              />
              {formWords[one]}
            </label>
          ))}
          {form === "one" ? (
            <label className="flex min-h-11 cursor-pointer items-center gap-2">
              <input type="checkbox" name="odd" value="yes" defaultChecked={odd} />
              Each student begins on a right-hand page (for printing on both sides)
            </label>
          ) : null}
        </div>
        {hasChromium ? null : (
          <p className="text-fine text-soft">
            The server has no Chromium, which makes PDFs. Its administrator installs it with “apt-get install
            chromium-headless-shell”.
          </p>
        )}
      </fieldset>
    </ChoicesForm>
  );
}

const parts = [
  ["ready", "In the packet"],
  ["ask", "Not ready: in it only where you tick them"],
  ["out", "Cannot be in it"],
] as const;

function Students({
  students,
  others,
  typed,
}: {
  students: readonly PacketStudent[];
  others: number;
  typed: Readonly<Record<string, string>> | undefined;
}) {
  return (
    <>
      {parts.map(([state, words]) => {
        const some = students.filter((one) => one.state === state);
        return some.length === 0 ? null : (
          <fieldset key={state} className="mt-4 min-w-0">
            <legend className="font-serif text-[1.15rem] font-semibold">
              {words} <span className="font-normal text-soft">{inDigits(some.length)}</span>
            </legend>
            <ul>
              {some.map(({ studentId, name, why, to }) => (
                <li
                  key={studentId}
                  className="flex flex-wrap items-center gap-x-3 border-t border-base-300 py-0.5"
                >
                  <label
                    className={`flex min-h-11 min-w-0 flex-1 flex-wrap items-center gap-x-3 sm:min-w-64 ${state === "out" ? "" : "cursor-pointer"}`}
                  >
                    {state === "out" ? null : (
                      <input
                        type="checkbox"
                        name={`student.${studentId}`}
                        value="yes"
                        defaultChecked={typed ? typed[`student.${studentId}`] === "yes" : state === "ready"}
                      />
                    )}
                    <span className="min-w-0 font-serif font-semibold sm:min-w-52" dir="auto">
                      {name}
                    </span>
                    <span className="min-w-0 text-fine text-soft">{why}</span>
                  </label>
                  {to ? (
                    <Link className="link text-fine" to={to.path}>
                      {to.words}
                      <span className="sr-only">: {name}</span>
                    </Link>
                  ) : null}
                </li>
              ))}
            </ul>
          </fieldset>
        );
      })}
      {others > 0 ? (
        <p className="mt-3 text-fine text-soft">
          {others === 1 ? "One more student is" : `${inDigits(others)} more students are`} in these groups.
          You are not in their circles, so they are not shown here.
        </p>
      ) : null}
    </>
  );
}

/** Reports of several students at once: what, whose, for whom, who is in it, and what was made before. */
export default function Packets({
  loaderData: { chosen, options, students, others, hasChromium, title, packetId, earlier },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  const field = fieldProps(typed, problems);
  const { whose, of, span, audience, rubric } = chosen;
  const able = students.filter(({ state }) => state !== "out").length;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="border-b border-base-300 pb-3">
        <PageTitle title="Packets" />
        <p className="text-soft">Pages of several students in one go, to hand out or to file.</p>
      </header>
      <div className="mt-4 max-w-[64rem]">
        <ChoosePacket {...{ chosen, options, hasChromium }} />
        {students.length === 0 ? (
          <EmptyState title="No students here">
            <p>
              {whose === ""
                ? "A packet is of students whose circle you are in. None is there yet."
                : "Choose another group, period or colleague."}
            </p>
          </EmptyState>
        ) : of === "assessment" && options.days.length === 0 ? (
          <EmptyState title="Nothing was assessed with a rubric">
            <p>
              A page for each student is made of what was scored with a rubric on one day. In the last four
              months none of these students was.
            </p>
          </EmptyState>
        ) : (
          <Form method="post" className="mt-2" preventScrollReset>
            <input type="hidden" name="packetId" value={typed?.["packetId"] ?? packetId} />
            <Students key={[whose, of, span, audience, rubric].join()} {...{ students, others, typed }} />
            <section aria-label="Make it" className="mt-5 rounded-lg bg-base-200 px-4 py-3">
              <p className="font-serif text-[1.15rem] font-semibold">{title}</p>
              <div className="mt-2 grid gap-3 sm:grid-cols-2">
                <Field
                  label="For whom"
                  hint="Who receives it: “families, in the backpack”. The record of what left the school shows it."
                  maxLength={200}
                  {...field("recipient")}
                />
                <Field label="Why" hint="Optional." maxLength={500} {...field("reason")} />
              </div>
              <div className="mt-3">
                <button className="btn btn-primary" disabled={busy || able === 0}>
                  Make the packet
                </button>
              </div>
              <FormProblem>{problems["form"]}</FormProblem>
            </section>
          </Form>
        )}
        <section aria-labelledby="made" className="mt-8">
          <h2 id="made" className="font-serif text-[1.15rem] font-semibold">
            My packets
          </h2>
          {earlier.length === 0 ? (
            <p className="text-soft">None yet. A packet can be fetched for a day after it was made.</p>
          ) : (
            <ul className="mt-1">
              {earlier.map((one) => (
                <li key={one.packetId} className="border-t border-base-300 py-1.5">
                  <Link className="link" to={`/packets/${one.packetId}`}>
                    {one.title}
                  </Link>{" "}
                  <span className="text-soft" dir="auto">
                    {[
                      ...[one.on, `${inDigits(one.students)} ${plural(one.students, "student")}`],
                      ...[`for ${one.recipient}`, one.state],
                    ].join(" · ")}
                  </span>
                </li>
              ))}
            </ul>
          )}
        </section>
      </div>
    </main>
  );
}
