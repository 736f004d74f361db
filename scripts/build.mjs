/** Builds the application when its sources have changed since the last build. */
import { createHash } from "node:crypto";
import {
  copyFileSync,
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { basename, join } from "node:path";
import { fileURLToPath } from "node:url";
import { exitOnSetupError, step } from "./console.mjs";
import { run } from "./process.mjs";
import { projectFolder } from "./setup.mjs";
import { compressAssets } from "./compress-assets.mjs";

const sources = [
  "app",
  "core",
  "server",
  "public",
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

/** Takes along what an earlier build had and this one has not: pages that are open, and the server that still runs, load it later. */
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

/**
 * Makes a build beside the one that serves, and puts it in its place once it is whole. One that fails leaves everything as it was.
 *
 * @param make makes the build in the folder that it is given
 */
export async function buildAside(place, make) {
  const [next, before] = [`${place}.next`, `${place}.before`];
  rmSync(next, { recursive: true, force: true });
  try {
    await make(next);
    for (const assets of ["client/assets", "server/assets"]) {
      if (existsSync(join(next, assets))) keepOldFiles(join(place, assets), join(next, assets));
    }
  } catch (error) {
    rmSync(next, { recursive: true, force: true });
    throw error;
  }
  rmSync(before, { recursive: true, force: true });
  if (existsSync(place)) renameSync(place, before);
  renameSync(next, place);
  rmSync(before, { recursive: true, force: true });
}

export async function ensureBuild() {
  const place = join(projectFolder, "build");
  const stampFile = join(place, "stamp");
  const stamp = sourcesStamp();
  if (existsSync(stampFile) && readFileSync(stampFile, "utf8") === stamp) return;
  await step("Building the application", () =>
    buildAside(place, async (next) => {
      await run(process.execPath, ["node_modules/@react-router/dev/bin.js", "build"], {
        cwd: projectFolder,
        env: { ...process.env, NODE_ENV: "production", GENTLE_MARGIN_BUILD: basename(next) },
      });
      const client = join(next, "client");
      // Loaded only now: setting up comes before any package is there.
      const { makeServiceWorker } = await import("./service-worker.mjs");
      await makeServiceWorker(client);
      rmSync(join(client, ".vite"), { recursive: true, force: true });
      await compressAssets(client);
      writeFileSync(join(next, "stamp"), stamp);
    }),
  );
}

if (process.argv[1] === fileURLToPath(import.meta.url)) ensureBuild().catch(exitOnSetupError);
