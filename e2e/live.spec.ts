import { startWebServer, type WebServer } from "../tests/web-server.ts";
import { content, inScope } from "../tests/demo-school.ts";
import { saveEntry } from "../server/db/entries.ts";
import { v7 as newId } from "uuid";
import { awake, expect, recording, margin, signIn, test } from "./site.ts";

/** How many live streams the server has open now, as it logs it. */
function openStreams({ log }: WebServer): number {
  const counts = log.flatMap((line) => {
    const said = line.startsWith("{") ? (JSON.parse(line) as { msg?: string; open?: number }) : {};
    return said.msg === "live streams" ? [said.open ?? 0] : [];
  });
  return counts.at(-1) ?? 0;
}

test("two web processes on one database behave as one", async ({ page, browser, site }) => {
  const second = await startWebServer(site.pooled.url, site.pooled.env);
  const other = await browser.newContext({ baseURL: second.url });
  const ines = await other.newPage();
  await signIn(ines, "ines");
  await ines.goto(`/students/${site.demo.student("Priya")}`);
  await awake(ines);
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Priya")}/goals/${site.demo.goal("Priya", "1")}/record`);
  await recording(page);
  await page.keyboard.press("1");
  await page.keyboard.press("0");
  await page.keyboard.press("1");
  await page.getByRole("button", { name: /^Save 2.of.3/ }).click();
  await expect(margin(ines).getByRole("listitem").first()).toContainText(
    "/r/ at the start of words: 2 of 3 correct (67%).",
  );
  await other.close();
  await second.stop();
});

test("seven open tabs share one stream over HTTP/1.1 and all of them hear", async ({
  page,
  context,
  site,
}) => {
  await signIn(page, "noor");
  const path = `/students/${site.demo.student("Rafi")}`;
  const tabs = [page];
  for (let count = 1; count < 7; count += 1) tabs.push(await context.newPage());
  await Promise.all(tabs.map((tab) => tab.goto(path)));
  await Promise.all(tabs.map(awake));
  // A viewer who left without a word, as on a slow machine, is noticed by the next heartbeat.
  await expect.poll(() => openStreams(site.web), { timeout: 45_000 }).toBe(1);

  const ids = { studentId: site.demo.student("Rafi"), goalId: site.demo.goal("Rafi", "1") };
  await inScope(site.app, site.demo.person("noor"), ids.studentId, (scope) =>
    saveEntry(
      scope,
      { ...ids, entryId: newId(), ...content(3, 4, { observedLocal: "2026-11-23T08:00" }) },
      ids,
    ),
  );
  for (const tab of tabs)
    await expect(margin(tab).getByRole("listitem").filter({ hasText: "3 of 4 correct (75%)" })).toBeVisible();

  expect(openStreams(site.web)).toBe(1);

  // The tab that kept the stream goes; another takes it over.
  for (const tab of tabs.slice(0, 6)) await tab.close();
  await expect.poll(() => openStreams(site.web), { timeout: 45_000 }).toBe(1);
});

test("a page reads again when its own student changed: not for others, not because it opened, and without the strip of students", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.addInitScript(() => {
    const heard: string[] = [];
    Object.assign(window, { heard });
    // Another object of the same name hears what this page tells the other tabs.
    new BroadcastChannel("gentle-margin-live").onmessage = ({ data }) => heard.push(JSON.stringify(data));
  });
  const heardOf = (text: string) =>
    page.evaluate(
      (part) => (window as unknown as { heard: string[] }).heard.filter((one) => one.includes(part)).length,
      text,
    );
  const asked: URL[] = [];
  page.on("request", (request) => {
    const url = new URL(request.url());
    if (url.pathname.endsWith(".data")) asked.push(url);
  });
  const save = (student: "Rafi" | "Priya", correct: number) => {
    const ids = { studentId: site.demo.student(student), goalId: site.demo.goal(student, "1") };
    const entry = content(correct, 5, { observedLocal: "2026-11-23T08:00" });
    return inScope(site.app, site.demo.person("noor"), ids.studentId, (scope) =>
      saveEntry(scope, { ...ids, entryId: newId(), ...entry }, ids),
    );
  };
  // A server that began to listen less than a second before the page was made tells it to read again once: then the page is opened anew.
  await expect(async () => {
    asked.length = 0;
    await page.goto(`/students/${site.demo.student("Priya")}`);
    await awake(page);
    await expect.poll(() => openStreams(site.web), { timeout: 45_000 }).toBe(1);
    // Each is told a second after the one before at the earliest: a page that read for it would have asked by the third.
    for (let times = 1; times <= 3; times += 1) {
      await save("Rafi", times);
      await expect.poll(() => heardOf(site.demo.student("Rafi")), { timeout: 10_000 }).toBe(times);
    }
    expect(await heardOf('"what":"all"')).toBe(0);
    expect(asked).toEqual([]);
  }).toPass();
  await save("Priya", 2);
  await expect(margin(page).getByRole("listitem").filter({ hasText: "2 of 5 correct (40%)" })).toBeVisible();
  expect(asked.length).toBe(1);
  const routes = asked[0]?.searchParams.get("_routes") ?? "";
  expect(routes).toContain("student");
  expect(routes).not.toContain("frame/frame");
});

test("a hidden tab closes its stream, and reads again what it missed when it is seen", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Rafi")}`);
  await awake(page);
  await expect.poll(() => openStreams(site.web), { timeout: 45_000 }).toBe(1);
  const setHidden = (hidden: boolean) =>
    page.evaluate((value) => {
      Object.defineProperty(document, "visibilityState", {
        configurable: true,
        get: () => (value ? "hidden" : "visible"),
      });
      document.dispatchEvent(new Event("visibilitychange"));
    }, hidden);
  await setHidden(true);
  await expect.poll(() => openStreams(site.web), { timeout: 45_000 }).toBe(0);
  const ids = { studentId: site.demo.student("Rafi"), goalId: site.demo.goal("Rafi", "1") };
  await inScope(site.app, site.demo.person("noor"), ids.studentId, (scope) =>
    saveEntry(
      scope,
      { ...ids, entryId: newId(), ...content(1, 5, { observedLocal: "2026-11-23T08:00" }) },
      ids,
    ),
  );
  // Seen again while the server has no answer: the page stays as it is, and reads again when there is one.
  await page.route(/\/live\?whose=/, (route) => route.fulfill({ status: 503 }));
  const noAnswer = page.waitForResponse(/\/live\?whose=/);
  await setHidden(false);
  await noAnswer;
  await expect(page.getByRole("heading", { name: /^Rafi/ })).toBeVisible();
  await page.unroute(/\/live\?whose=/);
  await expect(margin(page).getByRole("listitem").filter({ hasText: "1 of 5 correct (20%)" })).toBeVisible();
  await expect.poll(() => openStreams(site.web)).toBe(1);
});
