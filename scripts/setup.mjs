/** What a fresh machine lacks, and getting it: Debian packages and npm packages. Node built-ins only. */
import { createHash } from "node:crypto";
import {
  accessSync,
  constants,
  copyFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from "node:fs";
import { delimiter, join } from "node:path";
import { fileURLToPath } from "node:url";
import { SetupError, step } from "./console.mjs";
import { run } from "./process.mjs";

export const projectFolder = fileURLToPath(new URL("..", import.meta.url)).replace(/\/$/, "");
export const dataFolder = process.env.GENTLE_MARGIN_DATA ?? join(projectFolder, ".data");
export const backupsFolder = process.env.BACKUPS ?? join(dataFolder, "backups");

export function findProgram(name, path = process.env.PATH ?? "") {
  for (const folder of path.split(delimiter)) {
    const candidate = join(folder, name);
    try {
      accessSync(candidate, constants.X_OK);
      return candidate;
    } catch {
      continue;
    }
  }
  return null;
}

/** The newest PostgreSQL server folder among those Debian installs side by side. */
export function newestPostgresFolder(versions) {
  return versions.filter((name) => /^\d+$/.test(name)).sort((a, b) => Number(b) - Number(a))[0] ?? null;
}

/**
 * The programs of PostgreSQL: of the newest version, or of the one that is asked for; null where it is not installed.
 *
 * @param {string} [base]
 * @param {string | null} [wanted]
 * @returns {string | null}
 */
export function findPostgresBin(base = "/usr/lib/postgresql", wanted = null) {
  if (existsSync(base)) {
    const usable = readdirSync(base).filter(
      (version) =>
        existsSync(join(base, version, "bin", "initdb")) && (wanted === null || version === wanted),
    );
    const newest = newestPostgresFolder(usable);
    if (wanted !== null && !newest) return null;
    if (newest) return join(base, newest, "bin");
  }
  const onPath = findProgram("initdb");
  return onPath ? onPath.replace(/\/initdb$/, "") : null;
}

/** PgBouncer, on the path or where Debian installs what a system starts. */
export const findPgbouncer = () => findProgram("pgbouncer") ?? findProgram("pgbouncer", "/usr/sbin");

/**
 * Which Debian packages to ask for.
 *
 * @param {{ postgres?: string | null, chromium?: string | null, pdftotext?: string | null, pgbouncer?: string | null }} found
 * @param {readonly string[]} needs
 */
export function missingPackages({ postgres, chromium, pdftotext, pgbouncer }, needs) {
  const missing = [];
  if (needs.includes("postgres") && !postgres) missing.push("postgresql");
  if (needs.includes("chromium") && !chromium) missing.push("chromium-headless-shell");
  if (needs.includes("pdftotext") && !pdftotext) missing.push("poppler-utils");
  if (needs.includes("pgbouncer") && !pgbouncer) missing.push("pgbouncer");
  return missing;
}

/**
 * How the missing packages come onto this machine: the commands to run, or, for a person without the right to,
 * the exact line to hand to someone who has it.
 */
export function installPlan({ missing, isRoot, hasApt, canSudo }) {
  if (missing.length === 0) return { commands: [] };
  const install = ["apt-get", "install", "-y", "--no-install-recommends", ...missing];
  const line = `apt-get update && apt-get install -y --no-install-recommends ${missing.join(" ")}`;
  if (!hasApt) return { ask: `Please install: ${missing.join(", ")} (there is no apt-get on this machine).` };
  if (isRoot) return { commands: [["apt-get", "update"], install] };
  if (canSudo) {
    return {
      commands: [
        ["sudo", "-n", "apt-get", "update"],
        ["sudo", "-n", ...install],
      ],
    };
  }
  return { ask: `Some programs are missing. Please run this as root, then start again:\n\n  ${line}` };
}

async function sudoWorks() {
  if (!findProgram("sudo")) return false;
  return run("sudo", ["-n", "true"]).then(
    () => true,
    () => false,
  );
}

export async function ensurePrograms(needs) {
  const found = {
    postgres: findPostgresBin(),
    chromium: findProgram("chromium-headless-shell") ?? findProgram("chromium"),
    pdftotext: findProgram("pdftotext"),
    pgbouncer: findPgbouncer(),
  };
  const missing = missingPackages(found, needs);
  if (missing.length === 0) return;
  const isRoot = process.getuid?.() === 0;
  const plan = installPlan({
    missing,
    isRoot,
    hasApt: findProgram("apt-get") !== null,
    canSudo: !isRoot && (await sudoWorks()),
  });
  if (plan.ask) throw new SetupError(plan.ask);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  await step(`Installing ${missing.join(" and ")}`, async () => {
    for (const [command, ...args] of plan.commands) await run(command, args, { env });
  });
}

/** The npm packages are up to date when this text is the one noted after the last `npm ci`. */
export function packagesStamp({ lockFile, nodeVersion, platform }) {
  return createHash("sha256").update([lockFile, nodeVersion, platform].join("\n")).digest("hex");
}

/** What to do about an installation that failed, in one line where it is known why. */
export function whyNotInstalled(said) {
  if (/ENOTFOUND|EAI_AGAIN|ECONNREFUSED|ETIMEDOUT|ENETUNREACH|network/i.test(said))
    return "npm's packages cannot be fetched: there is no way to the registry. Connect this machine, or copy node_modules from one with the same Node.js and platform.";
  if (/ENOSPC/.test(said)) return "npm's packages cannot be installed: the disk is full.";
  if (/EACCES|EPERM/.test(said))
    return `npm's packages cannot be installed: this account may not write to ${join(projectFolder, "node_modules")}.`;
  return `npm's packages cannot be installed.\n\n${said.split("\n").slice(-8).join("\n")}`;
}

/**
 * Installs beside the packages that a server may still use, and puts them in their place once they are whole; one that fails leaves them as
 * they were.
 *
 * @param folder the folder of `package.json`
 * @param install installs into the `node_modules` of the folder that it is given
 */
export async function installAside(folder, install) {
  const place = join(folder, "node_modules");
  if (!existsSync(place)) return install(folder);
  const [aside, before] = [join(folder, ".packages"), join(folder, "node_modules.before")];
  rmSync(aside, { recursive: true, force: true });
  mkdirSync(aside);
  try {
    for (const file of ["package.json", "package-lock.json"])
      copyFileSync(join(folder, file), join(aside, file));
    await install(aside);
    rmSync(before, { recursive: true, force: true });
    renameSync(place, before);
    renameSync(join(aside, "node_modules"), place);
    rmSync(before, { recursive: true, force: true });
  } finally {
    rmSync(aside, { recursive: true, force: true });
  }
}

export async function ensurePackages() {
  const stampFile = join(projectFolder, "node_modules", ".gentle-margin-stamp");
  const stamp = packagesStamp({
    lockFile: readFileSync(join(projectFolder, "package-lock.json"), "utf8"),
    nodeVersion: process.versions.modules,
    platform: `${process.platform}-${process.arch}`,
  });
  if (existsSync(stampFile) && readFileSync(stampFile, "utf8") === stamp) return;
  if (!findProgram("npm"))
    throw new SetupError(
      "npm is not on this machine, and packages are missing. Install it: apt-get install npm",
    );
  await step("Installing npm packages", () =>
    installAside(projectFolder, (cwd) =>
      run("npm", ["ci", "--include=dev", "--no-audit", "--no-fund"], { cwd }),
    ),
  ).catch((error) => {
    throw new SetupError(whyNotInstalled(error.message));
  });
  writeFileSync(stampFile, stamp);
}

export function checkNode(version = process.versions.node) {
  const [major, minor] = version.split(".").map(Number);
  if (major > 20 || (major === 20 && minor >= 19)) return;
  throw new SetupError(`Gentle Margin needs Node.js 20.19 or later; this is ${version}.`);
}

/** Runs a TypeScript file of the project with the packages that `ensurePackages` has made sure of. */
export function runTypeScript(file, args, options) {
  return run(process.execPath, ["--import", "tsx", file, ...args], { cwd: projectFolder, ...options });
}
