import { defineConfig } from "vitest/config";

const shared = { environment: "node" as const, testTimeout: 30_000, hookTimeout: 60_000 };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...shared,
          name: "unit",
          include: ["{core,server,cli,app,scripts,demo,tests}/**/*.test.ts"],
          exclude: ["**/*.db.test.ts"],
        },
      },
      { test: { ...shared, name: "db", include: ["{server,app,cli,demo,tests}/**/*.db.test.ts"] } },
    ],
  },
});
