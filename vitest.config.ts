import { defineConfig } from "vitest/config";

// Files share their modules: no test changes one, and reading them again for each file took a third of the time.
const shared = { environment: "node" as const, testTimeout: 30_000, hookTimeout: 60_000, isolate: false };

export default defineConfig({
  test: {
    maxWorkers: 2,
    projects: [
      {
        test: {
          ...shared,
          name: "unit",
          include: ["{core,server,cli,app,scripts,demo,tests}/**/*.test.ts"],
          exclude: ["**/*.db.test.ts"],
        },
      },
      {
        test: {
          ...shared,
          name: "db",
          setupFiles: ["tests/no-deprecated-use.ts"],
          include: ["{server,app,cli,demo,tests}/**/*.db.test.ts"],
        },
      },
    ],
  },
});
