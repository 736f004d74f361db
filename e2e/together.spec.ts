import type { Browser, Page } from "@playwright/test";
import { choose, expect, expectAccessible, recording, settled, signIn, test } from "./site.ts";

/** A second device, with a person of its own. */
async function device(browser: Browser, baseURL: string, who: Parameters<typeof signIn>[1]): Promise<Page> {
  const context = await browser.newContext({ baseURL, serviceWorkers: "block" });
  const page = await context.newPage();
  await signIn(page, who);
  return page;
}

const sitting = (page: Page) => page.getByRole("heading", { name: /^Sitting/ });
const toldNext = (page: Page) => page.waitForResponse((answer) => answer.url().endsWith("/recording/now"));

async function setPin(page: Page): Promise<void> {
  await page.getByLabel("PIN", { exact: true }).fill("7319");
  await page.getByRole("button", { name: "Set the PIN" }).click();
  await expect(page.getByText("Your PIN is set.")).toBeVisible();
}

async function openTallies(page: Page): Promise<void> {
  await page.goto("/record?tally=day");
  await recording(page);
}

test("an all-day tally is one on two devices, without a network too, and closes into one entry", async ({
  page,
  browser,
  site,
}) => {
  await signIn(page, "noor");
  const other = await device(browser, site.web.url, "teo");
  await openTallies(page);
  // While the server is slow nothing that comes and goes moves the key from under a finger.
  let answered: () => void = () => undefined;
  const slow = new Promise<void>((resolve) => (answered = resolve));
  await page.route("**/recording/keep", async (route) => {
    await slow;
    await route.continue();
  });
  await page.getByRole("button", { name: /^Begin 2 / }).click();
  const one = (on: Page) => on.getByRole("button", { name: /^\+1 / });
  const before = await one(page).boundingBox();
  await expect(page.getByText(/^Sending 1/)).toBeVisible({ timeout: 15_000 });
  expect(await one(page).boundingBox()).toEqual(before);
  answered();
  await expect(page.getByText(/^Sending/)).toHaveCount(0);
  expect(await one(page).boundingBox()).toEqual(before);
  await page.unroute("**/recording/keep");
  const shown = (on: Page, count: number) =>
    expect(on.getByText(`${count} counted`, { exact: true })).toBeVisible({ timeout: 25_000 });
  await one(page).click();
  await page.keyboard.press("1");
  await page.keyboard.press("1");
  await page.keyboard.press("u");
  await shown(page, 2);

  await openTallies(other);
  await shown(other, 2);
  // Undo takes back one's own press only: this person has pressed nothing yet.
  await expect(other.getByRole("button", { name: /^Undo/ })).toBeDisabled();
  await one(other).click();
  await shown(page, 3);

  await page.context().setOffline(true);
  await one(page).click();
  await one(page).click();
  await shown(page, 5);
  await settled(page);
  await shown(other, 3);
  await page.context().setOffline(false);
  await shown(other, 5);

  await other.getByRole("button", { name: "Close it …" }).click();
  await other.getByLabel("Watched from").fill("08:00");
  await other.getByLabel("until").fill("07:00");
  await expect(other.getByText("The end must be after the beginning.")).toBeVisible();
  await expect(other.getByRole("button", { name: "Save 5" })).toBeDisabled();
  await other.getByLabel("Watched from").fill("00:00");
  await other.getByLabel("until").fill("23:59");
  await other.getByLabel("Note").fill("two assemblies");
  await other.getByRole("button", { name: "Save 5" }).click();
  await expect(other.getByText("closed at 5.")).toBeVisible();
  await expect(one(page)).toHaveCount(0, { timeout: 25_000 });

  const tally = () =>
    site.owner("tallies").whereNotNull("entry_id").first<{ entry_id: string } | undefined>("entry_id");
  await expect.poll(tally).toBeTruthy();
  const entry = await site
    .owner("entries")
    .where({ entry_id: (await tally())?.entry_id ?? "" })
    .first<{ entry: { count: number; atSeconds: number[] } }>();
  expect(entry.entry).toMatchObject({ count: 5, atSeconds: { length: 5 } });
  const presses = await site
    .owner("tally_presses as t")
    .join("people as p", "p.person_id", "t.person_id")
    .orderBy("t.at")
    .select<{ given_name: string; back: boolean }[]>("p.given_name", "t.back");
  expect(presses.map(({ given_name, back }) => `${given_name}${back ? " back" : ""}`)).toEqual([
    "Noor",
    "Noor",
    "Noor back",
    "Teo",
    "Noor",
    "Noor",
  ]);
  await other.context().close();
});

test("a tablet changes hands by PIN in the middle of a sitting, which goes on", async ({
  page,
  browser,
  site,
}) => {
  const other = await device(browser, site.web.url, "teo");
  await other.goto("/devices");
  await other.getByLabel("PIN", { exact: true }).fill("1111");
  await other.getByRole("button", { name: "Set the PIN" }).click();
  await expect(other.getByText("This PIN is too easy to guess. Choose another.")).toBeVisible();
  await setPin(other);
  await expect(other.getByLabel("A new PIN")).toHaveValue("");
  await other.context().close();

  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await choose(page, "W.A.", /Two-digit subtraction/);
  await choose(page, "E.K.", /Counts out coins/);
  for (const initials of ["E.K.", "W.A."])
    await page.getByRole("checkbox", { name: `${initials} together with others` }).check();
  await page.getByRole("button", { name: "Start together" }).click();
  await sitting(page).waitFor();
  await page.keyboard.press("1");
  const handOver = () => page.getByRole("button", { name: /records\. Hand over/ });
  await handOver().click();
  await page.getByRole("button", { name: /Brandvold/ }).click();
  await page.getByLabel("PIN of T. Brandvold").fill("7318");
  await page.getByRole("button", { name: "Take over" }).click();
  await expect(page.getByText("This is not their PIN.")).toBeVisible();
  await expectAccessible(page, "taking a tablet over");
  await page.getByLabel("PIN of T. Brandvold").fill("7319");
  await page.getByRole("button", { name: "Take over" }).click();
  await expect(handOver()).toHaveAccessibleName(/^T\. Brandvold/);
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("0");
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByRole("button", { name: /^Save 2 lines/ }).click();
  const authors = () =>
    site
      .owner("entries as e")
      .join("people as p", "p.person_id", "e.author_id")
      .join("students as s", "s.student_id", "e.student_id")
      .whereNotNull("e.sitting_id")
      .orderBy("s.given_name")
      .select<{ given_name: string }[]>("p.given_name");
  // What was marked before the hand-over stays with who marked it.
  await expect
    .poll(async () => (await authors()).map(({ given_name }) => given_name))
    .toEqual(["Noor", "Teo"]);
});

test("a tablet that lay unused asks for the PIN, goes on where it was, and after five wrong ones for a sign-in", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.clock.install();
  await page.goto("/devices");
  await setPin(page);
  await expect(page.getByText(/opens the recording screens again after 15 minutes/)).toBeVisible();
  await page.goto("/record");
  await recording(page);
  await choose(page, "I.L.", /Stays with the group/);
  await page.getByRole("button", { name: "Start with I.L." }).click();
  await sitting(page).waitFor();
  // While a clock runs the screen stays open, and use of it counts afterwards.
  await page.getByRole("button", { name: /A bout begins/ }).click();
  await page.clock.fastForward("25:00");
  await page.getByRole("button", { name: /It stopped/ }).click();
  await expect(page.getByRole("list", { name: "Bouts" })).toContainText(/25:0\d/);
  await site.owner.raw("update gate.sessions set opened_at = opened_at - interval '1 hour'");

  const locked = page.getByRole("heading", { name: "This screen is locked" });
  await page.clock.fastForward("16:00");
  await locked.waitFor();
  await expect(page.getByText("One sitting is open and goes on.")).toBeVisible();
  await expect(page.getByText("I.L.")).toHaveCount(0);
  await expectAccessible(page, "a locked screen");
  const keys = () =>
    page.evaluate(
      () =>
        new Promise((resolve, reject) => {
          const opening = indexedDB.open("gentle-margin");
          opening.onerror = () => reject(new Error("no disk"));
          opening.onsuccess = () => {
            const asked = opening.result.transaction("keys").objectStore("keys").count();
            asked.onsuccess = () => {
              opening.result.close();
              resolve(asked.result);
            };
          };
        }),
    );
  expect(await keys()).toBe(0);
  const pin = page.getByLabel("PIN of N. Halloran");
  await expect(pin).toBeFocused();
  const give = async (digits: string) => {
    await pin.fill(digits);
    await page.keyboard.press("Enter");
  };
  await give("7318");
  await expect(
    page.getByText("This is not the PIN. After five wrong ones you have to sign in."),
  ).toBeVisible();
  // A right one begins the count anew.
  const counted = () => site.owner("rate_limits").where("key", "like", "unlock:%").pluck("points");
  expect(await counted()).toEqual([1]);
  await give("7319");
  await expect.poll(counted).toEqual([]);
  await sitting(page).waitFor();
  await page.clock.fastForward("16:00");
  await locked.waitFor();
  // Without a network the device itself knows the PIN.
  await page.route("**/recording/unlock", (route) => route.abort());
  await give("7317");
  await expect(page.getByText("This is not the PIN. 4 more tries")).toBeVisible();
  const told = page.waitForResponse((one) => one.url().endsWith("/recording/pack"));
  await give("7319");
  await told;
  await sitting(page).waitFor();
  await expect(page.getByRole("list", { name: "Bouts" })).toContainText(/25:0\d/);
  expect(await keys()).toBe(1);

  await page.unroute("**/recording/unlock");
  await page.clock.fastForward("16:00");
  await locked.waitFor();
  for (let wrong = 0; wrong < 5; wrong += 1) {
    await pin.fill("7000");
    const answer = page.waitForResponse((one) => one.url().endsWith("/recording/unlock"));
    await page.keyboard.press("Enter");
    await answer;
    await expect(page.getByRole("button", { name: /^(Open|Sign in)$/ })).toBeVisible();
  }
  await expect(page.getByRole("heading", { name: "Please sign in again" })).toBeVisible();
  expect((await page.request.get("/caseload", { maxRedirects: 0 })).status()).toBe(302);
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("heading", { name: "Sign in" }).waitFor();
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await expect(page.getByText("Still open")).toBeVisible();
});

test("the space bar is the clock’s wherever the focus was left, also after a hand-over, but for what one came to by Tab", async ({
  page,
  browser,
  site,
}) => {
  const other = await device(browser, site.web.url, "teo");
  await other.goto("/devices");
  await setPin(other);
  await other.context().close();

  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await choose(page, "C.D.", /Raises a hand/);
  await page.getByRole("button", { name: "Start with C.D." }).click();
  await sitting(page).waitFor();
  const count = page.getByRole("button", { name: /^\d+ *\+ 1/ });
  const clock = page.locator('[data-key=" "]');
  await count.click();
  // A key makes the touched button look focused; the bar is the clock's all the same.
  await page.keyboard.press("1");
  await page.keyboard.press("Space");
  await expect(clock).toHaveAttribute("aria-pressed", "true");
  await expect(count).toContainText("2");

  const handOver = page.getByRole("button", { name: /records\. Hand over/ });
  await handOver.click();
  await page.getByRole("button", { name: /Brandvold/ }).click();
  await page.getByLabel("PIN of T. Brandvold").fill("7319");
  await page.keyboard.press("Enter");
  await expect(handOver).toHaveAccessibleName(/^T\. Brandvold/);
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.keyboard.press("Space");
  await expect(clock).toHaveAttribute("aria-pressed", "false");
  await page.keyboard.press("Space");
  await expect(clock).toHaveAttribute("aria-pressed", "true");

  await clock.focus();
  await page.keyboard.press("Tab");
  await expect(page.getByRole("button", { name: "Undo" })).toBeFocused();
  await page.keyboard.press("Space");
  await expect(clock).toHaveAttribute("aria-pressed", "false");
  await page.keyboard.press("Space");
  await expect(clock).toHaveAttribute("aria-pressed", "true");
});

test("a second observer joins a sitting unseen, and how far the two agree stands on the goal’s page", async ({
  page,
  browser,
  site,
}) => {
  const path = `/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`;
  await signIn(page, "noor");
  await page.goto(path);
  await page.locator(".notebook[data-ready]").waitFor();
  await page.keyboard.press("r");
  await sitting(page).waitFor();
  await toldNext(page);
  for (const key of "1101") await page.keyboard.press(key);

  const other = await device(browser, site.web.url, "ines");
  await other.goto("/record");
  await recording(other);
  await other.getByRole("button", { name: "Observe beside N. Halloran" }).click();
  await sitting(other).waitFor();
  await expect(other.getByText("Beside N. Halloran.")).toBeVisible();
  await expect(other.getByText("of 0 so far", { exact: true })).toBeVisible();
  for (const key of "1001") await other.keyboard.press(key);
  await other.getByRole("button", { name: /^Finish|^Save/ }).click();
  if (await other.getByRole("heading", { name: "Review before saving" }).isVisible())
    await other.getByRole("button", { name: /^Save 1 line/ }).click();
  await expect(other.getByText("saved beside the first observer’s")).toBeVisible();
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByRole("button", { name: "Save 1 line" }).click();
  await expect(page).toHaveURL(/saved=/);

  const twice = page.getByRole("region", { name: "Two observers" });
  await expect(twice).toContainText("75% trial by trial, 4 units");
  await twice.getByRole("link").click();
  await expect(page.getByText("75% trial by trial, 4 units").first()).toBeVisible();
  await expect(page.getByRole("table").getByRole("row")).toHaveCount(5);
  await expectAccessible(page, "two observers");
  expect(await site.owner("entries").whereNotNull("sitting_id")).toHaveLength(1);
  await other.context().close();
});

test("goals and students come into a sitting that goes on, and nothing marked is lost", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await choose(page, "W.A.", /Two-digit subtraction/);
  await page.getByRole("button", { name: "Start with W.A." }).click();
  await sitting(page).waitFor();
  await page.keyboard.press("1");
  await page.getByRole("button", { name: "Add goals" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: /Counts out coins.*E\.K\.$/ }).click();
  await dialog.getByRole("button", { name: "Back to the sitting" }).click();
  await expect(page.getByText("of 1 so far", { exact: true })).toBeVisible();
  await page.keyboard.press("ArrowRight");
  // Closed before the disk has the mark, the browser asks; once it has, nothing is asked.
  const isAsked = () =>
    page.evaluate(() => {
      window.dispatchEvent(new KeyboardEvent("keydown", { key: "1" }));
      return !window.dispatchEvent(new Event("beforeunload", { cancelable: true }));
    });
  expect(await isAsked()).toBe(true);
  await settled(page);
  await page.reload();
  await sitting(page).waitFor();
  await page.getByRole("button", { name: "Finish" }).click();
  await expect(page.getByRole("region", { name: "E.K." })).toBeVisible();
  await expect(page.getByRole("button", { name: "Save 2 lines" })).toBeEnabled();
});

test("rows of past observations are there again after a wrong turn, and say who observed", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const path = `/past?student=${site.demo.student("Wren")}&goal=${site.demo.goal("Wren", "2b")}`;
  await page.goto(path);
  await page.getByLabel("Observed, row 1").fill("7/10");
  await page.goto("/caseload");
  await page.goto(path);
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();
  await expect(page.getByLabel("Observed, row 1")).toHaveValue("7/10");
  await page.getByLabel("Observed by").selectOption("I. Okafor");
  await page.getByRole("button", { name: "Save all rows" }).click();
  await expect(page.getByText("1 entry saved")).toBeVisible();
  await page.goto(path);
  await expect(page.getByLabel("Observed, row 1")).toHaveValue("");
  const ines = site.demo.person("ines").personId;
  expect(await site.owner("entries").where({ observer_id: ines })).toHaveLength(1);
});
