import type { Page } from "@playwright/test";
import { margin, recording, signIn, test } from "./site.ts";

const folder = process.env["GENTLE_MARGIN_PICTURES"] ?? "test-results/pictures";

/** Takes a picture once the type is there and nothing moves. */
async function take(page: Page, name: string): Promise<void> {
  await page.evaluate(async () => {
    await document.fonts.ready;
    await Promise.all(document.getAnimations().map((animation) => animation.finished.catch(() => undefined)));
  });
  await page.screenshot({ path: `${folder}/${name}.png` });
}

test("the pictures of the guide", async ({ page, site }) => {
  await page.emulateMedia({ reducedMotion: "reduce" });
  await page.goto("/sign-in");
  await take(page, "sign-in");
  await signIn(page, "noor");
  await take(page, "caseload");

  const wren = `/students/${site.demo.student("Wren")}`;
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`${wren}/goals/${site.demo.goal("Wren", "2b")}/record`);
  await recording(page);
  for (const key of "11011101") await page.keyboard.press(key);
  await take(page, "recording-phone");
  for (const key of "10") await page.keyboard.press(key);
  await page.keyboard.press("n");
  await page
    .getByLabel("Note")
    .fill("Regrouping across a zero was still hard; she checked two answers without being asked.");
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.locator("canvas").waitFor();
  await take(page, "student-phone");
  await page.setViewportSize({ width: 1280, height: 800 });
  await margin(page).waitFor();
  await page.reload();
  await page.locator("canvas").waitFor();
  await take(page, "student");
  await page.emulateMedia({ colorScheme: "dark", reducedMotion: "reduce" });
  await page.reload();
  await page.locator("canvas").waitFor();
  await take(page, "student-dark");
  await page.emulateMedia({ colorScheme: "light", reducedMotion: "reduce" });
  await margin(page).getByRole("listitem").first().getByRole("link").click();
  await page.getByRole("heading", { name: "History" }).waitFor();
  await take(page, "entry");
  await page.goto(`${wren}/report`);
  await take(page, "report");
});
