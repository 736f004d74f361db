import { existsSync, mkdtempSync, rmSync, statfsSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, chromium, type Page } from "@playwright/test";
import { demoPassword, emailOf, people } from "../demo/school.ts";
import { recording, signIn, test } from "./site.ts";
import { browserPath } from "../tests/browser.ts";
import { clockAhead, setBrowserClock } from "../tests/clock.ts";

/** A browser of its own whose storage outlives it, as on a tablet that ran out of battery. */
export async function tablet(folder: string, url: string): Promise<BrowserContext> {
  const context = await chromium.launchPersistentContext(folder, {
    executablePath: browserPath,
    args: ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"],
    baseURL: url,
    viewport: { width: 1280, height: 800 },
    serviceWorkers: "allow",
  });
  await context.addInitScript(setBrowserClock, clockAhead);
  return context;
}

/** Signs in and waits until everything is on the device that recording without a network needs. */
export async function madeReady(page: Page, who: "noor" | "ines" = "noor"): Promise<void> {
  await signIn(page, who);
  await page.goto("/caseload");
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.goto("/record");
  await recording(page);
}

/**
 * Where a browser's storage outlives its crash and no slow disk is waited for: every mark is written through to the disk, and a
 * machine whose disk takes seconds for that would be what is tested.
 */
function inMemory(): string {
  const memory = "/dev/shm";
  if (!existsSync(memory)) return tmpdir();
  const { bavail, bsize } = statfsSync(memory);
  return bavail * bsize > 2 ** 29 ? memory : tmpdir();
}

export const withFolder = test.extend<{ folder: string }>({
  // eslint-disable-next-line no-empty-pattern
  folder: async ({}, use) => {
    const folder = mkdtempSync(join(inMemory(), "gentle-margin-tablet-"));
    await use(folder);
    rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  },
});

/** Kills a whole browser as a crash would: nothing is closed or written first. */
export async function crash(context: BrowserContext): Promise<void> {
  const page = context.pages()[0] ?? (await context.newPage());
  const session = await context.newCDPSession(page);
  const gone = new Promise((resolve) => context.once("close", resolve));
  await session.send("Browser.crash").catch(() => undefined);
  await gone;
}

/**
 * The network is back and the session over, so that the queue says so and goes out with the next sign-in. The session is ended
 * here: a browser that lived for half a minute has its cookie on the disk when it crashes, and one that crashed sooner has not.
 */
export async function backWithoutSession(context: BrowserContext): Promise<void> {
  await context.clearCookies();
  await context.setOffline(false);
}

/** Signs in on the page that asks for it, wherever it leads back to. */
export async function typeSignIn(page: Page): Promise<void> {
  await page.getByLabel("E-mail").fill(emailOf(people.noor));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
}
