/**
 * The process that makes one packet and ends: `packet-worker SCHOOL PACKET ASSETS`. It works behind everything else on the machine, and
 * so do the browser and the printer that it starts: saving comes first.
 */
import { connectApplication } from "#server/db/connection.ts";
import { putBehind } from "#server/exports/behind.ts";
import { openPrinter } from "#server/exports/printer.ts";
import { log, loggableError } from "#server/failure.ts";
import { makePacket } from "./make-packet.ts";

const [schoolId = "", packetId = "", assets = ""] = process.argv.slice(2);

putBehind(process.pid);

const database = connectApplication(process.env["APP_DATABASE_URL"] ?? "", { max: 3 });
const printer = openPrinter();
const stopping = new AbortController();
for (const signal of ["SIGTERM", "SIGINT", "SIGHUP"] as const) process.on(signal, () => stopping.abort());
// Whoever started this process is gone.
process.on("disconnect", () => stopping.abort());

try {
  await makePacket({ schoolId, packetId }, { database, printer, assets, stopping: stopping.signal });
} catch (error) {
  log.error({ error: loggableError(error) }, "packet not made");
  process.exitCode = 1;
} finally {
  await printer.stop();
  await database.destroy();
  if (process.connected) process.disconnect();
}
