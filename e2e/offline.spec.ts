import { localTime } from "#core/dates/school-time.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { createServer, request as ask } from "node:http";
import type { Page, Route } from "@playwright/test";
import { school } from "../demo/school.ts";
import { testNow } from "../tests/clock.ts";
import { startWebServer } from "../tests/web-server.ts";
import { choose, expect, expectAccessible, recording, settled, signIn } from "./site.ts";
import { backWithoutSession, crash, madeReady, tablet, typeSignIn, withFolder } from "./tablet.ts";

async function startThree(page: Page): Promise<void> {
  for (const initials of ["W.A.", "E.K.", "P.N."])
    await page.getByRole("checkbox", { name: `${initials} together with others` }).check();
  await choose(page, "W.A.", /Two-digit subtraction/);
  await choose(page, "E.K.", /Counts out coins/);
  await choose(page, "P.N.", /start of words/);
  await page.getByRole("button", { name: "Start together" }).click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
}

withFolder("without a network any page leads to recording, and says what waits", async ({ site, folder }) => {
  const context = await tablet(folder, site.web.url);
  const page = context.pages()[0] ?? (await context.newPage());
  await madeReady(page);
  await context.setOffline(true);
  await page.goto(`/students/${site.demo.student("Wren")}/report`);
  await expect(page.getByRole("heading", { name: "No connection" })).toBeVisible();
  await expectAccessible(page, "offline");
  await page.getByRole("link", { name: "Record", exact: true }).click();
  await recording(page);
  await choose(page, "W.A.", /Two-digit subtraction/);
  await page.getByRole("button", { name: "Start with W.A." }).click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  for (let mark = 0; mark < 10; mark += 1) await page.keyboard.press("1");
  await page.getByRole("button", { name: /^Save 10/ }).click();
  await expect(page.getByText("saved on this device", { exact: true })).toBeVisible();
  await page.goto("/caseload");
  await expect(page.getByRole("status")).toHaveText("1 saved on this device, not sent yet.");
  // The network is back: the page that was asked for comes by itself, and what waited is sent.
  await context.setOffline(false);
  await expect(page.getByRole("heading", { name: "Caseload" })).toBeVisible();
  await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(1);
  await context.close();
});

withFolder(
  "a sitting begun without a network survives a crash of the browser, and each entry arrives exactly once @slow",
  async ({ site, folder }) => {
    let context = await tablet(folder, site.web.url);
    let page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await context.setOffline(true);
    await page.goto("/record");
    await recording(page);
    await expect(page.getByText("No connection. Recording works")).toBeVisible();
    await startThree(page);
    // Forty marks, over three students.
    for (let mark = 0; mark < 40; mark += 1) {
      await page.keyboard.press(mark % 4 === 3 ? "0" : "1");
      if (mark % 14 === 13) await page.keyboard.press("ArrowRight");
    }
    await expect(page.getByText("of 12 so far", { exact: true })).toBeVisible();
    await settled(page);
    await crash(context);

    context = await tablet(folder, site.web.url);
    await context.setOffline(true);
    page = context.pages()[0] ?? (await context.newPage());
    await page.goto("/record");
    await recording(page);
    await page.getByRole("link", { name: "Go on" }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await expect(page.getByText("of 14 so far", { exact: true })).toHaveCount(2);
    await expect(page.getByText("of 12 so far", { exact: true })).toBeVisible();
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByRole("button", { name: /^Save \d lines/ }).click();
    await expect(page.getByText("saved on this device", { exact: true }).first()).toBeVisible();
    expect(await site.owner("entries").whereNotNull("sitting_id").count({ n: "*" }).first()).toMatchObject({
      n: "0",
    });

    await backWithoutSession(context);
    await expect(
      page.getByText("Your session is over; recording goes on: 3 saved on this device"),
    ).toBeVisible({
      timeout: 90_000,
    });
    await page.getByRole("link", { name: "Sign in" }).click();
    await typeSignIn(page);
    await recording(page);
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(3);
    const kept = await site
      .owner("entries")
      .whereNotNull("sitting_id")
      .select<{ numerator: number; denominator: number }[]>("numerator", "denominator");
    expect(kept.map(({ denominator }) => denominator).sort()).toEqual([12, 14, 14]);
    expect(kept.reduce((sum, { numerator }) => sum + numerator, 0)).toBe(30);
    await expect(page.getByText(/saved on this device|Sending/)).toHaveCount(0);
    await context.close();
  },
);

withFolder(
  "a server that dies after it kept an entry and before it said so is asked again, and has it once @slow",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await startThree(page);
    for (const key of ["1", "1", "0"]) await page.keyboard.press(key);
    await page.keyboard.press("ArrowRight");
    for (const key of ["1", "0"]) await page.keyboard.press(key);
    let killed = false;
    await context.route("**/recording/keep", async (route) => {
      if (killed) return route.continue();
      killed = true;
      // The server keeps it; its answer never reaches the tablet.
      expect((await route.fetch()).status()).toBe(200);
      await site.web.kill("SIGKILL");
      return route.abort();
    });
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByRole("button", { name: /^Save \d lines/ }).click();
    await expect(page.getByText("saved on this device", { exact: true })).toHaveCount(2);
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(1);
    const again = await startWebServer(site.pooled.url, {
      ...site.pooled.env,
      PORT: new URL(site.web.url).port,
    });
    await expect(page.getByText("in the report")).toHaveCount(2, { timeout: 90_000 });
    expect(await site.owner("entries").whereNotNull("sitting_id")).toHaveLength(2);
    await again.stop();
    await context.close();
  },
);

withFolder(
  "signing out warns of what is not sent; another person on the device sees nothing of it; it goes on when its person is back",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await context.route("**/recording/keep", (route) => route.abort());
    await choose(page, "E.K.", /./);
    await page.getByRole("button", { name: "Start with E.K." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    for (const key of ["1", "1"]) await page.keyboard.press(key);
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByRole("button", { name: /^Save \d line/ }).click();
    await expect(page.getByText("saved on this device", { exact: true })).toBeVisible();
    await page.goto("/caseload");
    await expect(page.getByRole("link", { name: "1 not sent" })).toBeVisible();
    await page.getByRole("button", { name: "Sign out" }).click();
    await expect(page.getByText("1 of your entries is not sent yet.", { exact: false })).toBeVisible();
    await page.getByRole("button", { name: "Sign out anyway" }).click();
    await page.getByLabel("Password").waitFor();
    // On the disk of the device nothing of the child can be read, and no key is left.
    const left = await page.evaluate(async () => {
      const disk = await new Promise<IDBDatabase>((resolve, reject) => {
        const asked = indexedDB.open("gentle-margin");
        asked.onsuccess = () => resolve(asked.result);
        asked.onerror = () => reject(new Error("no disk"));
      });
      const all = (store: string) =>
        new Promise<unknown[]>((resolve) => {
          const asked = disk.transaction(store).objectStore(store).getAll();
          asked.onsuccess = () => resolve(asked.result);
        });
      return {
        keys: (await all("keys")).length,
        packs: (await all("packs")).length,
        queue: (await all("queue")).length,
      };
    });
    expect(left).toEqual({ keys: 0, packs: 0, queue: 1 });

    await context.unroute("**/recording/keep");
    await signIn(page, "ines");
    await page.goto("/record");
    await recording(page);
    await expect(page.getByText("not sent")).toHaveCount(0);
    await expect(page.getByText(/saved (here|on this device)/)).toHaveCount(0);
    expect(await site.owner("entries").whereNotNull("sitting_id")).toHaveLength(0);
    await page.goto("/caseload");
    await page.locator(".notebook[data-ready]").waitFor();
    await page.getByRole("button", { name: "Sign out" }).click();
    await page.getByLabel("Password").waitFor();

    await signIn(page, "noor");
    await page.goto("/caseload");
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(1);
    await context.close();
  },
);

withFolder(
  "a session that is over pauses the queue and nothing else; a refused entry stays, says why, and holds back no other",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await choose(page, "E.K.", /./);
    await page.getByRole("button", { name: "Start with E.K." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    for (const key of ["1", "0"]) await page.keyboard.press(key);
    await site.owner("gate.sessions").update({ ended_at: new Date() });
    await page.keyboard.press("1");
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByRole("button", { name: /^Save \d line/ }).click();
    await expect(
      page.getByText("Your session is over; recording goes on: 1 saved on this device"),
    ).toBeVisible({
      timeout: 90_000,
    });

    // Meanwhile the person was taken out of this student's circle; a second sitting is of another student.
    await page.getByRole("link", { name: "New sitting" }).click();
    await choose(page, "W.A.", /Two-digit subtraction/);
    await page.getByRole("button", { name: "Start with W.A." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    for (const key of ["1", "1", "1"]) await page.keyboard.press(key);
    await page.getByRole("button", { name: /^(Save|Finish)/ }).click();
    const review = page.getByRole("button", { name: /^Save \d line/ });
    if (await review.isVisible()) await review.click();
    await site
      .owner("circle")
      .where({ student_id: site.demo.student("Elowen"), part: "lead" })
      .update({ part: "read" });
    await page.getByRole("link", { name: "Sign in" }).click();
    await typeSignIn(page);
    await recording(page);
    await expect(page.getByText("Not taken by the server; still here.")).toBeVisible();
    await expect(page.getByText(/you can no longer record for this student/)).toBeVisible();
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(1);

    await site
      .owner("circle")
      .where({ student_id: site.demo.student("Elowen"), part: "read" })
      .update({ part: "lead" });
    await page.getByRole("button", { name: "Try again" }).click();
    await expect(page.getByText("Not taken by the server; still here.")).toHaveCount(0);
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(2);
    await context.close();
  },
);

withFolder(
  "only the recording page and the one that leads to it are kept for use without a network, and nothing personal stands in it",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await page.goto("/caseload");
    await page.goto(`/students/${site.demo.student("Wren")}`);
    const kept = await page.evaluate(async () => {
      const found: { path: string; type: string; text: string }[] = [];
      for (const name of await caches.keys()) {
        const cache = await caches.open(name);
        for (const request of await cache.keys()) {
          const answer = await cache.match(request);
          const type = answer?.headers.get("Content-Type") ?? "";
          const policy = answer?.headers.get("Content-Security-Policy") ?? "";
          found.push({
            path: new URL(request.url).pathname,
            type,
            text: type.startsWith("text/html") ? `${policy}\n${(await answer?.text()) ?? ""}` : "",
          });
        }
      }
      return found;
    });
    expect(kept.length).toBeGreaterThan(20);
    expect(
      kept
        .filter(({ path }) => !path.startsWith("/assets/"))
        .map(({ path }) => path)
        .sort(),
    ).toEqual(["/offline", "/record"]);
    const document = kept.find(({ path }) => path === "/record")?.text ?? "";
    expect(document).toMatch(/^default-src 'none';.*script-src 'self' 'nonce-/);
    expect(document).not.toMatch(/Noor|Wren|W\.A\./);
    await context.setOffline(true);
    // The tallies are part of that page, and what is pressed there is on the disk.
    await page.goto("/record?tally=day");
    await recording(page);
    await page.getByRole("button", { name: /^Begin 2 / }).click();
    await page.getByRole("button", { name: /^\+1 / }).click();
    await settled(page);
    await page.reload();
    await expect(page.getByText("1 counted", { exact: true })).toBeVisible();
    await page.goto("/caseload");
    await expect(page.getByRole("heading", { name: "No connection" })).toBeVisible();
    await context.close();
  },
);

/** Passes everything on to a server, its service worker as another version of itself once `renew` was called. */
async function renewable(url: string): Promise<{ url: string; renew: () => void; stop: () => void }> {
  const { hostname, port } = new URL(url);
  let renewed = false;
  const proxy = createServer((request, response) => {
    if (renewed && request.url === "/sw.js") {
      void fetch(`${url}/sw.js`).then(async (answer) => {
        response.setHeader("Content-Type", answer.headers.get("Content-Type") ?? "");
        response.end(`// another version\n${await answer.text()}`);
      });
      return;
    }
    const { url: path, method, headers } = request;
    const onward = ask({ hostname, port, path, method, headers }, (answer) => {
      response.writeHead(answer.statusCode ?? 500, answer.headers);
      answer.pipe(response);
    });
    request.pipe(onward);
  });
  await new Promise<void>((resolve) => proxy.listen(0, "localhost", resolve));
  const address = proxy.address();
  return {
    url: `http://localhost:${typeof address === "object" ? address?.port : ""}`,
    renew: () => (renewed = true),
    stop: () => {
      proxy.close();
      proxy.closeAllConnections();
    },
  };
}

withFolder(
  "a new version waits while a sitting is open, and takes over after it",
  async ({ site, folder }) => {
    const passing = await renewable(site.web.url);
    const context = await tablet(folder, passing.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await page.getByRole("button", { name: "Start with W.A." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    passing.renew();
    const workers = () =>
      page.evaluate(async () => {
        const registration = await navigator.serviceWorker.getRegistration();
        return { waiting: registration?.waiting !== null, installing: registration?.installing !== null };
      });
    const look = () =>
      page.evaluate(() => navigator.serviceWorker.getRegistration().then((one) => one?.update()));
    await look();
    await expect.poll(workers).toEqual({ waiting: true, installing: false });
    // The sitting goes on with the version it began with, also when its page is opened again.
    const opened = page.waitForResponse((answer) => answer.url().endsWith("/recording/now"));
    await page.reload();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await opened;
    expect(await workers()).toEqual({ waiting: true, installing: false });
    await page.getByRole("button", { name: "Leave open" }).click();
    await page.getByRole("button", { name: "Throw away …" }).click();
    await page.getByRole("button", { name: "Throw away", exact: true }).click();
    await expect(page.getByText("Still open")).toHaveCount(0);
    // Asked to take over, it does so as soon as the browser lets the old one go: at the latest once its pages are left.
    await expect
      .poll(
        async () => {
          await page.goto("about:blank");
          await page.goto("/record");
          await recording(page);
          return workers();
        },
        { timeout: 90_000 },
      )
      .toEqual({ waiting: false, installing: false });
    await context.close();
    passing.stop();
  },
);

withFolder(
  "no connection is said only where there is none; what waits goes by itself when the server answers, after a session that was over too",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    let stands: (route: Route) => Promise<void> = (route) => route.continue();
    await context.route("**/recording/*", (route) => stands(route));
    await choose(page, "E.K.", /./);
    await page.getByRole("button", { name: "Start with E.K." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await expect(page.locator("header time")).toHaveText(timeOfDay(localTime(school.timeZone, testNow())));
    stands = (route) => route.fulfill({ status: 200, body: "<html>Welcome to our network</html>" });
    for (const key of ["1", "0"]) await page.keyboard.press(key);
    await page.getByRole("button", { name: "Finish" }).click();
    await page.getByRole("button", { name: /^Save \d line/ }).click();
    await expect(page.getByText(/Another page answers .*: 1 saved on this device/)).toBeVisible();
    stands = (route) => route.fulfill({ status: 503, json: { kind: "unavailable" } });
    await page.getByRole("button", { name: "Send now" }).click();
    await expect(page.getByText(/The server can take nothing just now: 1 saved/)).toBeVisible();
    stands = (route) => route.abort();
    await page.getByRole("button", { name: "Send now" }).click();
    await expect(page.getByText(/No connection: 1 saved/)).toBeVisible();
    await site.owner("gate.sessions").update({ ended_at: new Date() });
    stands = (route) => route.continue();
    await expect(page.getByText("Your session is over; recording goes on: 1 saved")).toBeVisible({
      timeout: 60_000,
    });
    // Signed in again in another tab: this one is not touched.
    const other = await context.newPage();
    await other.goto("/sign-in");
    await typeSignIn(other);
    await expect(other).toHaveURL(/caseload/);
    await expect.poll(async () => (await site.owner("entries").whereNotNull("sitting_id")).length).toBe(1);
    await context.close();
  },
);
