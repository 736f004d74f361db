import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { request } from "node:http";
import { createSecureServer, type Http2ServerRequest, type Http2ServerResponse } from "node:http2";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { generate } from "selfsigned";

export interface TlsProxy {
  url: string;
  stop: () => Promise<void>;
}

export const hasNginx = existsSync("/usr/sbin/nginx");

const certificate = async () => {
  const made = await generate([{ name: "commonName", value: "localhost" }], { keySize: 2048 });
  return { key: made.private, cert: made.cert };
};

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, "127.0.0.1");
  await once(probe, "listening");
  const address = probe.address();
  await new Promise((resolve) => probe.close(resolve));
  return typeof address === "object" && address ? address.port : 0;
}

/** nginx before an application, set up as `docs/operations.md` says: its own words, with other names, ports and files. */
export async function nginxProxy(target: string): Promise<TlsProxy> {
  const folder = mkdtempSync(join(tmpdir(), "gentle-margin-nginx-"));
  const [tlsPort, plainPort] = [await freePort(), await freePort()];
  const { key, cert } = await certificate();
  writeFileSync(join(folder, "key.pem"), key);
  writeFileSync(join(folder, "cert.pem"), cert);
  mkdirSync(join(folder, "tmp"));
  const guide = readFileSync(new URL("../docs/operations.md", import.meta.url), "utf8");
  const said = /```nginx\n([\s\S]*?)```/.exec(guide)?.[1] ?? "";
  const { port } = new URL(target);
  const site = said
    .replace(/ {2}server 127\.0\.0\.1:4717;\n {2}server 127\.0\.0\.1:4718;/, `  server 127.0.0.1:${port};`)
    .replaceAll("margin.example.org;", "localhost;")
    .replace("/etc/ssl/margin.example.org.pem", join(folder, "cert.pem"))
    .replace("/etc/ssl/margin.example.org.key", join(folder, "key.pem"))
    .replace("listen 443 ssl", `listen 127.0.0.1:${tlsPort} ssl`)
    .replace("listen 80", `listen 127.0.0.1:${plainPort}`)
    // Before 1.25.1, which Debian 12 has not, this was said where it listens.
    .replace(" ssl;\n  http2 on;", " ssl http2;");
  const temporary = ["client_body", "proxy", "fastcgi", "uwsgi", "scgi"]
    .map((kind) => `${kind}_temp_path ${join(folder, "tmp", kind)};`)
    .join("\n");
  const file = join(folder, "nginx.conf");
  writeFileSync(
    file,
    `daemon off;\npid ${join(folder, "pid")};\nerror_log stderr;\nevents {}\nhttp {\naccess_log off;\n${temporary}\n${site}}\n`,
  );
  const child: ChildProcess = spawn("/usr/sbin/nginx", ["-p", folder, "-c", file], { stdio: "ignore" });
  for (let tries = 0; tries < 100; tries += 1) {
    const answered = await fetch(`http://127.0.0.1:${plainPort}/`, { redirect: "manual" }).catch(() => null);
    if (answered) break;
    if (child.exitCode !== null) throw new Error(`nginx ended with ${child.exitCode}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return {
    url: `https://localhost:${tlsPort}`,
    async stop() {
      child.kill("SIGTERM");
      if (child.exitCode === null) await once(child, "exit");
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** A small proxy of our own that does as that one does, for machines without nginx: TLS and HTTP/2 outside, HTTP/1.1 inside. */
export async function nodeProxy(target: string): Promise<TlsProxy> {
  const { hostname, port } = new URL(target);
  const pass = (asked: Http2ServerRequest, answer: Http2ServerResponse) => {
    const own = Object.entries(asked.headers).filter(([name]) => !name.startsWith(":"));
    const inner = request(
      {
        ...{ hostname, port, method: asked.method, path: asked.url },
        headers: {
          ...Object.fromEntries(own),
          host: asked.authority || asked.headers.host,
          "x-forwarded-for": asked.socket.remoteAddress,
          "x-forwarded-proto": "https",
        },
      },
      (got) => {
        // These belong to one connection and mean nothing in HTTP/2 (RFC 9113, 8.2.2).
        const passed = Object.entries(got.headers).filter(
          ([header]) => !["connection", "keep-alive", "transfer-encoding"].includes(header),
        );
        answer.writeHead(got.statusCode ?? 502, Object.fromEntries(passed));
        got.pipe(answer);
      },
    );
    inner.on("error", () => answer.destroy());
    answer.on("close", () => inner.destroy());
    asked.pipe(inner);
  };
  const server = createSecureServer({ ...(await certificate()), allowHTTP1: true }, pass);
  const sessions = new Set<{ destroy: () => void }>();
  server.on("session", (session) => sessions.add(session));
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  const address = server.address();
  const bound = typeof address === "object" && address ? address.port : 0;
  return {
    url: `https://localhost:${bound}`,
    stop: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        for (const session of sessions) session.destroy();
      }),
  };
}
