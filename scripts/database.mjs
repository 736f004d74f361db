/** Which database the commands use: one in our own cluster, or the server that DATABASE_URL names. */
import { joinUsers, takeLock } from "./claim.mjs";
import { SetupError, step } from "./console.mjs";
import { readSecrets, startCluster } from "./postgres.mjs";
import { backupsFolder, ensurePackages, ensurePrograms, findPostgresBin, runTypeScript } from "./setup.mjs";

/** Where things are, from the environment alone. */
export function databasePlan(env, { demo, fresh }) {
  if (!env.DATABASE_URL)
    return { kind: "own", database: demo ? "gentle_margin_demo" : "gentle_margin", fresh };
  if (fresh)
    throw new SetupError(
      "--fresh only starts over a database of our own; DATABASE_URL is set, so nothing was touched.",
    );
  return { kind: "given", ownerUrl: env.DATABASE_URL, appUrl: env.APP_DATABASE_URL || null };
}

async function prepare(ask) {
  try {
    return (await runTypeScript("cli/prepare.ts", [], { input: JSON.stringify(ask) })).trim();
  } catch (error) {
    const [, ...said] = error.message.split("\n");
    throw new SetupError(`The database could not be prepared.\n\n${said.join("\n")}`);
  }
}

/** Starting and stopping take turns, whichever command does it. */
async function alone(work) {
  const letGo = await takeLock("cluster", { wait: 120_000 });
  if (!letGo)
    throw new SetupError(
      "Another command has been starting or stopping the database for two minutes. End it, then try again.",
    );
  try {
    return await work();
  } finally {
    await letGo();
  }
}

/** What our commands that work as the owner find in their environment. */
export const ownerEnvironment = ({ ownerUrl, adminUrl }) => ({
  OWNER_DATABASE_URL: ownerUrl,
  ADMIN_DATABASE_URL: adminUrl,
  POSTGRES_BIN: findPostgresBin() ?? "",
  BACKUPS: backupsFolder,
});

/** Makes sure of the database and its tables. Answers with its addresses and how to let go of it. */
export async function openDatabase({ demo = false, fresh = false, beside = false } = {}) {
  const plan = databasePlan(process.env, { demo, fresh });
  const backups = { bin: findPostgresBin(), folder: backupsFolder };
  await ensurePrograms([
    ...(plan.kind === "own" ? ["postgres"] : []),
    // It makes the PDFs. Elsewhere the page says how to get it.
    ...(demo ? ["chromium"] : []),
  ]);
  await ensurePackages();
  if (plan.kind === "given") {
    const ask = {
      ...{
        ownerUrl: plan.ownerUrl,
        appUrl: plan.appUrl ?? undefined,
        appPassword: readSecrets().app,
        beside,
        backups,
      },
    };
    const appUrl = await step("Bringing the tables up to date", () => prepare(ask));
    return {
      ownerUrl: plan.ownerUrl,
      adminUrl: plan.ownerUrl,
      appUrl,
      close: async () => undefined,
      revive: async () => false,
    };
  }
  const user = joinUsers();
  const cluster = await step("Starting the database", () => alone(() => startCluster()));
  // The last one out stops it: a command that ends meanwhile never takes it from under another.
  const close = () =>
    alone(async () => {
      user.leave();
      if (user.others() === 0) await cluster.stop();
    });
  try {
    const ownerUrl = cluster.urls.owner(plan.database);
    const appUrl = await step("Bringing the tables up to date", () =>
      prepare({
        own: {
          admin: cluster.urls.admin,
          database: plan.database,
          ownerPassword: cluster.secrets.owner,
          appPassword: cluster.secrets.app,
          fresh,
        },
        ownerUrl,
        beside,
        appUrl: cluster.urls.app(plan.database),
        ...(demo ? {} : { backups }),
      }),
    );
    return { ownerUrl, adminUrl: cluster.urls.admin, appUrl, close, revive: () => alone(cluster.revive) };
  } catch (error) {
    await close();
    throw error;
  }
}
