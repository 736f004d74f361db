import { expect, expectAccessible, expectEveryLook, signIn, test } from "./site.ts";
import { wordsToAvoidOn } from "./words.ts";
import { generalViews, incidentViews, recordingViews } from "./views.ts";

const parts = { general: generalViews, recording: recordingViews, incidents: incidentViews };

for (const [part, viewsOf] of Object.entries(parts))
  test(`axe finds nothing on any view, nor is there a word to avoid, ${part}`, async ({ page, site }) => {
    test.setTimeout(420_000);
    await page.emulateMedia({ colorScheme: "light", reducedMotion: "reduce" });
    await signIn(page, "noor");
    for (const [view, open] of Object.entries(viewsOf(page, site))) {
      await open();
      expect.soft({ view, words: await wordsToAvoidOn(page) }).toEqual({ view, words: [] });
      await expectEveryLook(page, view);
    }
  });

test("axe finds nothing on the sign-in page, with problems neither", async ({ page }) => {
  await page.goto("/sign-in");
  await expectEveryLook(page, "sign-in");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByText("This is not a complete e-mail address.")).toBeVisible();
  await expectAccessible(page, "sign-in with problems");
});
