import { awake, expect, margin, readOnly, recording, signIn, test } from "./site.ts";

test("a goal observation becomes a percentage, a trend and a line in a shared report", async ({
  page,
  browser,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await page.getByRole("navigation", { name: "Students" }).getByRole("link", { name: "Wren Abara" }).click();
  await expect(page.getByText("given ten two-digit subtraction problems with regrouping")).toBeVisible();
  await expect(page.getByText(/Criterion 80% in 3 of 4 sessions · due \w+ \d+, 20\d\d/)).toBeVisible();

  // A speech-language pathologist in the circle has the report open on another browser.
  const elsewhere = await browser.newContext({ baseURL: site.web.url });
  const ines = await elsewhere.newPage();
  await signIn(ines, "ines");
  await ines.goto(`/students/${site.demo.student("Wren")}/report`);
  await expect(ines.getByRole("heading", { name: "Wren Abara" })).toBeVisible();
  await awake(ines);

  // From the student's page to saved: at most twelve taps.
  let taps = 0;
  const tap = async (name: RegExp | string, role: "button" | "link" = "button") => {
    await page.getByRole(role, { name, exact: typeof name === "string" }).click();
    taps += 1;
  };
  await tap(/^Record 2b/, "link");
  await recording(page);
  for (const correct of [true, true, false, true, true, false, true, false, true, true])
    await tap(correct ? /^Correct/ : /^Not yet/);
  await expect(page.getByText("all 10 marked")).toBeVisible();
  await tap(/^Save 7.of.10/);
  expect(taps).toBe(12);

  await expect(page).toHaveURL(/saved=/);
  const newest = margin(page).getByRole("listitem").first();
  await expect(newest).toContainText("Two-digit subtraction: 7 of 10 correct (70%).");
  await expect(newest.getByRole("link")).toHaveClass(/arrived/);
  // Said once, here and elsewhere, as one sentence: the list itself is no live region.
  await expect(page.locator("#said")).toHaveText(
    /^(?:[^;]*; )?Saved: Two-digit subtraction: 7\sof\s10 correct \(70%\)\.$/,
  );
  await expect(ines.locator("#said")).toHaveText(/^New: Two-digit subtraction: 7\sof\s10 correct \(70%\)\.$/);
  for (const view of [margin(page), ines.getByRole("main")])
    await expect(view.locator("[aria-live]")).toHaveCount(0);
  const goal = page.getByRole("region", { name: "Goal 2b" });
  await expect(goal).toContainText("70%");
  await expect(goal).toContainText(/7\sof\s10, \w+day, \w+ \d+, \d{4} \(95% interval 40–89\)\./);
  await expect(goal).toContainText(
    /(Gaining about|No clear trend) .*[Tt]he goal needs [\d.½]+.*the pace is/i,
  );
  await expect(goal).toContainText("Ahead of the line");
  await expect(
    goal.getByRole("slider", { name: /points from .* The criterion is 80%\. The aim line runs from/ }),
  ).toBeVisible();

  // She sees it without reloading, and after the correction sees it once, corrected.
  const entries = ines.getByRole("region", { name: "Entries and incidents by day" });
  const line = entries.getByRole("listitem").first();
  await expect(line).toContainText("Two-digit subtraction: 7 of 10 correct (70%).");
  const told = ines.getByRole("article", { name: "2b Two-digit subtraction" });
  await expect(told).toContainText(/Latest\s*70%\s*7\sof\s10/);
  await newest.getByRole("link").click();
  await page.getByLabel("Correct", { exact: true }).fill("8");
  await page.getByLabel("Reason for the change").fill("Miscounted the last one.");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(newest).toContainText("8 of 10 correct (80%). (corrected)");
  await expect(line).toContainText("Two-digit subtraction: 8 of 10 correct (80%).");
  await expect(told).toContainText(/Latest\s*80%\s*8\sof\s10/);

  await line.getByRole("link", { name: "corrected, see history" }).click();
  const history = ines.getByRole("region", { name: "Entry" }).getByRole("listitem");
  await expect(history).toHaveText([
    /Recorded: 7\sof\s10 correct \(70%\)/,
    /Corrected: 8\sof\s10 correct \(80%\).*Reason: Miscounted the last one\./,
  ]);
  await ines.goBack();
  await expect(line).toContainText("8 of 10 correct");

  // Removed and taken back.
  const corrected = entries.getByRole("link", { name: "corrected, see history" });
  await expect(corrected).toHaveCount(1);
  await newest.getByRole("link").click();
  await page.getByRole("button", { name: "Remove this entry" }).click();
  await expect(page.getByRole("status").filter({ hasText: "Removed: 80% (8 of 10)" })).toBeVisible();
  await expect(newest).not.toContainText("8 of 10 correct (80%). (corrected)");
  await expect(corrected).toHaveCount(0);
  await page.getByRole("button", { name: "Take that back" }).click();
  await expect(newest).toContainText("8 of 10 correct (80%). (corrected)");
  await expect(corrected).toHaveCount(1);
  await elsewhere.close();
});

test("a colleague outside the circle gets not found from the page and the data, and hears nothing on the live stream", async ({
  page,
  site,
  request,
}) => {
  await signIn(page, "gus");
  await page.goto("/caseload");
  const wren = `/students/${site.demo.student("Wren")}`;
  await expect(page.getByRole("link", { name: "Wren Abara" })).toHaveCount(0);
  for (const path of [wren, `${wren}/report`, `${wren}/goals/${site.demo.goal("Wren", "2b")}/record`]) {
    const answer = await page.goto(path);
    expect(answer?.status()).toBe(404);
    await expect(page.getByRole("heading", { name: "Not found" })).toBeVisible();
    await expect(page.getByText(/Wren|Abara/)).toHaveCount(0);
  }
  const cookies = (await page.context().cookies()).map(({ name, value }) => `${name}=${value}`).join("; ");
  expect((await request.get(`${wren}.data`, { headers: { Cookie: cookies } })).status()).toBe(404);
  expect(
    (
      await request.get(`/live?student=${site.demo.student("Wren")}`, { headers: { Cookie: cookies } })
    ).status(),
  ).toBe(404);
});

readOnly("a reader sees the record and is not offered to change it", async ({ page, site }) => {
  await signIn(page, "hana");
  await page.goto(`/students/${site.demo.student("Caspian")}`);
  await expect(page.getByRole("region", { name: "Goal 1" })).toBeVisible();
  await expect(page.getByRole("link", { name: /^Record \d/ })).toHaveCount(0);
  await margin(page).getByRole("listitem").first().getByRole("link").click();
  await expect(page.getByRole("heading", { name: "History" })).toBeVisible();
  await expect(page.getByRole("heading", { name: "Correct it" })).toHaveCount(0);
  await page.goto(`/students/${site.demo.student("Caspian")}/goals/${site.demo.goal("Caspian", "1")}/record`);
  await expect(page.getByRole("heading", { name: "You don’t have permission to do this" })).toBeVisible();
});
