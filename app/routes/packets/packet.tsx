import { data, Form, Link } from "react-router";
import { writtenTexts } from "#core/report/edition.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { cancelPacket, findPacket, goOnWithPacket, readPacketReport } from "#server/db/packets.ts";
import { findNamesIn } from "#server/db/names.ts";
import { listStudents } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { defineIntents } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useProgress } from "#app/kit/use-progress.ts";
import { FetchFile } from "#app/routes/files/fetch-file.tsx";
import { NamesFound } from "#app/routes/editions/names-found.tsx";
import { markedTexts } from "#app/routes/editions/read-whole.server.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { mayFetchPacket } from "./may-fetch.server.ts";
import { leftOutWords } from "./packet-words.ts";
import type { Route } from "./+types/packet";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "packet.make", null, async (scope) => {
    const packetId = isId(params.packetId) ? params.packetId : notFound();
    const found = await findPacket(scope, packetId);
    const { packet, reports } = found;
    const names = new Map((await listStudents(scope)).map(({ studentId, name }) => [studentId, name]));
    const toLookAt = [];
    if (packet.state === "names")
      for (const { studentId, state } of reports) {
        const document = state === "names" ? await readPacketReport(scope, packetId, studentId) : null;
        const texts = document ? writtenTexts(document) : [];
        const finds = await findNamesIn(
          scope,
          studentId,
          texts.map(({ text }) => text),
        );
        if (document)
          toLookAt.push({
            ...{ studentId, name: names.get(studentId) ?? "" },
            names: markedTexts(texts, finds),
          });
      }
    const isFresh = scope.now.getTime() - packet.madeAt.getTime() < 24 * 3600_000;
    return {
      ...{ packetId, state: packet.state, recipient: packet.recipient, title: packet.choice.title },
      ...{ students: packet.students, toLookAt, isFresh },
      canFetch: isFresh && (await mayFetchPacket(scope, found)),
      read: reports.filter(({ state }) => state !== "waiting").length,
      file: packet.file && {
        isZip: packet.file.name.endsWith(".zip"),
        kb: Math.ceil(packet.file.size / 1024),
      },
      reports: reports.map(({ studentId, state, edition }) => ({
        ...{ studentId, edition: edition?.number ?? null, why: leftOutWords[state] },
        name: names.get(studentId) ?? "a student",
      })),
    };
  });
}

const idOf = ({ packetId }: { packetId?: string | undefined }) => (isId(packetId) ? packetId : notFound());

/** Those whose names were looked at and may stay. */
const keptOf = (form: FormData): string[] =>
  [...form].flatMap(([name, value]) => (name.startsWith("kept.") && value === "yes" ? name.slice(5) : []));

export const action = defineIntents({
  permission: "packet.make",
  intents: {
    cancel: {
      async run(scope, { params }) {
        await cancelPacket(scope, idOf(params));
        return data({});
      },
    },
    "go on": {
      async run(scope, { params, form }) {
        await goOnWithPacket(scope, idOf(params), keptOf(form), "left out");
        return data({});
      },
    },
    "read again": {
      async run(scope, { params, form }) {
        await goOnWithPacket(scope, idOf(params), keptOf(form), "waiting");
        return data({});
      },
    },
  },
});

type Shown = Route.ComponentProps["loaderData"];

function UnderWay({ state, read, students }: Pick<Shown, "state" | "read" | "students">) {
  const isReading = state === "reading" && read < students;
  return (
    <section aria-label="How far it is" className="mt-4 max-w-[40rem] rounded-lg bg-base-200 px-4 py-3">
      <p role="status" className="font-serif text-[1.15rem] font-semibold">
        {isReading
          ? `Reading reports: ${inDigits(read)} of ${inDigits(students)}`
          : "The reports are read. Making the file …"}
      </p>
      <progress
        className="reading-bar mt-2 w-full"
        aria-label="Reports read"
        value={read}
        max={students}
        hidden={!isReading}
      />
      <p className="mt-1 text-fine text-soft">
        You can leave this page. The packet is found again under “My packets”, also when the server was
        started anew.
        <noscript> Load this page again to see how far it is.</noscript>
      </p>
      <Form method="post" className="mt-2">
        <button className="btn btn-plain" name="intent" value="cancel">
          Cancel
        </button>
      </Form>
    </section>
  );
}

function LookAtNames({ toLookAt, problem }: Pick<Shown, "toLookAt"> & { problem: string | undefined }) {
  return (
    <Form method="post" className="mt-4 grid max-w-[52rem] gap-4" preventScrollReset>
      <div className="rounded-lg bg-base-200 px-4 py-3">
        <p className="font-serif text-[1.15rem] font-semibold">Look at these names first</p>
        <p>
          The other reports are read. Correct what names another student, or tick that it may stay. Then go
          on: who is not ticked stays out of the packet.
        </p>
      </div>
      {toLookAt.map(({ studentId, name, names }) => (
        <section key={studentId} aria-label={name}>
          <h2 className="font-serif text-[1.15rem] font-semibold" dir="auto">
            {name}
          </h2>
          {names.length > 0 ? (
            <NamesFound {...{ studentId, names }} field={`kept.${studentId}`} problem={undefined} />
          ) : (
            <p>
              Nothing is left to look at here. <input type="hidden" name={`kept.${studentId}`} value="yes" />
            </p>
          )}
        </section>
      ))}
      <div className="flex flex-wrap gap-2">
        <button className="btn btn-primary" name="intent" value="go on">
          Go on
        </button>
        <button className="btn btn-plain" name="intent" value="read again">
          I corrected some: read those again
        </button>
        <button className="btn btn-plain" name="intent" value="cancel">
          Cancel the packet
        </button>
      </div>
      <FormProblem>{problem}</FormProblem>
    </Form>
  );
}

const ended = {
  cancelled: "This packet was cancelled. Nothing of it left the school.",
  failed: "This packet was not made. Nothing of it left the school.",
} as const;

/** One packet: how far it is, what is to be looked at, its file, and who is in it. */
export default function PacketPage({
  loaderData: {
    packetId,
    state,
    title,
    recipient,
    students,
    read,
    toLookAt,
    reports,
    file,
    isFresh,
    canFetch,
  },
  actionData,
}: Route.ComponentProps) {
  const { problems } = useForm(actionData);
  const isUnderWay = state === "reading" || state === "making";
  useProgress(isUnderWay);
  const inIt = reports.filter(({ why }) => why === null);
  const outside = isUnderWay || state === "names" ? [] : reports.filter(({ why }) => why !== null);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="flex flex-wrap items-start justify-between gap-3 border-b border-base-300 pb-3">
        <div>
          <PageTitle title="Packet">{title}</PageTitle>
          <p className="text-soft" dir="auto">
            For {recipient}
          </p>
        </div>
        <Link className="btn btn-plain" to="/packets">
          Packets
        </Link>
      </header>
      {isUnderWay ? <UnderWay {...{ state, read, students }} /> : null}
      {state === "names" ? <LookAtNames toLookAt={toLookAt} problem={problems["form"]} /> : null}
      {state === "cancelled" || state === "failed" ? (
        <p role="status" className="mt-4 max-w-[40rem]">
          {ended[state]}{" "}
          <Link className="link" to="/packets">
            Make another one
          </Link>
        </p>
      ) : null}
      {state === "done" ? (
        <section aria-label="The file" className="mt-4 max-w-[40rem] rounded-lg bg-base-200 px-4 py-3">
          <p role="status">
            <b>
              {inDigits(inIt.length)} {plural(inIt.length, "student")}
            </b>{" "}
            in {file?.isZip ? "a ZIP" : "one PDF"}, {inDigits(file?.kb ?? 0)} kB.{" "}
            {canFetch
              ? "It can be fetched for a day."
              : isFresh
                ? "You are no longer the case manager of everybody in it, so it can no longer be fetched. Make another one."
                : "Its file was deleted after a day. Make another one where you need it."}
          </p>
          {canFetch ? (
            <div className="mt-2 flex flex-wrap items-center gap-3">
              <FetchFile href={`/packets/${packetId}/file`} words="Download" isNew={false} />
            </div>
          ) : null}
        </section>
      ) : null}
      {outside.length > 0 ? (
        <section aria-labelledby="outside" className="mt-5 max-w-[52rem]">
          <h2 id="outside" className="font-serif text-[1.15rem] font-semibold">
            Not in it
          </h2>
          <ul>
            {outside.map(({ studentId, name, why }) => (
              <li key={studentId} className="border-t border-base-300 py-1.5" dir="auto">
                <Link className="link" to={`/students/${studentId}/files`}>
                  {name}
                </Link>
                : {why}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {inIt.length > 0 ? (
        <section aria-labelledby="inside" className="mt-5 max-w-[52rem]">
          <h2 id="inside" className="font-serif text-[1.15rem] font-semibold">
            In it, in this order
          </h2>
          <ol className="list-decimal pl-6">
            {inIt.map(({ studentId, name, edition }) => (
              <li key={studentId} className="py-0.5" dir="auto">
                {name}
                {edition === null ? "" : ` · edition ${edition}`}
              </li>
            ))}
          </ol>
        </section>
      ) : null}
    </main>
  );
}
