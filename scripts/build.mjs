/** Builds the application when its sources have changed since the last build. */
import { createHash } from "node:crypto";
import {
  copyFileSync,
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { basename, dirname, join, relative } from "node:path";
import { fileURLToPath } from "node:url";
import { runningFile } from "./claim.mjs";
import { exitOnSetupError, step } from "./console.mjs";
import { run } from "./process.mjs";
import { projectFolder } from "./setup.mjs";
import { compressAssets } from "./compress-assets.mjs";
import { readState } from "./state.mjs";

const sources = [
  "app",
  "core",
  "server",
  "public",
  // The pictures of the guide in the application.
  "docs/screenshots",
  "scripts/service-worker.mjs",
  "package-lock.json",
  "vite.config.ts",
  "react-router.config.ts",
];

export function isSource(path) {
  return !/\.test\.tsx?$/.test(path);
}

/** One text that changes when any source does. */
export function sourcesStamp(root = projectFolder, places = sources) {
  const hash = createHash("sha256");
  const visit = (path) => {
    const entries = readdirSync(join(root, path), { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    );
    for (const entry of entries) {
      const inner = join(path, entry.name);
      if (entry.isDirectory()) visit(inner);
      else if (isSource(inner)) add(inner);
    }
  };
  const add = (path) => hash.update(path).update(readFileSync(join(root, path)));
  for (const place of places) {
    if (!existsSync(join(root, place))) continue;
    if (/\.[a-z]+$/.test(place)) add(place);
    else visit(place);
  }
  return hash.digest("hex");
}

/** Assets of earlier versions are kept so long for pages that are open. */
const keptFor = 14 * 86_400_000;

/** Takes along what another build has and this one has not: pages that are open load it later. */
export function keepOldFiles(from, to, { now = Date.now() } = {}) {
  if (!existsSync(from)) return;
  for (const name of readdirSync(from)) {
    const [old, next] = [join(from, name), join(to, name)];
    if (existsSync(next) || now - statSync(old).mtimeMs > keptFor) continue;
    copyFileSync(old, next);
    const { atime, mtime } = statSync(old);
    utimesSync(next, atime, mtime);
  }
}

const buildPlace = join(projectFolder, "build");
const buildsOf = (place) => join(dirname(place), `.${basename(place)}s`);

/** The name of the build in use; null where there is none. */
export function currentBuild(place = buildPlace) {
  return lstatSync(place, { throwIfNoEntry: false })?.isSymbolicLink() ? basename(readlinkSync(place)) : null;
}

/** Uses another build from now on, in one step: whoever starts meanwhile finds the one or the other. */
export function useBuild(name, place = buildPlace) {
  const link = `${place}.link`;
  rmSync(link, { force: true });
  symlinkSync(join(basename(buildsOf(place)), name), link);
  // A folder in its place is of a version that had no links.
  if (currentBuild(place) === null) rmSync(place, { recursive: true, force: true });
  renameSync(link, place);
}

/**
 * Makes a build in a folder of its own, beside the one that serves, and uses it once it is whole. A build that fails leaves everything as
 * it was. A server that still runs has its own folder to the end; going back to the version before needs no new build.
 *
 * @param name what the build is known by: two of one name are the same
 * @param make makes the build in the folder that it is given
 * @param keep the names of builds that are needed still
 */
export async function buildAside(place, name, make, keep = []) {
  const builds = buildsOf(place);
  const [made, before] = [join(builds, name), currentBuild(place)];
  if (!existsSync(made)) {
    const next = `${made}.next`;
    rmSync(next, { recursive: true, force: true });
    mkdirSync(builds, { recursive: true });
    try {
      await make(next);
    } catch (error) {
      rmSync(next, { recursive: true, force: true });
      throw error;
    }
    renameSync(next, made);
  }
  if (before !== name) keepOldFiles(join(place, "client/assets"), join(made, "client/assets"));
  useBuild(name, place);
  for (const other of readdirSync(builds))
    if (![name, before, ...keep].includes(other))
      rmSync(join(builds, other), { recursive: true, force: true });
}

export async function ensureBuild() {
  const stampFile = join(buildPlace, "stamp");
  const stamp = sourcesStamp();
  if (existsSync(stampFile) && readFileSync(stampFile, "utf8") === stamp) return;
  const make = async (next) => {
    await run(process.execPath, ["node_modules/@react-router/dev/bin.js", "build"], {
      cwd: projectFolder,
      env: {
        ...process.env,
        NODE_ENV: "production",
        GENTLE_MARGIN_BUILD: relative(projectFolder, next),
      },
    });
    const client = join(next, "client");
    // Loaded only now: setting up comes before any package is there.
    const { makeServiceWorker } = await import("./service-worker.mjs");
    await makeServiceWorker(client);
    rmSync(join(client, ".vite"), { recursive: true, force: true });
    await compressAssets(client);
    writeFileSync(join(next, "stamp"), stamp);
  };
  await step("Building the application", () =>
    buildAside(buildPlace, stamp.slice(0, 16), make, [readState(runningFile)?.build]),
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) ensureBuild().catch(exitOnSetupError);
