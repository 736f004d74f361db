/** Stepping and pointing through the chart of a goal, of 1,000 points against one of 60: longest frames and long tasks. */
import { chromium, type Page } from "@playwright/test";
import { openThrowaway } from "#tests/database.ts";
import { demoIds, fillGoal } from "#tests/demo-school.ts";
import { startWebServer } from "#tests/web-server.ts";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { browserPath } from "#tests/browser.ts";

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const goalId = demo.goal("Wren", "2b");
const { personId } = demo.person("noor");
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const browser = await chromium.launch({
  executablePath: browserPath,
  args: ["--no-sandbox", "--disable-gpu"],
});
const steps = 60;

interface Noted {
  frames: number[];
  long: number[];
}

/** The times between frames, and the tasks over 50 ms, while something is done. */
async function during(page: Page, work: () => Promise<void>): Promise<Noted> {
  await page.evaluate(() => {
    const noted = { frames: [] as number[], long: [] as number[], going: true };
    Object.assign(window, { noted });
    let before = performance.now();
    const frame = (now: number) => {
      noted.frames.push(now - before);
      before = now;
      if (noted.going) requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) noted.long.push(entry.duration);
    }).observe({ type: "longtask" });
  });
  await work();
  return page.evaluate(() => {
    const { noted } = window as unknown as { noted: Noted & { going: boolean } };
    noted.going = false;
    return noted;
  });
}

function said(what: string, { frames, long }: Noted): string {
  const sorted = [...frames].sort((a, b) => a - b);
  const at = (share: number) => Math.round(sorted[Math.floor(share * (sorted.length - 1))] ?? 0);
  const longest = long.length > 0 ? `, longest ${Math.round(Math.max(...long))} ms` : "";
  return `    ${what}: frame median ${at(0.5)} ms, 95% within ${at(0.95)} ms, slowest ${at(1)} ms; long tasks ${long.length}${longest}`;
}

try {
  const page = await browser.newPage({ baseURL: web.url, viewport: { width: 1280, height: 800 } });
  // What runs this file gives functions their names back with a helper that a page has not.
  await page.addInitScript("globalThis.__name = (made) => made");
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(emailOf(people.noor));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("heading", { name: "Caseload" }).waitFor();
  for (const points of [60, 1000]) {
    await fillGoal(db.owner, { goalId, personId, count: points });
    const student = demo.student("Wren");
    const started = performance.now();
    await page.goto(`/students/${student}/goals/${goalId}`);
    const canvas = page.locator("canvas[role=img]");
    await canvas.waitFor();
    const ready = Math.round(performance.now() - started);
    // Only what comes after counts: the page's own loading is over by then.
    await page.waitForTimeout(1000);
    const box = await canvas.boundingBox();
    if (!box) throw new Error("no chart");
    console.log(`\n  a goal of ${points} points: chart there after ${ready} ms`);
    await canvas.focus();
    console.log(
      said(
        "stepping by the arrow keys",
        await during(page, async () => {
          for (let step = 0; step < steps; step += 1) await page.keyboard.press("ArrowLeft", { delay: 20 });
        }),
      ),
    );
    console.log(
      said(
        "pointing along it",
        await during(page, async () => {
          for (let step = 0; step < steps; step += 1) {
            await page.mouse.move(box.x + 60 + (step * (box.width - 160)) / steps, box.y + box.height / 2);
            // The pace of a hand: a new place with about each frame.
            await page.waitForTimeout(20);
          }
        }),
      ),
    );
    console.log(
      said(
        "the span buttons",
        await during(page, async () => {
          for (const name of ["so far", "this phase", "8 weeks", "to the due date"]) {
            await page.getByRole("button", { name, exact: true }).click();
            // The frames after the click are what is measured.
            await page.waitForTimeout(400);
          }
        }),
      ),
    );
  }
} finally {
  await browser.close();
  await web.stop();
  await db.close();
}
