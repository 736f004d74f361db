import { once } from "node:events";
import type { Server } from "node:http";

/**
 * Listens on the port, or on the next one that is free: it is bound first and told afterwards, so that two starts at once never meet.
 *
 * @param wanted `port` 0 takes any; `tries` is how many ports are tried, upwards
 * @returns the port that is listened on
 */
export async function listen(
  server: Server,
  { port, tries, host }: { port: number; tries: number; host: string },
): Promise<number> {
  try {
    server.listen(port, host);
    await once(server, "listening");
  } catch (error) {
    const taken = error instanceof Error && "code" in error && error.code === "EADDRINUSE";
    if (!taken || tries <= 1) throw error;
    return listen(server, { port: port + 1, tries: tries - 1, host });
  }
  const address = server.address();
  return typeof address === "object" && address ? address.port : port;
}
