import { test as base } from "@playwright/test";
import { throwawayDatabase } from "../tests/database.ts";
import { startWebServer } from "../tests/web-server.ts";
import { expect, expectAccessible, test } from "./site.ts";

base("the first person makes the school and the first account, once", async ({ page, browser }) => {
  const db = await throwawayDatabase("empty");
  const web = await startWebServer(db.appUrl);
  await page.goto(web.url);
  await expect(page).toHaveURL(/first-run/);
  await page.getByLabel("School").fill("Heron Point School");
  await page.getByLabel("Given name").fill("Ada");
  await page.getByLabel("Password").fill("short");
  await page.getByRole("button", { name: "Set up the school" }).click();
  await expect(page.getByText("Please use at least 12 characters")).toBeVisible();
  await expect(page.getByText("Please give your family name.")).toBeVisible();
  await expect(page.getByLabel("School")).toHaveValue("Heron Point School");
  for (const colorScheme of ["light", "dark"] as const) {
    await page.emulateMedia({ colorScheme });
    for (const width of [1280, 390]) {
      await page.setViewportSize({ width, height: 800 });
      await expectAccessible(page, "first run");
    }
  }

  // A second person on the same page, a moment later.
  const late = await (await browser.newContext()).newPage();
  await late.goto(`${web.url}/first-run`);

  await page.getByLabel("Time zone").fill("America/Halifax");
  await page.getByLabel("Family name").fill("Marsh");
  await page.getByLabel("E-mail").fill("Ada.Marsh@Heron.example");
  await page.getByLabel("Password").fill("four calm small words");
  await page.getByRole("button", { name: "Set up the school" }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.getByLabel("E-mail").fill("ada.marsh@heron.example");
  await page.getByLabel("Password").fill("four calm small words");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { name: "No students yet" })).toBeVisible();
  await expectAccessible(page, "a caseload without students");

  await late.getByLabel("School").fill("Mine now");
  await late.getByRole("button", { name: "Set up the school" }).click();
  await expect(late).toHaveURL(/sign-in/);
  await late.context().close();
  await web.stop();
  await db.drop();
});

test("signing in leads back to where one was going, and nowhere else", async ({ page, site }) => {
  const report = `/students/${site.demo.student("Wren")}/report`;
  await page.goto(report);
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("wrong password");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toContainText("E-mail and password do not go together.");
  await expect(page.getByLabel("E-mail")).toHaveValue("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(new RegExp(`${report}$`));
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.goBack();
  await expect(page).toHaveURL(/sign-in/);
  await page.goto("/sign-in?to=//evil.example/");
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(/\/caseload$/);
});
