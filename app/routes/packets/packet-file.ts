import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { findPacket, readPiece } from "#server/db/packets.ts";
import { notFound } from "#server/errors.ts";
import { noteReads } from "#server/db/reads.ts";
import { mayFetchPacket } from "./may-fetch.server.ts";
import type { Route } from "./+types/packet-file";

/** The file of a packet, piece by piece: only for who asked for it, while all in it are their students, and for a day. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const inScope = <T>(work: (scope: PersonScope) => Promise<T>) =>
    authorize(request, context, "packet.make", null, work);
  const { packetId, file, first } = await inScope(async (scope) => {
    const packetId = isId(params.packetId) ? params.packetId : notFound();
    const found = await findPacket(scope, packetId);
    if (!(await mayFetchPacket(scope, found))) notFound();
    await noteReads(
      scope,
      "editions",
      found.reports.filter(({ state }) => state === "made").map(({ studentId }) => studentId),
      { act: "exported", way: "file" },
    );
    return {
      ...{ packetId, file: found.packet.file ?? notFound() },
      first: (await readPiece(scope, packetId, 1)) ?? notFound(),
    };
  });
  let place = 1;
  const content = new ReadableStream<Uint8Array>({
    start(stream) {
      stream.enqueue(first);
    },
    async pull(stream) {
      place += 1;
      const piece = await inScope((scope) => readPiece(scope, packetId, place));
      if (piece) stream.enqueue(piece);
      else stream.close();
    },
  });
  return new Response(content, {
    headers: {
      "Content-Type": file.type,
      "Content-Length": String(file.size),
      "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      "Cache-Control": "no-store",
    },
  });
}
