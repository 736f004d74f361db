import { copiesOfGoal, fillGoal } from "../tests/demo-school.ts";
import { awake, expect, expectAccessible, expectNoOverflow, recording, signIn, test } from "./site.ts";

test("five hundred goals on one student's page are found, ordered and recorded like three", async ({
  page,
  site,
}) => {
  await copiesOfGoal(site.owner, site.demo.goal("Wren", "2b"), 500);
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(wren);
  const goals = page.getByRole("list", { name: "Other goals" });
  await expect(goals.getByRole("listitem")).toHaveCount(502);
  await awake(page);
  await page.keyboard.press("Control+k");
  await page.getByRole("dialog").getByRole("combobox").fill("Wren x437");
  await expect(page.getByRole("dialog").getByRole("option")).toHaveCount(2);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Goal x437" })).toBeVisible();
  await awake(page);
  await page.keyboard.press("r");
  await recording(page);
  for (const key of "1101111011") await page.keyboard.press(key);
  await page.getByRole("button", { name: /^Save/ }).click();
  await expect(
    page
      .getByRole("complementary")
      .getByText(/8\sof\s10/)
      .first(),
  ).toBeVisible();

  await page.goto(`${wren}/order`);
  await awake(page);
  await page.getByRole("button", { name: "Two-digit subtraction 499 one up" }).click();
  await page.getByRole("button", { name: "Save order and numbers" }).click();
  await expect(goals.getByRole("listitem").nth(499)).toContainText("Two-digit subtraction 499");
  await expectNoOverflow(page, "a page of 503 goals");
});

test("a grid of two hundred sub-skills is marked by keys; wording of 2,000 characters and names from right to left keep their place", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/students/new");
  await awake(page);
  await page.getByLabel("Given name").fill("שירה");
  await page.getByLabel("Family name").fill("בן־דוד");
  await page.getByRole("button", { name: "Add the student" }).click();
  await page.getByRole("link", { name: "Set up the first goal" }).click();
  await awake(page);
  const skills = Array.from({ length: 200 }, (_, index) => `skill ${index + 1} · 手順 ${index + 1}`);
  const start = "שירה will show the skills of daily living, 160 of 200 skills independently. ";
  const long = start + "Дома и в школе 在家和学校 في المدرسة. ".repeat(80).slice(0, 2000 - start.length);
  await page.getByLabel("Wording", { exact: true }).fill(long);
  await expect(page.getByLabel("Kind")).toHaveValue("skills");
  await page.getByLabel("The sub-skills").fill(skills.join("\n"));
  await page.getByLabel("Short name").fill("مهارات يومية");
  await page.getByLabel("Value", { exact: true }).first().fill("80");
  await page.getByLabel("In how many", { exact: true }).fill("1");
  await page.getByLabel("Of how many", { exact: true }).fill("1");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(page.getByText("Criterion 80% in one session")).toBeVisible();
  await expectAccessible(page, "a long wording in many scripts");

  await page.getByRole("link", { name: /^Record 1/ }).click();
  await recording(page);
  await page.getByRole("radio").first().focus();
  for (const key of "1".repeat(60)) await page.keyboard.press(key);
  await expect(page.getByText("140 of 200 still open.")).toBeVisible();
  await expect(
    page.getByRole("group", { name: "skill 61 · 手順 61" }).getByRole("radio").first(),
  ).toBeFocused();
  await page.keyboard.press("2");
  await page.getByRole("button", { name: "Finish" }).click();
  await expect(page.getByText("139 of 200 rows not marked")).toBeVisible();
  await page.getByRole("button", { name: "Save 1 line" }).click();
  await expect(page.getByRole("complementary").getByText(/not finished, 61\sof\s200 marked/)).toBeVisible();
  await expect(page.getByRole("row", { name: /^skill 61 / })).toContainText("last:");
  await page.setViewportSize({ width: 390, height: 844 });
  await expectAccessible(page, "a goal of 200 sub-skills on a phone");
});

test("a report of more than a thousand lines loads its earlier ones as one scrolls, and all of them for print", async ({
  page,
  site,
}) => {
  const personId = site.demo.person("noor").personId;
  await fillGoal(site.owner, { goalId: site.demo.goal("Yara", "1"), personId, count: 1100 });
  const studentId = site.demo.student("Yara");
  const { rows } = await site.owner.raw<{ rows: { n: string }[] }>(
    "select count(*) as n from entries where student_id = ? and state = 'kept'",
    [studentId],
  );
  const all = Number(rows[0]?.n);
  expect(all).toBeGreaterThanOrEqual(1100);
  await signIn(page, "noor");
  await page.goto(`/students/${studentId}/report?span=all`);
  await awake(page);
  const lines = page.getByRole("region", { name: "Entries and incidents by day" }).getByRole("listitem");
  const first = await lines.count();
  expect(first).toBeLessThan(all);
  const scroll = async () => {
    await page.keyboard.press("End");
    return lines.count();
  };
  await expect.poll(scroll).toBeGreaterThanOrEqual(620);
  await expect.poll(scroll).toBeGreaterThanOrEqual(all);
  const scrolled = await lines.allInnerTexts();
  await page.reload();
  await awake(page);
  await page.getByRole("link", { name: "Show everything, for printing" }).click();
  await expect.poll(() => lines.count()).toBe(scrolled.length);
  await expect(page.getByText(/earlier lines/i)).toHaveCount(0);
  expect(await lines.allInnerTexts()).toEqual(scrolled);
});
