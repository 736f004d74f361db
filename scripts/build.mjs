/** Builds the application when its sources have changed since the last build. */
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
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

export async function ensureBuild() {
  const stampFile = join(projectFolder, "build", "stamp");
  const stamp = sourcesStamp();
  if (existsSync(stampFile) && readFileSync(stampFile, "utf8") === stamp) return;
  await step("Building the application", async () => {
    rmSync(stampFile, { force: true });
    await run(process.execPath, ["node_modules/@react-router/dev/bin.js", "build"], {
      cwd: projectFolder,
      env: { ...process.env, NODE_ENV: "production" },
    });
    const client = join(projectFolder, "build", "client");
    // Loaded only now: setting up comes before any package is there.
    const { makeServiceWorker } = await import("./service-worker.mjs");
    await makeServiceWorker(client);
    rmSync(join(client, ".vite"), { recursive: true, force: true });
    await compressAssets(client);
    writeFileSync(stampFile, stamp);
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) ensureBuild().catch(exitOnSetupError);
