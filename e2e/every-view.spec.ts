import type { Locator } from "@playwright/test";
import { awake, choose, expect, expectAccessible, expectEveryLook, readOnly, signIn, test } from "./site.ts";
import { wordsToAvoidOn } from "./words.ts";
import { generalViews, incidentViews, recordingViews } from "./views.ts";

const parts = { general: generalViews, recording: recordingViews, incidents: incidentViews };

for (const [part, viewsOf] of Object.entries(parts))
  test(`axe finds nothing on any view, nor is there a word to avoid, ${part}`, async ({ page, site }) => {
    await page.emulateMedia({ colorScheme: "light", reducedMotion: "reduce" });
    await signIn(page, "noor");
    for (const [view, open] of Object.entries(viewsOf(page, site))) {
      await open();
      expect.soft({ view, words: await wordsToAvoidOn(page) }).toEqual({ view, words: [] });
      await expectEveryLook(page, view);
    }
  });

test("nor is there on what the administrator sees, and where one may not go", async ({ page, site }) => {
  await page.emulateMedia({ colorScheme: "light", reducedMotion: "reduce" });
  const look = async (path: string) => {
    await page.goto(path);
    await page.getByRole("heading", { level: 1 }).first().waitFor();
    expect.soft({ path, words: await wordsToAvoidOn(page) }).toEqual({ path, words: [] });
    await expectEveryLook(page, path);
  };
  await signIn(page, "desmond");
  for (const path of ["/caseload", "/today", "/school/staff", "/school/groups", "/school/lists"])
    await look(path);
  // A person's line open for change.
  await look(`/school/staff/${site.demo.person("teo").personId}`);
  await expect(page.getByLabel("Given name").locator("visible=true")).toHaveCount(1);
  await signIn(page, "teo");
  await look(`/students/${site.demo.student("Wren")}/goals/new`);
  await expect(page.getByRole("heading", { name: "You don’t have permission to do this" })).toBeVisible();
  await look(`/students/${crypto.randomUUID()}`);
  await expect(page.getByRole("heading", { name: "Not found" })).toBeVisible();
});

test("axe finds nothing on the sign-in page, with problems neither", async ({ page }) => {
  await page.goto("/sign-in");
  await expectEveryLook(page, "sign-in");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByText("This is not a complete e-mail address.")).toBeVisible();
  await expectAccessible(page, "sign-in with problems");
});

readOnly(
  "what is chosen is seen in colors of the reader’s own, and a page in the dark theme prints as paper",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.emulateMedia({ forcedColors: "active" });
    await page.goto(`/record?incident=${site.demo.student("Wren")}`);
    const choices = page.getByRole("button", { name: /^(classroom|playground)$/ });
    await choices.first().click();
    const colors = await choices.evaluateAll((all) =>
      all.map((one) => getComputedStyle(one).backgroundColor),
    );
    expect(new Set(colors).size).toBe(2);

    await page.emulateMedia({ forcedColors: "none", colorScheme: "dark" });
    await page.goto("/caseload");
    const ink = () =>
      page
        .locator("h1")
        .evaluate((title) => [
          getComputedStyle(title).color,
          getComputedStyle(document.body).backgroundColor,
        ]);
    const [dark] = await ink();
    await page.emulateMedia({ media: "print", colorScheme: "light" });
    const paper = await ink();
    await page.emulateMedia({ media: "print", colorScheme: "dark" });
    expect(await ink()).toEqual(paper);
    expect(paper[0]).not.toBe(dark);
    expect(paper[1]).toBe("rgb(255, 255, 255)");
  },
);

readOnly(
  "no bar to save lies under the strip of a phone, and on its side the pads are in view beside it",
  async ({ page, site }) => {
    const isOnTop = (button: Locator) =>
      button.evaluate((one) => {
        const { left, top, width, height } = one.getBoundingClientRect();
        return one.contains(document.elementFromPoint(left + width / 2, top + height / 2));
      });
    await signIn(page, "noor");
    await page.setViewportSize({ width: 390, height: 844 });
    for (const [path, name] of [
      ["/past", "Save all rows"],
      [`/students/${site.demo.student("Wren")}/goals/new`, "Save the goal"],
    ] as const) {
      await page.goto(path);
      await awake(page);
      const save = page.getByRole("button", { name });
      for (const to of [0, 100_000]) {
        await page.evaluate((y) => scrollTo(0, y), to);
        expect.soft({ path, to, isOnTop: await isOnTop(save) }).toEqual({ path, to, isOnTop: true });
      }
    }
    await page.setViewportSize({ width: 844, height: 390 });
    await page.goto("/record");
    await choose(page, "W.A.", /Two-digit subtraction/);
    await page.getByRole("button", { name: "Start with W.A." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await page.keyboard.press("1");
    for (const name of [/^Not yet/, /^Correct/, /^(Finish|Save)/]) {
      const button = page.getByRole("button", { name }).first();
      await expect(button).toBeInViewport({ ratio: 0.95 });
      expect([name, await isOnTop(button)]).toEqual([name, true]);
    }
  },
);
