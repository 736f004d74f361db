import { fillGoal } from "../tests/demo-school.ts";
import { awake, expect, expectAccessible, recording, signIn, test } from "./site.ts";

const wording =
  "By March 14, 2027, given a third-grade passage, Wren will read aloud at 90 words per minute with 95% accuracy across three consecutive sessions.";

test("a goal is set up from its wording alone, confirmed, and recorded", async ({ page, site }) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(wren);
  await page.getByRole("link", { name: "New goal" }).click();
  await awake(page);
  await page.getByLabel("Wording", { exact: true }).fill(wording);
  await expect(page.getByLabel("Kind")).toHaveValue("fluency");
  await expect(page.locator("q", { hasText: "90 words per minute" }).first()).toBeVisible();
  await expect(page.getByLabel("Value").first()).toHaveValue("90");
  await expect(page.getByLabel("In how many", { exact: true })).toHaveValue("3");
  await expect(page.getByLabel("Due", { exact: true })).toHaveValue("2027-03-14");
  await expect(page.getByLabel("Number", { exact: true })).toHaveValue("5");
  // What a person has put right stays, whatever the wording says next.
  await page.getByLabel("Short name").fill("Reads a passage");
  await page.getByLabel("Wording", { exact: true }).fill(wording.replace("90 words", "85 words"));
  await expect(page.getByLabel("Value").first()).toHaveValue("85");
  await expect(page.getByLabel("Short name")).toHaveValue("Reads a passage");
  await page.getByRole("combobox", { name: "Baseline" }).selectOption("entered");
  await page.getByLabel("Value", { exact: true }).last().fill("50");
  await page.getByLabel("Observed on").fill("2026-11-20");

  const preview = page.getByRole("complementary", { name: "Preview" });
  await expect(
    preview.getByRole("img", { name: /aim line runs from 50 a minute to 85 a minute/ }),
  ).toBeVisible();
  await preview.getByLabel("Words attempted").fill("80");
  await preview.getByLabel("Errors").fill("2");
  await expect(preview.getByText(/Reads a passage: 78 words correct a minute/)).toBeVisible();

  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(
    page.getByText(/at least 85\sa\sminute and 95% accuracy in three sessions in a row/).first(),
  ).toBeVisible();
  // The form for typed counts; by touch the same link begins a sitting.
  const form = await page.getByRole("link", { name: /^Record 5/ }).getAttribute("href");
  await page.goto(form ?? "");
  await recording(page);
  await page.getByLabel("Words attempted").fill("90");
  await page.getByLabel("Errors").fill("95");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("95 errors are more than the 90 attempted.")).toBeVisible();
  await expect(page.getByLabel("Words attempted")).toHaveValue("90");
  await page.getByLabel("Errors").fill("3");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(
    page.getByText(/Reads a passage: 87 words correct a minute, 97% accurate/).first(),
  ).toBeVisible();
});

test("what is typed of a goal is there again after a reload, until it is saved or begun anew", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const path = `/students/${site.demo.student("Wren")}/goals/new`;
  const again = page.getByText("What you typed here before is not saved yet.");
  await page.goto(path);
  await awake(page);
  await expect(again).toHaveCount(0);
  await page.getByLabel("Short name").fill("Reads a passage");
  await page.getByLabel("Wording", { exact: true }).fill(wording);
  await expect(page.getByLabel("Kind")).toHaveValue("fluency");
  await page.reload();
  await expect(again).toBeVisible();
  await expect(page.getByLabel("Short name")).toHaveValue("Reads a passage");
  await expect(page.getByLabel("Wording", { exact: true })).toHaveValue(wording);
  await expect(page.getByLabel("Kind")).toHaveValue("fluency");
  await page.getByRole("button", { name: "Start over" }).click();
  await expect(page.getByLabel("Short name")).toHaveValue("");

  await page.getByLabel("Short name").fill("Reads a passage");
  await page.getByLabel("Wording", { exact: true }).fill(wording);
  await expect(page.getByLabel("Kind")).toHaveValue("fluency");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(page).not.toHaveURL(/goals\/new/);
  await page.goto(path);
  await awake(page);
  await expect(page.getByLabel("Short name")).toHaveValue("");
  await expect(again).toHaveCount(0);
});

test("what is typed of one student's goal never stands in another student's form", async ({ page, site }) => {
  await signIn(page, "noor");
  const path = (given: string) => `/students/${site.demo.student(given)}/goals/new`;
  await page.goto(path("Wren"));
  await awake(page);
  await page.getByLabel("Short name").fill("Reads a passage");
  await page.keyboard.press("Control+k");
  const palette = page.getByRole("dialog");
  await palette.getByRole("combobox").fill("caspian new goal");
  await expect(palette.getByRole("option").first()).toContainText("Caspian");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(path("Caspian"));
  await expect(page.getByLabel("Short name")).toHaveValue("");
  await page.goBack();
  await expect(page.getByLabel("Short name")).toHaveValue("Reads a passage");
});

test("what the wording does not say is asked for, and a mistake loses nothing that was typed", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/new`);
  await awake(page);
  await page.getByLabel("Wording", { exact: true }).fill("Wren will answer why questions with 80% accuracy.");
  await expect(page.getByLabel("Kind")).toHaveValue("trials");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(page.getByText("In how many of how many? If once is enough, 1 of 1.")).toBeVisible();
  await expect(page.getByLabel("In how many", { exact: true })).toBeFocused();
  await expect(page.getByLabel("Wording", { exact: true })).toHaveValue(/why questions/);
  await page.getByLabel("In how many", { exact: true }).fill("3");
  await page.getByLabel("Of how many", { exact: true }).fill("4");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(page.getByText(/Criterion 80% in 3 of 4 sessions/)).toBeVisible();
});

test("a grid is marked by keys, kept when it is broken off, and completed later", async ({ page, site }) => {
  await signIn(page, "noor");
  const goal = `/students/${site.demo.student("Elowen")}/goals/${site.demo.goal("Elowen", "2")}`;
  await page.goto(`${goal}/record`);
  await recording(page);
  await page.getByRole("group", { name: "waits in line" }).getByRole("radio").first().focus();
  for (const key of "112") await page.keyboard.press(key);
  await expect(page.getByText("3 of 6 still open.")).toBeVisible();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/Not marked yet: answers a question, takes the tray/)).toBeVisible();
  await expectAccessible(page, "a grid with rows still open");
  await page.getByRole("button", { name: "Keep as not finished" }).click();
  await expect(page.getByRole("complementary").getByText(/not finished, 3\sof\s6 marked/)).toBeVisible();

  await page.getByRole("complementary").getByRole("link").first().click();
  await page
    .getByRole("group", { name: "answers a question" })
    .getByRole("radio", { name: "maximal" })
    .check();
  await page
    .getByRole("group", { name: "takes the tray" })
    .getByRole("radio", { name: "independent" })
    .check();
  await page.getByRole("group", { name: "says thank you" }).getByRole("radio", { name: "refused" }).check();
  await expectAccessible(page, "correcting a grid");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(
    page
      .getByRole("complementary")
      .getByText(/3\sof\s6 skills independent/)
      .first(),
  ).toBeVisible();
  await expect(page.getByRole("row", { name: /says thank you/ })).toContainText("last: refused");
});

test("a goal goes through its course: a phase, a higher criterion, confirmed as met", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const goal = `/students/${site.demo.student("Rafi")}/goals/${site.demo.goal("Rafi", "1")}`;
  await page.goto(`${goal}/set-up`);
  await awake(page);
  const phases = page.getByRole("region", { name: "Phases" });
  await phases.getByRole("button", { name: "Begin a phase" }).click();
  await expect(phases.getByText("Give the phase a name.")).toBeVisible();
  await phases.getByLabel("Name").last().fill("story map");
  await phases.getByLabel("Why").last().fill("flat for three weeks");
  await phases.getByRole("button", { name: "Begin a phase" }).click();
  await expect(phases.getByText(/story map/).first()).toBeVisible();

  await page.getByLabel("Value", { exact: true }).fill("90");
  await page.getByLabel("Why it changes").fill("team meeting");
  await page.getByRole("button", { name: "Save the changes" }).click();
  await expect(page.getByText(/Criterion 90%/)).toBeVisible();
  await page.getByRole("link", { name: "Set-up" }).click();
  const course = page.getByRole("region", { name: "Goal history" });
  await expect(course.getByText(/Criterion since .*: 90% .*; before: 75%/)).toBeVisible();
  await expect(course.getByText("team meeting")).toBeVisible();
  await expect(course.getByText("The criterion has not been reached yet.")).toBeVisible();

  await page.getByLabel("Value", { exact: true }).fill("30");
  await page.getByLabel("Why it changes").fill("a first step");
  await page.getByRole("button", { name: "Save the changes" }).click();
  await expect(
    page.getByRole("region", { name: /^Goal \d/ }).getByText("Criterion reached", { exact: true }),
  ).toBeVisible();
  await expectAccessible(page, "a criterion to be confirmed");
  await page.getByLabel("Reason (optional)").fill("the team agrees");
  await page.getByRole("button", { name: "Confirm as met" }).click();
  await expect(page.getByText(/^Confirmed on/)).toBeVisible();
  await page.getByRole("link", { name: "Set-up" }).click();
  await expect(course.getByText(/Confirmed as met on/)).toBeVisible();
  await course.getByRole("button", { name: "Not met after all" }).click();
  await expect(page.getByRole("button", { name: "Confirm as met" })).toBeVisible();
});

test("a goal measured in another way begins its figures anew, and its entries keep what they meant", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const goal = `/students/${site.demo.student("Rafi")}/goals/${site.demo.goal("Rafi", "1")}`;
  await page.goto(`${goal}/set-up`);
  await awake(page);
  const preview = page.getByRole("complementary", { name: "Preview" });
  await expect(preview.getByRole("img", { name: /points? from/ })).toBeVisible();
  await page.getByLabel("Kind").selectOption("count");
  await expect(page.getByText(/entries keep what they meant and stay in the report/)).toBeVisible();
  await page.getByLabel("Value", { exact: true }).first().fill("5");
  await page.getByRole("button", { name: "Save the changes" }).click();
  await expect(page.getByText("No points yet.")).toBeVisible();
  await page.getByText("The numbers as a table").click();
  await expect(page.getByText("measured in an earlier way").first()).toBeVisible();
  await expect(page.getByRole("row").nth(1)).toContainText("%");
  await page.getByRole("link", { name: "Set-up" }).click();
  await expect(page.getByText("A goal with entries is never deleted.")).toBeVisible();
  await expect(page.getByText("Set up by mistake?")).toHaveCount(0);
});

test("the chart of a long series is worked out away from the page while its goal is changed", async ({
  page,
  site,
}) => {
  const goalId = site.demo.goal("Wren", "2b");
  await fillGoal(site.owner, { goalId, personId: site.demo.person("noor").personId, count: 400 });
  let workers = 0;
  page.on("worker", () => (workers += 1));
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${goalId}/set-up`);
  await awake(page);
  const preview = page.getByRole("complementary", { name: "Preview" });
  await expect(
    preview.getByRole("img", { name: /(39\d|400) points from .* The criterion is \d+%/ }),
  ).toBeVisible();
  await page.getByLabel("Value", { exact: true }).first().fill("67");
  await expect(
    preview.getByRole("img", { name: /(39\d|400) points from .* The criterion is 67%/ }),
  ).toBeVisible();
  expect(workers).toBeGreaterThanOrEqual(2);
});

test("an entry says what it was for, and one that does not count is shown all the same; raters are kept apart", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const goal = `/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`;
  await page.goto(goal);
  await awake(page);
  const latest = await page
    .getByText(/^\d+\sof\s10, \w+day/)
    .first()
    .innerText();
  await page.goto(`${goal}/record`);
  await recording(page);
  for (const key of "1111111111") await page.keyboard.press(key);
  await page.keyboard.press("n");
  await expect(page.getByLabel("Purpose")).toHaveValue("probe");
  await page.getByLabel("Purpose").selectOption({ label: "teaching (not counted)" });
  await page.getByRole("button", { name: "Save 10" }).click();
  await expect(
    page
      .getByRole("complementary")
      .getByText(/10\sof\s10/)
      .first(),
  ).toBeVisible();
  await expect(page.getByText(latest).first()).toBeVisible();
  await page.getByText("The numbers as a table").click();
  await expect(page.getByRole("row").nth(1)).toContainText("teaching: shown, not counted");
  // Put right on its own page, it counts.
  await page.getByRole("row").nth(1).getByRole("link").click();
  await page.getByLabel("Purpose").selectOption("probe");
  await page.getByLabel("Setting").selectOption("classroom");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText(/^10\sof\s10, /)).toBeVisible();

  await page.goto(`/students/${site.demo.student("Tobias")}/goals/${site.demo.goal("Tobias", "5")}`);
  const raters = page.getByRole("region", { name: "Raters" });
  // The student’s own rating and two adults.
  await expect(raters.getByRole("columnheader")).toHaveCount(3);
  await expect(raters).toContainText(/N. Halloran\d+ days?, mean/);
});
