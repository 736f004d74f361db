/**
 * A PgBouncer in transaction mode before the tests' own cluster: the application is tested through it, as large installations run it.
 * A statement that needs its connection beyond its transaction fails here.
 */
import { spawn } from "node:child_process";
import { chmodSync, chownSync, mkdirSync, writeFileSync } from "node:fs";
import { connect } from "node:net";
import { join } from "node:path";
import { SetupError } from "./console.mjs";
import { choosePort, isRoot, unprivilegedUser } from "./postgres.mjs";
import { findPgbouncer } from "./setup.mjs";

const answers = (port) =>
  new Promise((resolve) => {
    const socket = connect(port, "127.0.0.1");
    socket.once("connect", () => socket.end(() => resolve(true)));
    socket.once("error", () => resolve(false));
  });

/**
 * @param {{ base: string, appUrl: string }} options a folder for its files, and the address it is a pool for: server, role and password
 * @returns {Promise<{ url: string, stop: () => void }>} the same address through the pool
 */
export async function startPool({ base, appUrl }) {
  const behind = new URL(appUrl);
  const port = await choosePort(56000);
  const folder = join(base, "pool");
  mkdirSync(folder);
  const file = (name, lines) => {
    writeFileSync(join(folder, name), `${lines.join("\n")}\n`, { mode: 0o600 });
    return join(folder, name);
  };
  const users = file("users.txt", [`"${behind.username}" "${behind.password}"`]);
  const settings = file("pgbouncer.ini", [
    ...["[databases]", `* = host=127.0.0.1 port=${behind.port}`],
    ...["[pgbouncer]", "listen_addr = 127.0.0.1", `listen_port = ${port}`, "unix_socket_dir ="],
    ...["auth_type = scram-sha-256", `auth_file = ${users}`, `logfile = ${join(folder, "log")}`],
    ...["pool_mode = transaction", "default_pool_size = 8", "max_client_conn = 500"],
    // What a test ended is not waited for.
    ...["server_login_retry = 0", "query_wait_timeout = 30"],
  ]);
  const user = isRoot() ? unprivilegedUser() : null;
  if (user) {
    chmodSync(base, 0o755);
    for (const path of [folder, users, settings]) chownSync(path, user.uid, user.gid);
  }
  const child = spawn(findPgbouncer(), ["--quiet", settings], {
    stdio: "ignore",
    ...(user ? { uid: user.uid, gid: user.gid } : {}),
  });
  const stop = () => void child.kill("SIGKILL");
  process.once("exit", stop);
  for (let tries = 0; !(await answers(port)); tries += 1) {
    if (child.exitCode !== null || tries > 200)
      throw new SetupError(`PgBouncer did not start. Its log is ${join(folder, "log")}.`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  const url = new URL(appUrl);
  url.port = String(port);
  return { url: url.toString(), stop };
}
