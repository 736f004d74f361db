/**
 * `npm test`: everything from a bare machine to one line that says how many checks passed. `--only types,lint,unit,db,browser` runs
 * parts. `--all`, and CI, run the slow tests too: crashes, and the demo on eight days.
 */
import { spawn } from "node:child_process";
import { mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError } from "./console.mjs";
import { run } from "./process.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder } from "./setup.mjs";
import { withTestCluster } from "./test-cluster.mjs";
import {
  partsOf,
  playwrightCounts,
  playwrightFailures,
  sumOf,
  vitestCounts,
  vitestFailures,
} from "./test-counts.mjs";

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { only: { type: "string" }, all: { type: "boolean", default: Boolean(process.env.CI) } },
});
const parts = partsOf(values.only);
const results = join(projectFolder, "test-results");
/** What a checker knows of files that have not changed since. Nothing but time is lost with it. */
const cache = join(projectFolder, ".cache");

/** Runs a tool with its output shown. */
function shown(args, env) {
  return new Promise((resolve) => {
    const stdio = ["ignore", "inherit", "inherit"];
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio,
      env: { ...process.env, ...(values.all ? { GENTLE_MARGIN_ALL: "1" } : {}), ...env },
    });
    child.once("exit", resolve);
  });
}

/** Runs a checker beside other work: one line when it is done, and its output only where it found something. */
async function check(label, tool, args) {
  const started = Date.now();
  const done = (how) => console.log(`  ${label} … ${how} (${((Date.now() - started) / 1000).toFixed(1)} s)`);
  try {
    await run(process.execPath, [join(projectFolder, "node_modules", tool), ...args], { cwd: projectFolder });
    done("done");
    return { passed: 1, failed: 0 };
  } catch (error) {
    done("failed");
    console.error(error.message);
    return { passed: 0, failed: 1, failures: [label] };
  }
}

/** What a suite counted. One that ended badly with nothing failed, as by an error outside of its tests, counts as a failure. */
function readResults(file, counts, failuresOf, code) {
  try {
    const said = JSON.parse(readFileSync(join(results, file), "utf8"));
    const { passed, failed } = counts(said);
    if (failed === 0 && code !== 0)
      return { passed, failed: 1, failures: [`${file}: ended with ${code} though no test failed`] };
    return { passed, failed, failures: failuresOf(said) };
  } catch (error) {
    return { passed: 0, failed: 1, failures: [`${file}: ${error.message}`] };
  }
}

async function runSuites(env) {
  const counts = [];
  const projects = ["unit", "db"].filter((part) => parts.has(part)).map((part) => `--project=${part}`);
  if (projects.length > 0) {
    const reports = [
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${join(results, "vitest.json")}`,
    ];
    const code = await shown(
      ["node_modules/vitest/vitest.mjs", "run", ...projects, ...reports, ...positionals],
      env,
    );
    counts.push(readResults("vitest.json", vitestCounts, vitestFailures, code));
  }
  if (parts.has("browser")) {
    const report = { PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, "playwright.json") };
    const code = await shown(["node_modules/@playwright/test/cli.js", "test", ...positionals], {
      ...env,
      ...report,
    });
    counts.push(readResults("playwright.json", playwrightCounts, playwrightFailures, code));
  }
  return counts;
}

/** Types, lint and formatting, one after the other: they fill the core that the tests leave idle. */
async function checkStatically() {
  const counts = [];
  if (parts.has("types") || parts.has("lint"))
    counts.push(await check("Types of the routes", "@react-router/dev/bin.js", ["typegen"]));
  if (parts.has("types"))
    for (const project of ["core", "server", "app", "cli"]) {
      const memory = ["--incremental", "--tsBuildInfoFile", join(cache, `types-${project}.json`)];
      counts.push(await check(`Types of ${project}`, "typescript/bin/tsc", ["-p", project, ...memory]));
    }
  if (parts.has("lint")) {
    // The rules that ask for types look into other files too: what is kept of a file holds as long as no file has changed its types.
    const memory = ["--cache", "--cache-strategy", "content", "--cache-location", join(cache, "lint.json")];
    counts.push(await check("Lint", "eslint/bin/eslint.js", [".", ...(process.env.CI ? [] : memory)]));
    const format = ["--check", "--log-level", "warn", "--cache", "--cache-location"];
    counts.push(
      await check("Formatting", "prettier/bin/prettier.cjs", [...format, join(cache, "format.json"), "."]),
    );
  }
  return counts;
}

async function main() {
  checkNode();
  const usesServers = parts.has("browser") || parts.has("db");
  await ensurePrograms(["postgres", ...(usesServers ? ["chromium", "pdftotext", "pgbouncer"] : [])]);
  await ensurePackages();
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  mkdirSync(cache, { recursive: true });
  await ensureBuild();
  const suites = ["unit", "db", "browser"].some((part) => parts.has(part))
    ? withTestCluster({ fsync: "off", full_page_writes: "off" }, runSuites, { pooled: usesServers })
    : [];
  const counts = (await Promise.all([checkStatically(), suites])).flat();
  const { passed, failed } = sumOf(counts);
  for (const failure of counts.flatMap(({ failures = [] }) => failures)) console.log(`  failed: ${failure}`);
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed === 0 && passed > 0 ? 0 : 1);
}

main().catch(exitOnSetupError);
