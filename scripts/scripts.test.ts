import {
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  realpathSync,
  rmSync,
  utimesSync,
  writeFileSync,
} from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { buildAside, currentBuild, isSource, sourcesStamp } from "./build.mjs";
import { databasePlan } from "./database.mjs";
import {
  choosePort,
  clusterFolder,
  isPortFree,
  isStaleLock,
  readLockFile,
  readSecrets,
} from "./postgres.mjs";
import {
  checkNode,
  findPostgresBin,
  installAside,
  installPlan,
  missingPackages,
  newestPostgresFolder,
  packagesStamp,
  whyNotInstalled,
} from "./setup.mjs";
import { readState, writeState } from "./state.mjs";
import {
  partsOf,
  playwrightCounts,
  playwrightFailures,
  vitestCounts,
  vitestFailures,
} from "./test-counts.mjs";

describe("what a machine lacks", () => {
  it("is only what the task at hand needs", () => {
    expect(missingPackages({ postgres: null, chromium: null }, ["postgres"])).toEqual(["postgresql"]);
    expect(missingPackages({ postgres: "/bin", pdftotext: null }, ["postgres", "pdftotext"])).toEqual([
      "poppler-utils",
    ]);
    expect(missingPackages({ postgres: "/bin", chromium: null }, ["postgres", "chromium"])).toEqual([
      "chromium-headless-shell",
    ]);
    expect(missingPackages({ postgres: "/bin", pgbouncer: null }, ["postgres", "pgbouncer"])).toEqual([
      "pgbouncer",
    ]);
    expect(missingPackages({ postgres: "/bin", chromium: "/bin" }, ["postgres", "chromium"])).toEqual([]);
  });

  const lacking = { missing: ["postgresql"], hasApt: true, isRoot: false, canSudo: false };
  it("is installed by root, or through sudo where it asks for no password", () => {
    expect(
      installPlan({ ...lacking, isRoot: true }).commands?.map((command: string[]) => command[0]),
    ).toEqual(["apt-get", "apt-get"]);
    expect(
      installPlan({ ...lacking, canSudo: true }).commands?.every(
        (command: string[]) => command[0] === "sudo" && command[1] === "-n",
      ),
    ).toBe(true);
    expect(installPlan({ ...lacking, missing: [] })).toEqual({ commands: [] });
  });

  it("is otherwise asked for with the exact line to run", () => {
    expect(installPlan(lacking).ask).toContain(
      "apt-get update && apt-get install -y --no-install-recommends postgresql",
    );
    expect(installPlan({ ...lacking, hasApt: false }).ask).toContain("Please install: postgresql");
  });

  it("is said in a line where packages cannot be installed", () => {
    expect(whyNotInstalled("npm error code ENOTFOUND\nnpm error request to https://…")).toMatch(
      /no way to the registry/,
    );
    expect(whyNotInstalled("npm error code ENOSPC")).toMatch(/disk is full/);
    expect(whyNotInstalled("npm error code EACCES")).toMatch(/may not write to .*node_modules/);
    expect(whyNotInstalled("one\ntwo")).toBe("npm's packages cannot be installed.\n\none\ntwo");
  });

  it("takes the newest PostgreSQL that Debian installed side by side", () => {
    expect(newestPostgresFolder(["9", "15", "common", "13"])).toBe("15");
    expect(newestPostgresFolder([])).toBeNull();
  });

  it("is the PostgreSQL with which a cluster was made, and no newer one", () => {
    const base = mkdtempSync(join(tmpdir(), "gentle-margin-versions-"));
    for (const version of ["15", "17"]) {
      mkdirSync(join(base, version, "bin"), { recursive: true });
      writeFileSync(join(base, version, "bin", "initdb"), "");
    }
    const bin = (wanted: string | null) => findPostgresBin(base, wanted);
    expect([bin(null), bin("15"), bin("16")]).toEqual([
      join(base, "17", "bin"),
      join(base, "15", "bin"),
      null,
    ]);
    rmSync(base, { recursive: true });
  });

  it("includes Node.js 20.19 or later", () => {
    expect(() => checkNode("20.19.0")).not.toThrow();
    expect(() => checkNode("24.1.0")).not.toThrow();
    expect(() => checkNode("20.11.1")).toThrow(/20\.11\.1/);
  });

  it("is installed anew when lock file, Node's ABI or platform change", () => {
    const stamp = { lockFile: "a", nodeVersion: "115", platform: "linux-x64" };
    expect(packagesStamp(stamp)).toBe(packagesStamp({ ...stamp }));
    for (const change of [{ lockFile: "b" }, { nodeVersion: "127" }, { platform: "linux-arm64" }])
      expect(packagesStamp({ ...stamp, ...change })).not.toBe(packagesStamp(stamp));
  });
});

describe("the cluster", () => {
  const lock = readLockFile("4242\n/data/cluster\n1700000000\n54717\n\n127.0.0.1\n");
  it("reads PostgreSQL's lock file", () => {
    expect(lock).toEqual({ pid: 4242, folder: "/data/cluster", port: 54717 });
    expect(readLockFile("")).toBeNull();
  });

  it("takes a lock for stale when its process is gone or has become something else", () => {
    const running = { alive: true, commandLine: "/usr/lib/postgresql/15/bin/postgres -D /data/cluster " };
    expect(isStaleLock(lock, "/data/cluster", running)).toBe(false);
    expect(isStaleLock(lock, "/data/cluster", { ...running, alive: false })).toBe(true);
    expect(isStaleLock(lock, "/data/cluster", { alive: true, commandLine: "node server.js" })).toBe(true);
    expect(
      isStaleLock(lock, "/data/cluster", { alive: true, commandLine: "postgres -D /another/cluster" }),
    ).toBe(true);
    expect(isStaleLock(null, "/data/cluster", running)).toBe(true);
  });

  it("lives in the project for a person, and where an unprivileged server can reach it for root", () => {
    expect(clusterFolder({ root: false, base: "/home/noor/app/.data", name: "cluster" })).toBe(
      "/home/noor/app/.data/cluster",
    );
    const forRoot = (base: string) => clusterFolder({ root: true, base, name: "cluster" });
    expect(forRoot("/root/a")).toMatch(/^\/var\/lib\/gentle-margin\/[0-9a-f]{12}-cluster$/);
    expect(forRoot("/root/a")).not.toBe(forRoot("/root/b"));
  });

  it("steps aside for a port that is taken", async () => {
    expect(await choosePort(100, (port: number) => Promise.resolve(port === 103))).toBe(103);
    await expect(choosePort(100, () => Promise.resolve(false), 5)).rejects.toThrow(
      /No free port between 100 and 104/,
    );
    const taken = createServer();
    const port = await new Promise<number>((resolve) =>
      taken.listen(0, "127.0.0.1", () => resolve((taken.address() as { port: number }).port)),
    );
    expect(await isPortFree(port)).toBe(false);
    await new Promise((resolve) => taken.close(resolve));
    expect(await isPortFree(port)).toBe(true);
  });

  it("makes its passwords once, for this user's eyes only", () => {
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-secrets-"));
    const secrets: Record<string, string> = readSecrets(folder);
    expect(new Set(Object.values(secrets)).size).toBe(3);
    expect(readSecrets(folder)).toEqual(secrets);
    expect(readFileSync(join(folder, "secrets.json"), "utf8")).toContain(secrets["app"]);
    rmSync(folder, { recursive: true });
  });
});

describe("what a command notes for the next", () => {
  it("is whole or not there, and a broken file is none", () => {
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-state-"));
    const file = join(folder, "inner", "state.json");
    const read = () => readState(file) as unknown;
    expect(read()).toBeNull();
    writeState(file, { demo: 4717 });
    expect(read()).toEqual({ demo: 4717 });
    expect(readdirSync(join(folder, "inner"))).toEqual(["state.json"]);
    for (const broken of ["", "{", "7"]) {
      writeFileSync(file, broken);
      expect(read()).toBeNull();
    }
    // Lost passwords are made anew, whole.
    writeFileSync(join(folder, "secrets.json"), '{"admin":"only one"}');
    expect(Object.keys(readSecrets(folder) as object)).toEqual(["admin", "owner", "app"]);
    rmSync(folder, { recursive: true });
  });
});

describe("which database", () => {
  it("is one of our own, the demo's apart from the school's", () => {
    expect(databasePlan({}, { demo: true, fresh: true })).toEqual({
      kind: "own",
      database: "gentle_margin_demo",
      fresh: true,
    });
    expect(databasePlan({}, { demo: false, fresh: false })).toMatchObject({ database: "gentle_margin" });
  });

  it("is the given one where DATABASE_URL is set, and that one is never started over", () => {
    const env = { DATABASE_URL: "postgres://owner@db/school" };
    expect(databasePlan(env, { demo: false, fresh: false })).toEqual({
      kind: "given",
      ownerUrl: env.DATABASE_URL,
      appUrl: null,
    });
    expect(
      databasePlan({ ...env, APP_DATABASE_URL: "postgres://app@db/school" }, { demo: false, fresh: false }),
    ).toMatchObject({ appUrl: "postgres://app@db/school" });
    expect(() => databasePlan(env, { demo: true, fresh: true })).toThrow(/nothing was touched/);
  });
});

describe("building", () => {
  it("is done again when a source changes, not when a test does", () => {
    const root = mkdtempSync(join(tmpdir(), "gentle-margin-sources-"));
    mkdirSync(join(root, "app"));
    const stampAfter = (name: string, text: string) => {
      writeFileSync(join(root, "app", name), text);
      return sourcesStamp(root, ["app"]);
    };
    const first = stampAfter("a.ts", "1");
    expect(stampAfter("a.test.ts", "1")).toBe(first);
    expect(stampAfter("a.ts", "2")).not.toBe(first);
    expect([isSource("app/a.tsx"), isSource("app/a.test.tsx")]).toEqual([true, false]);
    rmSync(root, { recursive: true });
  });

  it("is made beside the one that serves: one that fails changes nothing, and old files stay for open pages", async () => {
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-build-"));
    const place = join(folder, "build");
    const put = (root: string, files: Record<string, string>) => {
      for (const [file, text] of Object.entries(files)) {
        mkdirSync(join(root, file, ".."), { recursive: true });
        writeFileSync(join(root, file), text);
      }
    };
    const read = (file: string) => readFileSync(join(place, file), "utf8");
    const builds = () => readdirSync(join(folder, ".builds"));
    try {
      await buildAside(place, "v1", (next: string) =>
        put(next, { "client/assets/a-1.js": "one", stamp: "1" }),
      );
      expect(read("stamp")).toBe("1");
      const failing = buildAside(place, "broken", (next: string) => {
        put(next, { "client/assets/b-2.js": "half" });
        throw new Error("it does not build");
      });
      await expect(failing).rejects.toThrow("it does not build");
      expect([read("stamp"), builds()]).toEqual(["1", ["v1"]]);
      const first = realpathSync(place);
      await buildAside(place, "v2", (next: string) =>
        put(next, { "client/assets/b-2.js": "two", stamp: "2" }),
      );
      expect([read("stamp"), read("client/assets/a-1.js"), read("client/assets/b-2.js")]).toEqual([
        ...["2", "one", "two"],
      ]);
      // A server that runs has its own files to the end, and going back builds nothing.
      expect(readdirSync(join(first, "client/assets"))).toEqual(["a-1.js"]);
      await buildAside(place, "v1", () => expect.unreachable());
      expect([read("stamp"), read("client/assets/b-2.js")]).toEqual(["1", "two"]);
      await buildAside(place, "v2", () => expect.unreachable());
      // After two weeks no page is open that would ask for it.
      const old = new Date(Date.now() - 15 * 86_400_000);
      utimesSync(join(place, "client/assets/a-1.js"), old, old);
      await buildAside(place, "v3", (next: string) =>
        put(next, { "client/assets/c-3.js": "three", stamp: "3" }),
      );
      expect(readdirSync(join(place, "client/assets"))).toEqual(["b-2.js", "c-3.js"]);
      expect([currentBuild(place), builds()]).toEqual(["v3", ["v2", "v3"]]);
      await buildAside(place, "v4", (next: string) => put(next, { "client/assets/d-4.js": "four" }), ["v2"]);
      expect(builds()).toEqual(["v2", "v3", "v4"]);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe("packages", () => {
  it("are installed beside those in use, and take their place whole", async () => {
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-packages-"));
    for (const file of ["package.json", "package-lock.json"]) writeFileSync(join(folder, file), "{}");
    const version = () => readFileSync(join(folder, "node_modules/version"), "utf8");
    const install = (text: string) => (into: string) => {
      mkdirSync(join(into, "node_modules"));
      writeFileSync(join(into, "node_modules/version"), text);
    };
    try {
      await installAside(folder, install("1"));
      await installAside(folder, (into: string) => {
        expect([version(), readFileSync(join(into, "package.json"), "utf8")]).toEqual(["1", "{}"]);
        install("2")(into);
      });
      expect(version()).toBe("2");
      await expect(
        installAside(folder, () => {
          throw new Error("no registry");
        }),
      ).rejects.toThrow("no registry");
      expect(version()).toBe("2");
      expect(readdirSync(folder)).toEqual(["node_modules", "package-lock.json", "package.json"]);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe("counting results", () => {
  it("runs all parts, or those that are named", () => {
    expect([...partsOf(undefined)]).toEqual(["types", "lint", "unit", "db", "browser"]);
    expect([...partsOf("unit, db")]).toEqual(["unit", "db"]);
    expect(() => partsOf("units")).toThrow(/units/);
  });

  it("takes a file that did not load and a test that needed a second try for failures", () => {
    const files = [
      { status: "failed", assertionResults: [] },
      { status: "failed", assertionResults: [{ status: "skipped" }] },
      { status: "failed", assertionResults: [{ status: "failed" }] },
      { status: "passed", assertionResults: [{ status: "passed" }] },
    ];
    expect(vitestCounts({ numPassedTests: 3, numFailedTests: 1, testResults: files })).toEqual({
      passed: 3,
      failed: 3,
    });
    expect(playwrightCounts({ stats: { expected: 5, unexpected: 1, flaky: 1 }, errors: [{}] })).toEqual({
      passed: 5,
      failed: 3,
    });
  });

  it("names what failed, so that the end of a log says it", () => {
    const failed = { status: "failed", fullName: "a line is kept", failureMessages: ["gone\nat line 3"] };
    const files = [
      { name: "a.test.ts", status: "failed", assertionResults: [{ status: "passed" }, failed] },
      { name: "b.test.ts", status: "failed", message: "cannot be loaded", assertionResults: [] },
      { name: "c.test.ts", status: "passed", assertionResults: [{ status: "passed" }] },
    ];
    expect(vitestFailures({ testResults: files })).toEqual([
      "a.test.ts: a line is kept: gone",
      "b.test.ts: cannot be loaded",
    ]);
    const spec = (title: string, ok: boolean, status: string) => ({
      title,
      file: "d.spec.ts",
      ok,
      tests: [{ status, results: [{ error: { message: "\u001b[31mtoo wide\u001b[39m\nhere" } }] }],
    });
    const suites = [
      {
        specs: [spec("fits", true, "expected")],
        suites: [{ specs: [spec("is seen", false, "unexpected")] }],
      },
      { specs: [spec("is heard", true, "flaky")] },
    ];
    expect(playwrightFailures({ suites, errors: [{ message: "no browser" }] })).toEqual([
      "d.spec.ts: is seen: too wide",
      "d.spec.ts: is heard: too wide",
      "no browser",
    ]);
  });
});
