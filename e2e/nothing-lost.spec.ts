import { expect, expectAccessible, margin, recording, signIn, test } from "./site.ts";

const recordPath = (site: {
  demo: { student: (name: string) => string; goal: (name: string, number: string) => string };
}) => `/students/${site.demo.student("Rafi")}/goals/${site.demo.goal("Rafi", "1")}/record`;

test.describe("without scripts", () => {
  test.use({ javaScriptEnabled: false });

  test("counts are typed and saved; the same sheet sent again is one entry, with other counts a visible conflict", async ({
    page,
    site,
  }) => {
    await signIn(page, "noor");
    await page.goto(recordPath(site));
    await expect(page.getByRole("button", { name: "Not yet" })).toBeHidden();
    await page.getByLabel("Correct").fill("6");
    await page.getByLabel("Out of").fill("8");
    await page.getByLabel("Note").fill("typed without scripts");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(margin(page).getByRole("listitem").first()).toContainText(
      "6 of 8 correct (75%). typed without scripts",
    );
    const lines = await margin(page).getByRole("listitem").count();

    // Back to the same sheet, unchanged: still one entry.
    await page.goBack();
    await page.getByRole("button", { name: "Save" }).click();
    await expect(margin(page).getByRole("listitem")).toHaveCount(lines);

    // Back again, with other counts: nothing is changed in silence, and both ways on are offered.
    await page.goBack();
    await page.getByLabel("Correct").fill("7");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(
      page.getByRole("alert").filter({ hasText: "This sheet was already saved, as 6 of 8 correct (75%)." }),
    ).toBeVisible();
    await expect(page.getByLabel("Correct")).toHaveValue("7");
    await expect(page.getByLabel("Note")).toHaveValue("typed without scripts");
    await page.getByRole("button", { name: "Save this as one more entry" }).click();
    await expect(margin(page).getByRole("listitem").first()).toContainText(/[67]\sof\s8 correct/);
    await expect(
      margin(page)
        .getByText(/6\sof\s8 correct/)
        .first(),
    ).toBeVisible();
    await expect(
      margin(page)
        .getByText(/7\sof\s8 correct/)
        .first(),
    ).toBeVisible();
  });

  test("wrong counts come back with a message beside the field", async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(recordPath(site));
    await page.getByLabel("Correct").fill("9");
    await page.getByLabel("Out of").fill("8");
    await page.getByRole("button", { name: "Save" }).click();
    await expect(page.getByText("9 correct is more than the 8 attempted.")).toBeVisible();
    await expect(page.getByLabel("Out of")).toHaveValue("8");
  });
});

test("marks survive a reload and a wrong turn, and can be started over", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(recordPath(site));
  await recording(page);
  for (const key of ["1", "1", "0"]) await page.keyboard.press(key);
  await page.reload();
  await recording(page);
  await expect(page.getByText("Continued from what you had marked")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Save 2.of.3/ })).toBeVisible();
  await page.keyboard.press("u");
  await expect(page.getByRole("button", { name: /^Save 2.of.2/ })).toBeVisible();
  await page.getByRole("link", { name: "Back to goal" }).click();
  await page.getByRole("region", { name: "Goal 1" }).waitFor();
  await page.goto(recordPath(site));
  await expect(page.getByRole("button", { name: /^Save 2.of.2/ })).toBeVisible();
  await page.getByRole("button", { name: "Start over" }).click();
  await expect(page.getByText("0", { exact: true }).first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Save" })).toBeDisabled();
});

test("in the form of a single entry the panel counts on top of what was typed, and a running clock is read on saving", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const goal = (name: string, number: string) =>
    `/students/${site.demo.student(name)}/goals/${site.demo.goal(name, number)}/record`;
  await page.goto(goal("Caspian", "2"));
  await recording(page);
  const count = page.getByLabel("How many call-outs");
  await page.getByRole("button", { name: /\+ 1 of call-outs/ }).click();
  await page.keyboard.press("1");
  await expect(count).toHaveValue("2");
  await count.fill("5");
  await page.getByRole("button", { name: /\+ 1 of call-outs/ }).click();
  await expect(count).toHaveValue("6");
  await page.keyboard.press("u");
  await expect(count).toHaveValue("5");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(margin(page).getByRole("listitem").first()).toContainText("5 call-outs");

  // The first mark says nothing yet; it counts with the second.
  await page.goto(goal("Wren", "4"));
  await recording(page);
  await page.getByRole("button", { name: /Signal given/ }).click();
  await page
    .getByRole("button", { name: /Response/ })
    .first()
    .click();
  await expect(page.getByRole("textbox", { name: "Delays" })).toHaveValue(/\d/);

  await page.goto(goal("Isaura", "2"));
  await recording(page);
  await page.getByLabel("Bouts").fill("4:00");
  await page.clock.install();
  await page.getByRole("button", { name: /A bout begins/ }).click();
  await page.clock.fastForward("02:00");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(margin(page).getByRole("listitem").first()).toContainText("(2 bouts)");
});

test("the back button after saving does not bring the sheet back to be saved twice", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Rafi")}`);
  await page.goto(recordPath(site));
  await recording(page);
  await page.keyboard.press("1");
  await page.getByRole("button", { name: /^Save 1.of.1/ }).click();
  await expect(page).toHaveURL(/saved=/);
  await page.goBack();
  await recording(page);
  await expect(page.getByRole("button", { name: "Save" })).toBeDisabled();
});

test("a save that finds no server keeps the marks and says what to do", async ({ page, site, context }) => {
  await signIn(page, "noor");
  await page.goto(recordPath(site));
  await recording(page);
  for (const key of ["1", "0", "1", "1"]) await page.keyboard.press(key);
  await page.keyboard.press("n");
  await page.getByLabel("Note").fill("kept through the outage");
  await context.setOffline(true);
  await page.getByRole("button", { name: /^Save 3.of.4/ }).click();
  await expect(page.getByRole("alert")).toContainText("Not saved yet: there is no connection.");
  await expect(page.getByLabel("Note")).toHaveValue("kept through the outage");
  await context.setOffline(false);
  await page.getByRole("button", { name: /^Save 3.of.4/ }).click();
  await expect(margin(page).getByRole("listitem").first()).toContainText(
    "3 of 4 correct (75%). kept through the outage",
  );
});

test("a save that finds no database keeps the marks too, with a reference", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(recordPath(site));
  await recording(page);
  await page.keyboard.press("1");
  // The application's own connections are refused, as while a database restarts.
  await site.setReachable(false);
  await page.getByRole("button", { name: /^Save 1.of.1/ }).click();
  await expect(page.getByRole("alert")).toContainText(
    /Not saved yet: the records cannot be reached\. .*\(Reference [0-9a-f]{8}\)/,
  );
  const elsewhere = await page.context().newPage();
  expect((await elsewhere.goto("/caseload"))?.status()).toBeGreaterThanOrEqual(500);
  await expect(elsewhere.getByText(/Reference [0-9a-f]{8}/)).toBeVisible();
  await expect(elsewhere.getByText(/permission|postgres|at \w+ \(/i)).toHaveCount(0);
  await expectAccessible(elsewhere, "a failure");
  await site.setReachable(true);
  await expect.poll(async () => (await fetch(`${site.web.url}/ready`)).status).toBe(200);
  await page.getByRole("button", { name: /^Save 1.of.1/ }).click();
  await expect(margin(page).getByRole("listitem").first()).toContainText("1 of 1 correct");
});

test("a session that ended meanwhile leads through the sign-in back to the same marks", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(recordPath(site));
  await recording(page);
  const sheet = page.url();
  for (const key of ["1", "1", "0"]) await page.keyboard.press(key);
  await site.owner.raw("update gate.sessions set expires_at = now()");
  await page.getByRole("button", { name: /^Save 2.of.3/ }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByText("Continued from what you had marked")).toBeVisible();
  expect(page.url()).toBe(sheet);
  await page.getByRole("button", { name: /^Save 2.of.3/ }).click();
  await expect(margin(page).getByRole("listitem").first()).toContainText("2 of 3 correct (67%).");
});
