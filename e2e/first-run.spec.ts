import { test as base } from "@playwright/test";
import { makeSetUpCode } from "../server/db/accounts.ts";
import { openThrowaway } from "../tests/database.ts";
import { startWebServer } from "../tests/web-server.ts";
import { awake, expect, expectAccessible, margin, recording, test } from "./site.ts";

base.use({ timezoneId: "America/Halifax" });
base(
  "the first person makes the school and the first account, once, and comes to the first point",
  async ({ page, browser }) => {
    const db = await openThrowaway("empty");
    const code = (await makeSetUpCode(db.owner)) ?? "";
    const web = await startWebServer(db.pooled.url, db.pooled.env);
    await page.goto(web.url);
    await expect(page).toHaveURL(/first-run/);
    await page.getByLabel("Set-up code").fill(code);
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

    await page.setViewportSize({ width: 1280, height: 800 });
    await page.emulateMedia({ colorScheme: "light" });

    // A second person on the same page, a moment later.
    const late = await (await browser.newContext()).newPage();
    await late.goto(`${web.url}/first-run`);

    await page.getByLabel("Family name").fill("Marsh");
    await page.getByLabel("E-mail").fill("Ada.Marsh@Heron.example");
    await page.getByLabel("Password").fill("four calm small words");
    // Where the browser is, not where the server is.
    await expect(page.getByLabel("Time zone")).toHaveValue("America/Halifax");
    await expect(page.getByLabel("I carry a caseload")).toBeChecked();
    await page.getByRole("button", { name: "Set up the school" }).click();
    // Signed in at once, and led on: the first student, the first goal, the first point.
    await expect(page.getByRole("heading", { name: "No students yet" })).toBeVisible();
    await expectAccessible(page, "a caseload without students");
    const steps = page.getByRole("region", { name: "First steps" });
    await expect(steps.getByRole("link")).toHaveText(["a student", "a colleague"]);
    let acts = 0;
    const act = async (work: Promise<unknown>) => {
      acts += 1;
      await work;
    };
    await act(page.getByRole("link", { name: "Add the first student" }).click());
    await act(page.getByLabel("Given name").fill("Kestrel"));
    await act(page.getByRole("button", { name: "Add the student" }).click());
    await act(page.getByRole("link", { name: "Set up the first goal" }).click());
    await awake(page);
    await act(
      page
        .getByLabel("Wording", { exact: true })
        .fill("Given 5 shapes, Kestrel will name each shape with 80% accuracy in 3 of 4 sessions."),
    );
    await expect(page.getByLabel("Kind")).not.toHaveValue("");
    await act(page.getByRole("button", { name: "Save the goal" }).click());
    await act(page.getByRole("link", { name: /^Record 1/ }).click());
    await recording(page);
    for (let marked = 0; marked < 5; marked += 1)
      await act(page.getByRole("button", { name: /^Correct/ }).click());
    await act(page.getByRole("button", { name: /^(Save|Finish)/ }).click());
    const review = page.getByRole("button", { name: /^Save 1 line/ });
    const point = margin(page).getByText(/5\sof\s5 correct/);
    await expect(review.or(point).first()).toBeVisible();
    if (await review.isVisible()) await act(review.click());
    await expect(point).toBeVisible();
    expect(acts).toBeLessThanOrEqual(34);
    // The trail has filled itself, and goes when it is skipped.
    await page.goto(`${web.url}/caseload`);
    await expect(steps.getByRole("listitem")).toHaveText([
      ...["✓a student, done", "✓a goal, done", "3a colleague", "✓a first sitting, done"],
    ]);
    await steps.getByRole("button", { name: "Skip these" }).click();
    await expect(steps).toHaveCount(0);
    await page.reload();
    await expect(steps).toHaveCount(0);

    await late.getByLabel("School").fill("Mine now");
    await late.getByRole("button", { name: "Set up the school" }).click();
    await expect(late).toHaveURL(/sign-in/);
    await late.context().close();
    await web.stop();
    await db.close();
  },
);

test("signing in leads back to where one was going, and nowhere else", async ({ page, site }) => {
  const report = `/students/${site.demo.student("Wren")}/report`;
  await page.goto(report);
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("wrong password");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.locator("form").getByRole("alert")).toContainText(
    "E-mail and password do not go together.",
  );
  await expect(page.getByLabel("E-mail")).toHaveValue("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page).toHaveURL(new RegExp(`${report}$`));
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.goBack();
  await expect(page).toHaveURL(/sign-in/);
  await page.goto("/sign-in?to=//evil.example/");
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page).toHaveURL(/\/caseload$/);
});
