import { spawn } from "node:child_process";

const running = new Set();

/** Ends what `run` has under way, so that nothing goes on after the script that started it. */
export async function endRunning() {
  await Promise.all([...running].map((child) => endChild(child)));
}

/** Runs a program to its end. Resolves with its output; rejects with the tail of it when the exit code is not 0. */
export function run(command, args, { env = process.env, cwd, input, show = false } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      env,
      cwd,
      stdio: [input === undefined ? "ignore" : "pipe", show ? "inherit" : "pipe", show ? "inherit" : "pipe"],
    });
    running.add(child);
    let output = "";
    const errors = [];
    child.stdout?.on("data", (chunk) => (output += chunk));
    child.stderr?.on("data", (chunk) => errors.push(chunk));
    if (input !== undefined) child.stdin.end(input);
    child.on("error", reject);
    child.on("close", (code, signal) => {
      running.delete(child);
      if (code === 0) return resolve(output);
      const tail = `${output}${Buffer.concat(errors)}`.trim().split("\n").slice(-25).join("\n");
      reject(new Error(`${command} ${args[0] ?? ""} ended with ${signal ?? `code ${code}`}\n${tail}`));
    });
  });
}

export function isAlive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === "EPERM";
  }
}

/** Asks a child to end, waits for it, and ends it for good after the patience is over. */
export function endChild(child, { patience = 6000 } = {}) {
  return new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    const timer = setTimeout(() => child.kill("SIGKILL"), patience);
    child.once("exit", () => {
      clearTimeout(timer);
      resolve();
    });
    child.kill("SIGTERM");
  });
}
