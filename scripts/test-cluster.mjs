/** A cluster that lives as long as a run of the tests or benchmarks, with migrated template databases to copy. */
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { step } from "./console.mjs";
import { startCluster } from "./postgres.mjs";
import { runTypeScript } from "./setup.mjs";
import { startPool } from "./test-pool.mjs";

async function prepareTemplates({ urls, secrets }) {
  const prepare = (database) =>
    runTypeScript("cli/prepare.ts", [], {
      input: JSON.stringify({
        own: {
          admin: urls.admin,
          database,
          ownerPassword: secrets.owner,
          appPassword: secrets.app,
          fresh: false,
        },
        ownerUrl: urls.owner(database),
        appUrl: urls.app(database),
      }),
    });
  await prepare("gentle_margin_template_empty");
  await prepare("gentle_margin_template_demo");
  await runTypeScript("demo/seed-command.ts", [], {
    env: { ...process.env, OWNER_DATABASE_URL: urls.owner("gentle_margin_template_demo") },
  });
}

/**
 * The moment at which the school of every test, benchmark and picture begins: a Tuesday morning within a school year. From then on
 * time runs as it does. The whole cluster is set ahead or back by the difference; browsers and tests read it from the environment.
 */
const schoolBegins = process.env.GENTLE_MARGIN_TEST_CLOCK ?? "2026-11-24T18:40:00Z";

/**
 * Runs `work` with the environment that `tests/database.ts` reads. The cluster is gone afterwards, also after Ctrl-C.
 *
 * @param {{ pooled?: boolean }} [options] `pooled` starts a PgBouncer before it, for the web servers of the tests
 */
export async function withTestCluster(settings, work, { pooled = false } = {}) {
  const clockAhead = Date.parse(schoolBegins) - Date.now();
  const base = mkdtempSync(join(tmpdir(), "gentle-margin-test-"));
  const cluster = await step("Starting a database of its own", () =>
    startCluster({
      base,
      name: `test-${process.pid}`,
      settings: { max_connections: "200", "app.clock_ahead": `${clockAhead} milliseconds`, ...settings },
      wishedPort: 55000,
    }),
  );
  let pool = null;
  let stopped = false;
  const stop = async () => {
    if (stopped) return;
    stopped = true;
    pool?.stop();
    await cluster.stop().catch(() => undefined);
    cluster.remove();
    rmSync(base, { recursive: true, force: true });
  };
  for (const signal of ["SIGINT", "SIGTERM"])
    process.on(signal, () => void stop().then(() => process.exit(130)));
  try {
    await step("Preparing its templates", () => prepareTemplates(cluster));
    const { urls, bin } = cluster;
    // Every copy of a template has the role of that template.
    const app = urls.app("postgres", "gentle_margin_template_demo");
    if (pooled) pool = await startPool({ base, appUrl: app });
    return await work({
      GENTLE_MARGIN_CLOCK_AHEAD: String(clockAhead),
      GENTLE_MARGIN_TEST_CLUSTER: JSON.stringify({
        admin: urls.admin,
        owner: urls.owner("postgres"),
        app,
        pooled: pool?.url ?? null,
        bin,
      }),
    });
  } finally {
    await stop();
  }
}
