import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("a colleague is found by typing, sees the student at once, and is shown out of an open page when their part ends", async ({
  page,
  site,
  browser,
}) => {
  const wren = `/students/${site.demo.student("Wren")}`;
  await signIn(page, "noor");
  await page.goto(wren);
  await page.getByRole("link", { name: "Circle", exact: true }).click();
  await awake(page);
  await expect(page.getByRole("heading", { name: "The circle of Wren Abara" })).toBeVisible();
  const find = page.getByLabel("Find staff by name or position");
  await find.fill("adapted");
  await find.press("Enter");
  await expect(page.getByRole("checkbox", { name: /Gus Lindqvist/ })).toBeChecked();
  await find.fill("psych");
  await find.press("Enter");
  await page.getByRole("radio", { name: /^Reads/ }).check();
  await expectAccessible(page, "a circle");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  const row = (name: string) =>
    page.getByRole("listitem").filter({ has: page.locator("b", { hasText: name }) });
  await expect(row("Gus Lindqvist")).toContainText("reads");
  await expect(row("Hana Whitlock")).toContainText("reads");

  const other = await browser.newContext({ baseURL: site.web.url });
  const theirs = await other.newPage();
  await signIn(theirs, "gus");
  await theirs.goto(`${wren}/report`);
  await awake(theirs);
  await expect(theirs.getByRole("heading", { name: "Wren Abara" })).toBeVisible();
  await expect(theirs.locator("html")).toHaveAttribute("data-live", "idle");
  await expect(theirs.getByRole("navigation", { name: "Students" }).getByText("W.A.")).toBeVisible();

  await row("Gus Lindqvist").getByText("Change or end").click();
  await row("Gus Lindqvist").getByRole("button", { name: "End now" }).click();
  await expect(page.getByText("Was in the circle (1)")).toBeVisible();
  // Nobody touches the other page: the stream tells it, and what it shows is gone.
  await expect(theirs.getByRole("heading", { name: "Wren Abara" })).toBeHidden({ timeout: 4000 });
  await expect(theirs.getByText(/subtraction/i)).toHaveCount(0);
  await theirs.goto("/caseload");
  await expect(theirs.getByRole("navigation", { name: "Students" }).getByText("W.A.")).toHaveCount(0);
  await other.close();

  await page.getByText("History", { exact: true }).click();
  await expect(page.getByText("Gus Lindqvist was taken out, by N. Halloran.")).toBeVisible();
  // The only lead cannot be taken out.
  await row("Noor Halloran").getByText("Change or end").click();
  await row("Noor Halloran").getByRole("button", { name: "End now" }).click();
  await expect(page.getByText(/A student needs a lead without an end/)).toBeVisible();
});

test("a group of students is given to a colleague at once", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/school/circles");
  await awake(page);
  await page.getByRole("checkbox", { name: "all of Kitchen crew" }).check();
  await page.getByLabel("Find staff by name or position").fill("hana");
  await page.getByRole("checkbox", { name: /Hana Whitlock/ }).check();
  await page.getByRole("button", { name: "Add to these circles" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  const { rows } = await site.owner.raw<{ rows: { n: number }[] }>(
    "select count(*)::int as n from circle where person_id = ? and part = 'record' and to_on is null and from_on >= current_date - 400",
    [site.demo.person("hana").personId],
  );
  expect(rows[0]?.n).toBeGreaterThanOrEqual(3);
});
