import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import type { AxeResults, ContextObject, RunOptions } from "axe-core";
import { type Browser, type BrowserContext, test as base, expect, type Page } from "@playwright/test";
import { demoPassword, emailOf, people, type PersonKey } from "../demo/school.ts";
import { seedDemo } from "../demo/seed.ts";
import { freshName, type OpenDatabase, openThrowaway } from "../tests/database.ts";
import { type DemoIds, demoIds } from "../tests/demo-school.ts";
import { startWebServer, type WebServer } from "../tests/web-server.ts";
import { clockAhead, setBrowserClock } from "../tests/clock.ts";

interface Axe {
  run: (where: Document | ContextObject, options: RunOptions) => Promise<AxeResults>;
}

export interface Site extends OpenDatabase {
  web: WebServer;
  demo: DemoIds;
}

/** The demo school on a database and a server of its own; with `at` (ISO), seeded on that day and as if it were then. */
export async function openSite({ at }: { at?: string } = {}): Promise<Site> {
  const db = await openThrowaway(at === undefined ? "demo" : "empty", { at });
  if (at !== undefined) await seedDemo(db.owner, { today: at.slice(0, 10) });
  const web = await startWebServer(db.pooled.url, db.pooled.env);
  const close = async () => {
    await web.stop();
    await db.close();
  };
  return { ...db, web, demo: await demoIds(db.owner), close };
}

/** Sets the clock of a context's pages as the database's. */
export const setClock = (context: BrowserContext, ahead: number): Promise<unknown> =>
  context.addInitScript(setBrowserClock, ahead);

/** A test that opens what it needs; its browser's contexts have no clock but the real one. */
export const siteless = base;

/** The web server of one worker, whose tests each find a new database behind it under the same name. */
interface Workplace {
  open: () => Promise<Site>;
  close: () => Promise<void>;
}

function openWorkplace(): Workplace {
  const name = freshName();
  let web: WebServer | null = null;
  return {
    async open() {
      const db = await openThrowaway("demo", { name });
      const running = web?.alive() ? web : await startWebServer(db.pooled.url, db.pooled.env);
      web = running;
      const ready = () => fetch(`${running.url}/ready`).then(({ ok }) => ok);
      await expect.poll(ready, { intervals: [20] }).toBe(true);
      return { ...db, web: running, demo: await demoIds(db.owner) };
    },
    close: async () => {
      await web?.stop();
    },
  };
}

const clocked = base.extend<{ baseURL: string }, { browser: Browser; workplace: Workplace }>({
  browser: [
    async ({ browser }, use) => {
      const open = browser.newContext.bind(browser);
      browser.newContext = async (options) => {
        const context = await open(options);
        await setClock(context, clockAhead);
        return context;
      };
      await use(browser);
    },
    { scope: "worker" },
  ],
  workplace: [
    // Playwright asks for a destructuring pattern even where a fixture needs no other.
    // eslint-disable-next-line no-empty-pattern
    async ({}, use) => {
      const workplace = openWorkplace();
      await use(workplace);
      await workplace.close();
    },
    { scope: "worker" },
  ],
});

/** Waits until the page may be closed without a question: everything marked is on the disk. */
export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(() => window.dispatchEvent(new Event("beforeunload", { cancelable: true })));
}

/** The demo school on a database of one test's own. */
export const test = clocked.extend<{ site: Site }>({
  site: async ({ workplace }, use) => {
    const site = await workplace.open();
    await use(site);
    await site.close();
  },
  baseURL: async ({ site }, use) => use(site.web.url),
});

/** The same, shared by the tests of one worker: only for those that change nothing. */
export const readOnly = clocked.extend<object, { site: Site }>({
  site: [
    async ({ workplace }, use) => {
      const site = await workplace.open();
      await use(site);
      await site.close();
    },
    { scope: "worker" },
  ],
  baseURL: async ({ site }, use) => use(site.web.url),
});

export { expect };

/** Signs in by a request alone: typing and the page that follows take two seconds of every test. `typeSignIn` types. */
export async function signIn(page: Page, who: PersonKey): Promise<void> {
  const ask = async () => {
    const answer = await page.request
      .post("/sign-in", {
        form: { email: emailOf(people[who]), password: demoPassword },
        headers: { "Sec-Fetch-Site": "same-origin" },
        maxRedirects: 0,
      })
      // The server ends an idle connection after five seconds: at that moment a browser asks again by itself, and this does not.
      .catch((error: unknown) => {
        if (/ECONNRESET|socket hang up/.test(String(error))) return null;
        throw error;
      });
    return answer?.status();
  };
  // The database behind the server has just been exchanged: a connection to the one before may end in this very request (503).
  await expect.poll(ask, { intervals: [200], timeout: 30_000 }).toBe(302);
}

/** Waits until scripts have taken over the page, so that keys and taps are heard. */
export async function awake(page: Page): Promise<void> {
  await page.locator("[data-ready]").first().waitFor();
}

/** The recording page, once it hears keys and taps: a sitting is read from the disk first, and nothing of it is seen until then. */
export async function recording(page: Page): Promise<void> {
  await page.locator("main[data-ready]").waitFor();
  await page.locator("main :is([data-shown], h1, h2, [data-key], form)").first().waitFor();
}

/** Chooses the goals of a student for the next sitting, whatever happens to be due on the day of the test. */
export async function choose(page: Page, initials: string, goals: RegExp): Promise<void> {
  const list = page.getByRole("list", { name: `Goals of ${initials}` });
  await list.waitFor();
  for (const chip of await list.getByRole("checkbox").all()) await chip.uncheck();
  for (const chip of await list.getByRole("checkbox", { name: goals }).all()) await chip.check();
}

export const margin = (page: Page) => page.getByRole("complementary");

/** Controls of the page that are smaller than `least` px; what stands in a line of text may be as wide as its words. */
const smallTargets = (page: Page, within: string, least: number): Promise<string[]> =>
  page.evaluate(
    ({ within, least }) =>
      [...document.querySelectorAll<HTMLElement>(within)]
        .map((one) => {
          const target = one.closest("label") ?? one;
          const box = target.getBoundingClientRect();
          const name = one.getAttribute("aria-label") ?? one.textContent?.trim() ?? one.tagName;
          const inline = one.matches(".link, summary") || getComputedStyle(target).display === "inline";
          return { name, wide: box.width, high: box.height, inline };
        })
        // What is there for a screen reader alone is one pixel.
        .filter(({ wide, high }) => wide > 1 && high > 1)
        .filter(
          ({ wide, high, inline }) =>
            (!inline || least > 24 ? high < least - 0.5 : false) || (!inline && wide < least - 0.5),
        )
        .map(({ name, wide, high }) => `${name}: ${Math.round(wide)} × ${Math.round(high)}`),
    { within, least },
  );

/** Everything that is touched is at least 44 px each way, as for a gloved hand; what stands in a line of text is 44 px high. */
export async function expectLargeTargets(page: Page, view: string): Promise<void> {
  const small = await smallTargets(page, "main :is(button, a, summary, select, input, textarea)", 44);
  expect({ view, small }).toEqual({ view, small: [] });
}

const axeSource = readFileSync(createRequire(import.meta.url).resolve("axe-core/axe.min.js"), "utf8");

/** Waits until nothing moves any more; an animation that goes on for good is not waited for. */
const still = (page: Page): Promise<unknown> =>
  page.evaluate(() =>
    Promise.race([
      Promise.all(document.getAnimations().map((animation) => animation.finished.catch(() => undefined))),
      new Promise((resolve) => setTimeout(resolve, 1000)),
    ]),
  );

/** What axe finds. Asked directly and for what is wrong only: collecting what is right takes four times as long. */
async function violations(page: Page, inDark = false): Promise<string[]> {
  const look = async () => {
    await still(page);
    if (!(await page.evaluate(() => "axe" in globalThis))) await page.evaluate(axeSource);
    const found = await page.evaluate(inDark ? contrastOfEachLook : everyRule);
    return found.violations;
  };
  const first = await look();
  // A color may be on its way to another while it is looked at: what counts is what stays.
  const lasting = first.length > 0 ? await look() : first;
  return lasting.map(
    ({ id, nodes }) =>
      `${id}: ${nodes
        .map((node) => `${node.html} ${node.failureSummary ?? ""}`)
        .slice(0, 5)
        .join("\n")}`,
  );
}

/** In the page: all that axe knows. */
const everyRule = () =>
  (globalThis as unknown as { axe: Axe }).axe.run(document, { resultTypes: ["violations"] });

/**
 * In the page: the contrast of text, asked of two of each look. A look is a color and a size of letters before the colors behind them.
 * What stands over what does not change with the theme, and was looked at in full in the light.
 */
const contrastOfEachLook = () => {
  const looks = new Map<string, Element[]>();
  for (const element of document.body.querySelectorAll("*")) {
    const words =
      element.matches("input, select, textarea") ||
      [...element.childNodes].some((node) => node.nodeType === Node.TEXT_NODE && node.textContent?.trim());
    if (!words || !element.checkVisibility({ visibilityProperty: true })) continue;
    const { color, fontSize, fontWeight } = getComputedStyle(element);
    const look = [color, fontSize, fontWeight];
    for (let behind: Element | null = element; behind; behind = behind.parentElement) {
      const { backgroundColor, backgroundImage, opacity } = getComputedStyle(behind);
      look.push(`${backgroundColor} ${backgroundImage} ${opacity}`);
    }
    const key = look.filter((part, at) => at < 3 || part !== "rgba(0, 0, 0, 0) none 1").join("|");
    const alike = looks.get(key) ?? [];
    if (alike.length < 2) looks.set(key, [...alike, element]);
  }
  return (globalThis as unknown as { axe: Axe }).axe.run(
    { include: [...looks.values()].flat() },
    { resultTypes: ["violations"], runOnly: ["color-contrast"] },
  );
};

/** Presses the button of exactly this name. */
export const touch = (page: Page, name: string): Promise<void> =>
  page.getByRole("button", { name, exact: true }).click();

const overflow = (page: Page) =>
  page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth);

/** Nothing for axe to find, and nothing wider than the window. */
export async function expectAccessible(page: Page, view: string) {
  expect({ view, found: await violations(page) }).toEqual({ view, found: [] });
  await expectNoOverflow(page, view);
}

/** Nothing is wider than the window. */
export async function expectNoOverflow(page: Page, view: string) {
  expect({ view, overflow: await overflow(page) }).toEqual({ view, overflow: 0 });
}

/** The looks of controls whose ring has been measured in this process: each is measured once a theme. */
const ringsSeen: Record<"light" | "dark", string[]> = { light: [], dark: [] };

/** Controls without a ring of 2 px, or with one that differs less than 3:1 from what is behind it, once they have the focus by key. */
async function faintRings(page: Page, theme: "light" | "dark"): Promise<string[]> {
  await page.keyboard.press("Shift");
  const { looks, faint } = await page.evaluate((seen) => {
    const brush = document.createElement("canvas").getContext("2d", { willReadFrequently: true });
    const rgba = (color: string): number[] => {
      if (!brush) return [];
      brush.clearRect(0, 0, 1, 1);
      brush.fillStyle = color;
      brush.fillRect(0, 0, 1, 1);
      return [...brush.getImageData(0, 0, 1, 1).data];
    };
    const light = (color: number[]) => {
      const [r = 0, g = 0, b = 0] = color
        .slice(0, 3)
        .map((part) => part / 255)
        .map((part) => (part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4));
      return 0.2126 * r + 0.7152 * g + 0.0722 * b;
    };
    const behind = (element: Element | null): number[] => {
      for (let at = element; at; at = at.parentElement) {
        const color = rgba(getComputedStyle(at).backgroundColor);
        if ((color[3] ?? 0) > 200) return color;
      }
      return [255, 255, 255, 255];
    };
    const before = document.activeElement;
    const found: { looks: string[]; faint: string[] } = { looks: [], faint: [] };
    for (const control of document.querySelectorAll<HTMLElement>(
      "button, a[href], input, select, textarea, summary",
    )) {
      const look = `${control.tagName} ${control.className} ${behind(control.parentElement).join()}`;
      if (seen.includes(look) || found.looks.includes(look)) continue;
      if (
        control.matches(":disabled, [type=hidden]") ||
        !control.checkVisibility({ visibilityProperty: true })
      )
        continue;
      control.focus({ preventScroll: true });
      if (document.activeElement !== control) continue;
      found.looks.push(look);
      // One that lies unseen over its label has its ring there.
      const shown = getComputedStyle(control).opacity === "0" ? null : control;
      const ringed = [shown, control.closest("label"), control.parentElement].find((one) => {
        const { outlineStyle, outlineWidth } = one
          ? getComputedStyle(one)
          : { outlineStyle: "none", outlineWidth: "0" };
        return outlineStyle !== "none" && Number.parseFloat(outlineWidth) >= 2;
      });
      const style = ringed ? getComputedStyle(ringed) : null;
      const isOutside = Number.parseFloat(style?.outlineOffset ?? "0") >= 0;
      const [one, other] = [
        light(rgba(style?.outlineColor ?? "transparent")),
        light(behind(isOutside ? (ringed?.parentElement ?? null) : (ringed ?? null))),
      ];
      const contrast = (Math.max(one, other) + 0.05) / (Math.min(one, other) + 0.05);
      if (!ringed || contrast < 3) found.faint.push(`${look}: ${ringed ? contrast.toFixed(1) : "no ring"}`);
    }
    if (before instanceof HTMLElement) before.focus({ preventScroll: true });
    return found;
  }, ringsSeen[theme]);
  ringsSeen[theme].push(...looks);
  return faint;
}

/** The windows in which every view is measured: a phone at 400%, a phone upright and on its side, a tablet, a desk, a wide screen. */
const windows = [
  [320, 640],
  [390, 844],
  [844, 390],
  [820, 1180],
  [1280, 800],
  [1920, 1080],
] as const;

/**
 * In the page: what is wrong with its layout. Something reaches beyond the window; a control has something else over its center once it
 * is scrolled to (2.4.11 Focus Not Obscured); two controls overlap; the strip takes more than 15% of the height.
 */
const layoutFaults = (): string[] => {
  const root = document.documentElement;
  const faults: string[] = [];
  if (root.scrollWidth > root.clientWidth) faults.push(`${root.scrollWidth - root.clientWidth} px too wide`);
  const strip = document.querySelector(".spine")?.getBoundingClientRect();
  if (strip && strip.width > innerWidth / 2 && strip.height > innerHeight * 0.15)
    faults.push("the strip is too high");
  const nameOf = (one: Element) =>
    `${one.tagName.toLowerCase()} “${(one.getAttribute("aria-label") ?? one.textContent ?? "").trim().slice(0, 40)}”`;
  const within = document.querySelector("dialog[open]") ?? document.body;
  const controls = [
    ...within.querySelectorAll<HTMLElement>("button, a[href], input, select, textarea, summary"),
  ].filter((one) => {
    const { width, height } = one.getBoundingClientRect();
    return width > 2 && height > 2 && one.checkVisibility({ visibilityProperty: true });
  });
  const at = scrollY;
  for (const control of controls) {
    const target = control.closest("label") ?? control;
    control.scrollIntoView({ block: "center", inline: "nearest" });
    const rects = [...control.getClientRects()];
    const { left, top, width, height } = rects[0] ?? control.getBoundingClientRect();
    const hit = document.elementFromPoint(left + width / 2, top + height / 2);
    if (!hit || target.contains(hit) || hit.contains(control)) continue;
    // What was opened over the page is meant to cover it.
    const opened = hit.closest("details[open] > :not(summary)");
    if (opened && getComputedStyle(opened).position === "absolute") continue;
    faults.push(
      `${nameOf(control)} lies under ${hit.tagName.toLowerCase()}.${String(hit.className).slice(0, 40)}`,
    );
  }
  scrollTo({ top: 0, behavior: "instant" });
  // What is fixed lies over the page by its nature: whether it covers a control was asked above.
  const boxes = controls
    .filter((one) => {
      for (let up: Element | null = one; up; up = up.parentElement)
        if (/fixed|sticky/.test(getComputedStyle(up).position)) return false;
      return !one.matches("label input, fieldset.mark-row input");
    })
    .map((one) => ({ one, box: one.getBoundingClientRect() }));
  for (const [place, { one, box }] of boxes.entries())
    for (const { one: other, box: its } of boxes.slice(place + 1)) {
      const wide = Math.min(box.right, its.right) - Math.max(box.left, its.left);
      const high = Math.min(box.bottom, its.bottom) - Math.max(box.top, its.top);
      const isInLine = [one, other].some((inline) => getComputedStyle(inline).display === "inline");
      if (wide > 2 && high > 2 && !isInLine && !one.contains(other) && !other.contains(one))
        faults.push(`${nameOf(one)} and ${nameOf(other)} overlap`);
    }
  scrollTo({ top: at, behavior: "instant" });
  return faults.slice(0, 8);
};

/** 1.4.12 Text Spacing: a reader's own distances between lines, words and letters lose nothing. */
const wideSpacing = () => {
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(
    "* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important } p { margin-bottom: 2em !important }",
  );
  document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
};

/** Nothing is cut off, covered or too wide in any window, nor on a phone with a reader's own spacing of text. */
async function expectLayout(page: Page, view: string): Promise<void> {
  for (const [width, height] of windows) {
    await page.setViewportSize({ width, height });
    await page.evaluate(
      () => new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
    );
    expect
      .soft({ view, width, faults: await page.evaluate(layoutFaults) })
      .toEqual({ view, width, faults: [] });
  }
  await page.evaluate(wideSpacing);
  for (const width of [320, 1280]) {
    await page.setViewportSize({ width, height: 800 });
    await expect
      .configure({ soft: true })
      .poll(() => overflow(page), { message: `${view} at ${width} px, widely spaced`, timeout: 3000 })
      .toBe(0);
  }
  await page.evaluate(() => (document.adoptedStyleSheets = document.adoptedStyleSheets.slice(0, -1)));
}

/**
 * A view at 1280 px in all that axe knows, its contrast in the dark theme, the rings of focus in both (3:1: 1.4.11 Non-text Contrast), and its width and targets on a phone, at 390 and at 320 px
 * (320 px is 1280 px at 400%: WCAG 2.2, 1.4.10 Reflow; 24 px: 2.5.8 Target Size).
 */
export async function expectEveryLook(page: Page, view: string) {
  // No color is on its way to another when the theme changes: waiting for that would take a fifth of the walk.
  await page.evaluate(() => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync("* { transition: none !important }");
    document.adoptedStyleSheets = [sheet];
  });
  // All that is wrong with a view is told at once, and the walk goes on.
  expect.soft({ view, found: await violations(page) }).toEqual({ view, found: [] });
  expect.soft({ view, rings: await faintRings(page, "light") }).toEqual({ view, rings: [] });
  await page.emulateMedia({ colorScheme: "dark" });
  // Chromium leaves some inherited colors as they were when the scheme changes, until the page is styled anew.
  await page.evaluate(() => {
    document.body.style.display = "none";
    void document.body.offsetHeight;
    document.body.style.display = "";
  });
  expect.soft({ view, dark: await violations(page, true) }).toEqual({ view, dark: [] });
  expect.soft({ view, darkRings: await faintRings(page, "dark") }).toEqual({ view, darkRings: [] });
  await page.emulateMedia({ colorScheme: "light" });
  for (const width of [390, 320]) {
    await page.setViewportSize({ width, height: 844 });
    await expect
      .configure({ soft: true })
      .poll(() => overflow(page), { message: `${view} at ${width} px`, timeout: 3000 })
      .toBe(0);
    const small = await smallTargets(page, "body :is(button, a, summary, select, input, textarea)", 24);
    expect.soft({ view, width, small }).toEqual({ view, width, small: [] });
    if (width === 390 && new URL(page.url()).pathname === "/record") await expectLargeTargets(page, view);
  }
  await expectLayout(page, view);
  await page.setViewportSize({ width: 1280, height: 800 });
}
