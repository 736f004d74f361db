import AxeBuilder from "@axe-core/playwright";
import { type Browser, test as base, expect, type Page } from "@playwright/test";
import { demoPassword, emailOf, people, type PersonKey } from "../demo/school.ts";
import { openThrowaway } from "../tests/database.ts";
import { type DemoIds, demoIds } from "../tests/demo-school.ts";
import { startWebServer, type WebServer } from "../tests/web-server.ts";
import { clockAhead, setBrowserClock } from "../tests/clock.ts";

type Site = Awaited<ReturnType<typeof openThrowaway>> & { web: WebServer; demo: DemoIds };

/** The demo school on a database and a server of one test's own. */
export const test = base.extend<{ site: Site; baseURL: string }, { browser: Browser }>({
  browser: [
    async ({ browser }, use) => {
      const open = browser.newContext.bind(browser);
      browser.newContext = async (options) => {
        const context = await open(options);
        await context.addInitScript(setBrowserClock, clockAhead);
        return context;
      };
      await use(browser);
    },
    { scope: "worker" },
  ],
  // Playwright asks for a destructuring pattern even where a fixture needs no other.
  // eslint-disable-next-line no-empty-pattern
  site: async ({}, use) => {
    const db = await openThrowaway("demo");
    const web = await startWebServer(db.appUrl);
    await use({ ...db, web, demo: await demoIds(db.owner) });
    await web.stop();
    await db.close();
  },
  baseURL: async ({ site }, use) => use(site.web.url),
});

export { expect };

export async function signIn(page: Page, who: PersonKey): Promise<void> {
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(emailOf(people[who]));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "Caseload" })).toBeVisible();
}

/** Waits until scripts have taken over the page, so that keys and taps are heard. */
export async function awake(page: Page): Promise<void> {
  await page.locator("[data-ready]").first().waitFor();
}

/** The recording page, once it hears keys and taps. */
export async function recording(page: Page): Promise<void> {
  await page.locator("main[data-ready]").waitFor();
}

/** Chooses the goals of a student for the next sitting, whatever happens to be due on the day of the test. */
export async function choose(page: Page, initials: string, goals: RegExp): Promise<void> {
  const list = page.getByRole("list", { name: `Goals of ${initials}` });
  await list.waitFor();
  for (const chip of await list.getByRole("checkbox").all()) await chip.uncheck();
  for (const chip of await list.getByRole("checkbox", { name: goals }).all()) await chip.check();
}

export const margin = (page: Page) => page.getByRole("complementary");

/** Everything that is touched is at least 44 px each way, as for a gloved hand; what stands in a line of text is 44 px high. */
export async function expectLargeTargets(page: Page, view: string): Promise<void> {
  const small = await page.evaluate(() =>
    [...document.querySelectorAll<HTMLElement>("main :is(button, a, summary, select, input, textarea)")]
      .map((one) => {
        const target = one.closest("label") ?? one;
        const box = target.getBoundingClientRect();
        const name = one.getAttribute("aria-label") ?? one.textContent?.trim() ?? one.tagName;
        return { name, wide: box.width, high: box.height, inline: one.matches(".link, summary") };
      })
      .filter(({ wide, high }) => wide > 0 && high > 0)
      .filter(({ wide, high, inline }) => high < 43.5 || (!inline && wide < 43.5))
      .map(({ name, wide, high }) => `${name}: ${Math.round(wide)} × ${Math.round(high)}`),
  );
  expect({ view, small }).toEqual({ view, small: [] });
}

/** Nothing for axe to find, and nothing wider than the window. */
export async function expectAccessible(page: Page, view: string) {
  const look = async () => {
    await page.evaluate(() =>
      Promise.all(document.getAnimations().map((animation) => animation.finished.catch(() => undefined))),
    );
    return (await new AxeBuilder({ page }).analyze()).violations;
  };
  const first = await look();
  // A color may be on its way to another while it is looked at: what counts is what stays.
  const violations = first.length > 0 ? await look() : first;
  expect(
    violations.map(({ id, nodes }) => `${view}: ${id}: ${nodes.map((node) => node.html).join(" ")}`),
  ).toEqual([]);
  const overflow = await page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
  expect({ view, overflow }).toEqual({ view, overflow: 0 });
}
