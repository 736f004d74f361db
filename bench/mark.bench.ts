/**
 * From touch to what is seen, and long tasks, on a processor slowed down six times: a sitting of six students with four
 * goals each, against a bare page with one button that counts.
 */
import { type CDPSession, chromium, type Page } from "@playwright/test";
import { openThrowaway } from "#tests/database.ts";
import { copiesOfGoal, demoIds } from "#tests/demo-school.ts";
import { startWebServer } from "#tests/web-server.ts";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { browserPath } from "#tests/browser.ts";

const touches = 60;
const slowdown = 6;

interface Measured {
  /** Milliseconds from putting the finger down to the next frame, each touch. */
  pressed: number[];
  /** Milliseconds from lifting it to the next frame, which shows the mark. */
  marked: number[];
  /** Milliseconds of each task over 50 ms. */
  long: number[];
}

/** Notes what the browser itself says of each touch: event timing and long tasks. */
async function observe(page: Page): Promise<void> {
  await page.evaluate(() => {
    const noted = { pressed: [] as number[], marked: [] as number[], long: [] as number[] };
    Object.assign(window, { noted });
    new PerformanceObserver((list) => {
      for (const { name, duration } of list.getEntries()) {
        if (name === "pointerdown") noted.pressed.push(duration);
        if (name === "click") noted.marked.push(duration);
      }
    }).observe({ type: "event", durationThreshold: 16 } as PerformanceObserverInit);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) noted.long.push(entry.duration);
    }).observe({ type: "longtask" });
  });
}

async function measure(
  page: Page,
  session: CDPSession,
  touch: (count: number) => Promise<void>,
): Promise<Measured> {
  await observe(page);
  await session.send("Emulation.setCPUThrottlingRate", { rate: slowdown });
  for (let count = 0; count < touches; count += 1) {
    await touch(count);
    // The pace of a fast hand; together with the touch about five marks a second.
    await page.waitForTimeout(120);
  }
  await session.send("Emulation.setCPUThrottlingRate", { rate: 1 });
  // The last frames are noted after they are drawn.
  await page.waitForTimeout(300);
  return page.evaluate(() => (window as unknown as { noted: Measured }).noted);
}

/** The middles of these things, where they are in view. */
async function placesOf(page: Page, selector: string): Promise<{ x: number; y: number }[]> {
  const boxes = await Promise.all((await page.locator(selector).all()).map((one) => one.boundingBox()));
  const height = page.viewportSize()?.height ?? 0;
  return boxes
    .filter((box) => box !== null)
    .map(({ x, y, width, height: tall }) => ({ x: x + width / 2, y: y + tall / 2 }))
    .filter(({ y }) => y < height - 120);
}

/**
 * Touches by place, as long as a finger stays: a touch by name would have the browser look in the same event whether that is
 * what lies there, and one without any length puts down, up and click into one task.
 */
const touchAt = (page: Page, places: { x: number; y: number }[]) => async (count: number) => {
  const place = places[count % places.length];
  if (!place) return;
  await page.mouse.move(place.x, place.y);
  // A finger rests on its place before and between down and up.
  await page.waitForTimeout(60);
  await page.mouse.down();
  await page.waitForTimeout(60);
  await page.mouse.up();
};

/** Touches faster than 16 ms are not told of; they stand as 16. */
function spread(shown: readonly number[]) {
  const all = [...shown, ...Array.from({ length: Math.max(0, touches - shown.length) }, () => 16)].sort(
    (a, b) => a - b,
  );
  const at = (share: number) => all[Math.min(all.length - 1, Math.floor(share * all.length))] ?? 0;
  return {
    text: `median ${at(0.5)} ms, 95% within ${at(0.95)} ms, slowest ${at(1)} ms`,
    worst: at(0.95),
  };
}

function words(name: string, { pressed, marked, long }: Measured): { text: string; worst: number } {
  const { text, worst } = spread(marked);
  const longest = long.length > 0 ? ` (longest ${Math.round(Math.max(...long))} ms)` : "";
  return {
    text: `${name}\n    finger down to the button pressed: ${spread(pressed).text}\n    finger up to the mark: ${text}\n    long tasks ${long.length}${longest}`,
    worst,
  };
}

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const browser = await chromium.launch({
  executablePath: browserPath,
  args: ["--no-sandbox", "--disable-gpu"],
});
try {
  const initials = ["W.A.", "E.K.", "P.N.", "O.F.", "J.R.", "C.D."];
  for (const [given, number, more] of [
    ["Wren", "2b", 1],
    ["Elowen", "1", 2],
    ["Priya", "1", 2],
    ["Otis", "1a", 1],
    ["Juniper", "1", 2],
    ["Caspian", "1", 1],
  ] as const)
    await copiesOfGoal(db.owner, demo.goal(given, number), more);
  const page = await browser.newPage({ baseURL: web.url, viewport: { width: 1280, height: 800 } });
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(emailOf(people.noor));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("heading", { name: "Caseload" }).waitFor();
  await page.goto("/record");
  await page.locator("main[data-ready]").waitFor();
  for (const one of initials) {
    await page.getByRole("checkbox", { name: `${one} together with others` }).check();
    for (const chip of await page
      .getByRole("list", { name: `Goals of ${one}` })
      .getByRole("checkbox")
      .all())
      await chip.check();
  }
  await page.getByRole("button", { name: "Start together" }).click();
  await page.getByRole("heading", { name: "Sitting", exact: true }).waitFor();
  const places = await placesOf(page, "[data-key='1']:not([type=radio])");
  const session = await page.context().newCDPSession(page);
  const sitting = words(
    `a sitting of ${initials.length} students, ${await page.locator(".goal-tab").count()} goals`,
    await measure(page, session, touchAt(page, places)),
  );
  const bare = await browser.newPage();
  await bare.setContent(
    "<button>0</button><script>document.querySelector('button').onclick = ({ target }) => (target.textContent = Number(target.textContent) + 1)</script>",
  );
  const reference = words(
    "a bare page with one button",
    await measure(
      bare,
      await bare.context().newCDPSession(bare),
      touchAt(bare, await placesOf(bare, "button")),
    ),
  );
  console.log(
    `\nTouch to frame, ${touches} touches at ${slowdown}× slowdown\n  ${sitting.text}\n  ${reference.text}`,
  );
  console.log(`  ratio of the 95% marks: ${(sitting.worst / reference.worst).toFixed(2)}`);
} finally {
  await browser.close();
  await web.stop();
  await db.close();
}
