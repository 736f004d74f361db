import { defineConfig } from "@playwright/test";
import { browserPath } from "./tests/browser.ts";

export default defineConfig({
  testDir: "e2e",
  // With a folder to put them in, the pictures of the guide are taken instead of the tests run.
  testMatch: process.env["GENTLE_MARGIN_PICTURES"] ? "pictures.ts" : "*.spec.ts",
  fullyParallel: true,
  ...(process.env["GENTLE_MARGIN_ALL"] ? {} : { grepInvert: /@slow/ }),
  workers: 3,
  retries: 0,
  // Long, for a machine that is slow or busy: a test that passes waits for nothing.
  timeout: 900_000,
  expect: { timeout: 60_000 },
  reporter: [["list"], ["json"]],
  outputDir: "test-results/browser",
  use: {
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    screenshot: "only-on-failure",
    // Only the tests of recording without a network need what works without one.
    serviceWorkers: "block",
    launchOptions: {
      executablePath: browserPath,
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
