/** `npm test`: everything from a bare machine to one line that says how many checks passed. `--only types,lint,unit,db,browser` runs parts. */
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { spawn } from "node:child_process";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError, step } from "./console.mjs";
import { startCluster } from "./postgres.mjs";
import { run } from "./process.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder, runTypeScript } from "./setup.mjs";
import { partsOf, playwrightCounts, vitestCounts } from "./test-counts.mjs";

const { values, positionals } = parseArgs({ allowPositionals: true, options: { only: { type: "string" } } });
const parts = partsOf(values.only);
const results = join(projectFolder, "test-results");

/** Runs a tool with its output shown; true when it ended well. */
function shown(args, env = {}) {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio: ["ignore", "inherit", "inherit"],
      env: { ...process.env, ...env },
    });
    child.once("exit", (code) => resolve(code === 0));
  });
}

async function check(label, tool, args) {
  try {
    await step(label, () =>
      run(process.execPath, [join(projectFolder, "node_modules", tool), ...args], { cwd: projectFolder }),
    );
    return { passed: 1, failed: 0 };
  } catch (error) {
    console.error(error.message);
    return { passed: 0, failed: 1 };
  }
}

async function prepareTemplates(cluster) {
  const prepare = async (database) =>
    runTypeScript("cli/prepare.ts", [
      JSON.stringify({
        own: {
          admin: cluster.urls.admin,
          database,
          ownerPassword: cluster.secrets.owner,
          appPassword: cluster.secrets.app,
          fresh: false,
        },
        ownerUrl: cluster.urls.owner(database),
        appUrl: cluster.urls.app(database),
      }),
    ]);
  await prepare("gentle_margin_template_empty");
  await prepare("gentle_margin_template_demo");
  await runTypeScript("demo/seed-command.ts", [cluster.urls.owner("gentle_margin_template_demo")]);
}

function readResults(file, counts) {
  try {
    return counts(JSON.parse(readFileSync(join(results, file), "utf8")));
  } catch {
    return { passed: 0, failed: 1 };
  }
}

async function withCluster(work) {
  const base = mkdtempSync(join(tmpdir(), "gentle-margin-test-"));
  const settings = { fsync: "off", full_page_writes: "off", max_connections: "200", shared_buffers: "128MB" };
  const cluster = await step("Starting a database for the tests", () =>
    startCluster({ base, name: `test-${process.pid}`, settings, wishedPort: 55000 }),
  );
  let stopped = false;
  const stop = async () => {
    if (stopped) return;
    stopped = true;
    await cluster.stop().catch(() => undefined);
    cluster.remove();
    rmSync(base, { recursive: true, force: true });
  };
  for (const signal of ["SIGINT", "SIGTERM"])
    process.on(signal, () => void stop().then(() => process.exit(130)));
  try {
    return await work(cluster);
  } finally {
    await stop();
  }
}

async function withDatabase(cluster) {
  await step("Preparing its templates", () => prepareTemplates(cluster));
  const env = {
    GENTLE_MARGIN_TEST_CLUSTER: JSON.stringify({
      admin: cluster.urls.admin,
      owner: cluster.urls.owner("postgres"),
      app: cluster.urls.app("postgres"),
      bin: cluster.bin,
    }),
  };
  const counts = [];
  const projects = ["unit", "db"].filter((part) => parts.has(part)).map((part) => `--project=${part}`);
  if (projects.length > 0) {
    await shown(
      [
        "node_modules/vitest/vitest.mjs",
        "run",
        ...projects,
        "--reporter=default",
        "--reporter=json",
        `--outputFile.json=${join(results, "vitest.json")}`,
        ...positionals,
      ],
      env,
    );
    counts.push(readResults("vitest.json", vitestCounts));
  }
  if (parts.has("browser")) {
    await shown(["node_modules/@playwright/test/cli.js", "test", ...positionals], {
      ...env,
      PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, "playwright.json"),
    });
    counts.push(readResults("playwright.json", playwrightCounts));
  }
  return counts;
}

async function main() {
  checkNode();
  await ensurePrograms(["postgres", ...(parts.has("browser") ? ["chromium"] : [])]);
  await ensurePackages();
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  await ensureBuild();
  const counts = [];
  if (parts.has("types")) {
    const projects = ["core", "server", "app", "cli", "e2e"];
    counts.push(
      ...(await Promise.all(
        projects.map((project) => check(`Types of ${project}`, "typescript/bin/tsc", ["-p", project])),
      )),
    );
  }
  if (parts.has("lint")) {
    counts.push(await check("Lint", "eslint/bin/eslint.js", ["."]));
    counts.push(
      await check("Formatting", "prettier/bin/prettier.cjs", ["--check", "--log-level", "warn", "."]),
    );
  }
  if (["unit", "db", "browser"].some((part) => parts.has(part)))
    counts.push(...(await withCluster(withDatabase)));
  const total = counts.reduce(
    (sum, { passed, failed }) => ({ passed: sum.passed + passed, failed: sum.failed + failed }),
    { passed: 0, failed: 0 },
  );
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed === 0 && total.passed > 0 ? 0 : 1);
}

main().catch(exitOnSetupError);
