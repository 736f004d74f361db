import { awake, expect, signIn, test } from "./site.ts";

test("a request of parents is written down, its days stand under Today, and it is closed; their statement is in the report", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(`${wren}/circle`);
  await page.getByRole("link", { name: "Requests and holds" }).click();
  await awake(page);
  await page.getByText("Write down a request").click();
  await page.getByLabel("In their words").fill("Everything about reading");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText("Say who asks.")).toBeVisible();
  await expect(page.getByLabel("In their words")).toHaveValue("Everything about reading");
  await page.getByLabel("Who asks").fill("Wren’s father, by letter");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText("in 45 days")).toBeVisible();
  await page.goto("/today");
  const open = page.getByRole("region", { name: "Open requests" });
  await expect(open.getByText("in 45 days")).toBeVisible();
  await open.getByRole("link", { name: "Wren Abara" }).click();
  await awake(page);

  await page.getByText("Add a statement", { exact: true }).click();
  await page.getByLabel("Whose statement").fill("The father");
  await page.getByLabel("Their statement").fill("He reads a page at home every evening.");
  await page.getByRole("button", { name: "Add to the record" }).click();
  await expect(page.getByRole("button", { name: "They withdraw it" })).toBeVisible();
  await page.goto(`${wren}/report`);
  const stated = page.getByRole("region", { name: "Statement of the parents" });
  await expect(stated.getByText("He reads a page at home every evening.")).toBeVisible();

  await page.goto(`${wren}/rights`);
  await awake(page);
  const requests = page.getByRole("region", { name: "Requests" });
  await requests.getByLabel("What became of it").selectOption({ label: "They inspected it" });
  await requests.getByRole("button", { name: "Close the request" }).click();
  await expect(requests.getByText("No request is open.")).toBeVisible();
});

test("an administrator plans to erase the record of a student who left, and cancels it", async ({
  page,
  site,
}) => {
  const rafi = site.demo.student("Rafi");
  await site.owner("students").where({ student_id: rafi }).update({ left_on: "2026-06-12" });
  await signIn(page, "desmond");
  await page.goto("/school/retention");
  await awake(page);
  await page.getByRole("link", { name: "Rafi Calder" }).click();
  await awake(page);
  const keeping = page.getByRole("region", { name: "Keeping and erasing" });
  await keeping.getByLabel("The whole record").check();
  await keeping.getByLabel("The parents were informed on").fill("2026-11-20");
  await keeping.getByLabel("Who was informed").fill("both parents");
  await keeping.getByLabel("Type R.C. to make sure").fill("W.A.");
  await keeping.getByRole("button", { name: "Plan the erasing" }).click();
  await expect(keeping.getByText("Type R.C. to make sure that it is this student")).toBeVisible();
  await expect(keeping.getByLabel("The whole record")).toBeChecked();
  await keeping.getByLabel("Type R.C. to make sure").fill("R.C.");
  await keeping.getByRole("button", { name: "Plan the erasing" }).click();
  await expect(keeping.getByText("this is erased: the whole record")).toBeVisible();
  await keeping.getByRole("button", { name: "Cancel the erasing" }).click();
  await expect(keeping.getByText("Cancelled", { exact: true })).toBeVisible();
  await expect(keeping.getByRole("button", { name: "Plan the erasing" })).toBeVisible();
});

test("the next school year is looked through, done and undone", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/school/calendar");
  await page.getByRole("link", { name: "Next year" }).click();
  await awake(page);
  const wren = page.getByRole("group", { name: "Wren Abara" });
  await wren.getByLabel("2b Two-digit subtraction").selectOption({ label: "goes on in a new goal" });
  const rafi = page.getByRole("group", { name: "Rafi Calder" });
  await expect(rafi.getByLabel("Last day at the school")).toBeHidden();
  await rafi.getByLabel("Leaves the school").check();
  await rafi.getByLabel("Last day at the school").fill("2026-11-20");
  await page.getByRole("button", { name: "Look it through" }).click();
  const plan = page.getByRole("region", { name: "What will be done" });
  await expect(plan).toBeFocused();
  await expect(plan.getByRole("listitem")).toHaveCount(3);
  await page.getByRole("button", { name: "Do all of this" }).click();
  await expect(page.getByText("1 school year, 1 student leaves, 1 goal")).toBeVisible();
  expect(await site.owner("goals").whereNotNull("continues").where({ start_on: "2027-09-07" })).toHaveLength(
    1,
  );
  await page.goto("/caseload");
  await expect(page.getByRole("link", { name: /Rafi Calder/ })).toHaveCount(0);
  await page.goto("/school/next-year");
  await awake(page);
  await page.getByRole("button", { name: "Undo all of it" }).click();
  await expect(page.getByText("Undone", { exact: true })).toBeVisible();
  expect(await site.owner("school_years").where({ name: "2027–28" })).toEqual([]);
  await page.goto("/caseload");
  await expect(page.getByRole("link", { name: /Rafi Calder/ }).first()).toBeVisible();
});
