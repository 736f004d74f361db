import { awake, choose, expect, expectAccessible, recording, signIn, test } from "./site.ts";
import { testNow } from "../tests/clock.ts";

test("the school keeps its own lists and ladders, and goals are offered them", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await page.getByRole("link", { name: "The school", exact: true }).click();
  await page.getByRole("link", { name: "Lists" }).click();
  await page.getByLabel("Settings").fill("island ferry\nresource room");
  await page.getByRole("button", { name: "Save the list" }).last().click();
  await expect(page.getByLabel("Settings")).toHaveValue("island ferry\nresource room");
  const fresh = page.getByRole("form", { name: "New ladder" });
  await fresh.getByLabel("New ladder").fill("Touch and words");
  await fresh.getByLabel("Levels, least to most help").fill("alone\nalone");
  await fresh.getByRole("button", { name: "Add the ladder" }).click();
  await expect(page.getByText("Two of the prompt levels have the same name.")).toBeVisible();
  await page.getByLabel("Levels, least to most help").last().fill("alone\nword\ntouch");
  await page.getByRole("button", { name: "Add the ladder" }).click();
  await expect(page.getByRole("form", { name: "Touch and words" })).toBeVisible();

  const wren = `/students/${site.demo.student("Wren")}/goals`;
  await page.goto(`${wren}/${site.demo.goal("Wren", "2b")}/record`);
  await recording(page);
  await page.keyboard.press("n");
  await page.getByLabel("Setting", { exact: true }).selectOption("island ferry");
  await page.goto(`${wren}/${site.demo.goal("Wren", "3")}/set-up`);
  await awake(page);
  await page.getByLabel("Prompt ladder").selectOption({ label: "Touch and words" });
  await expect(page.getByLabel("Levels, least to most help")).toHaveValue("alone\nword\ntouch");
});

test("dates and times are written as the school chooses, where one records too", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await expect(page.locator("html")).toHaveAttribute("lang", "en-US");
  await page.goto("/school/lists");
  await page
    .getByRole("combobox", { name: "Dates and times" })
    .selectOption({ label: "United Kingdom: 26 Nov 2026, 13:20" });
  await page.getByRole("region", { name: "Dates and times" }).getByRole("button", { name: "Save" }).click();
  await expect(page.locator("html")).toHaveAttribute("lang", "en-GB");
  await expect(page.getByRole("combobox", { name: "Dates and times" })).toHaveValue("en-GB");
  await page.getByRole("link", { name: "Today", exact: true }).click();
  await expect(page.getByText("Tuesday 24 November")).toBeVisible();
  await page.reload();
  await expect(page.getByText("Tuesday 24 November")).toBeVisible();
  // The page of recording is the same for every school.
  await page.goto("/record");
  await choose(page, "W.A.", /Two-digit subtraction/);
  await page
    .getByRole("button", { name: /^Start/ })
    .first()
    .click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  await expect(page.getByText(/^\d\d:\d\d$/).first()).toBeVisible();
  await expect(page.getByText(/\d:\d\d\s[AP]M/)).toHaveCount(0);

  // One who signs in with the form is in a page of the school at once.
  await page.context().clearCookies();
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill("desmond.achterberg@larkspurbay.example");
  await page.getByLabel("Password").fill("gentle margin demo");
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.getByRole("link", { name: "Today", exact: true }).click();
  await expect(page.getByText("Tuesday 24 November")).toBeVisible();
});

test("the calendar decides what is due; a mistake loses nothing that was typed", async ({ page, site }) => {
  const goal = { goal_id: site.demo.goal("Wren", "2b") };
  const everyDay = JSON.stringify({ weekdays: [1, 2, 3, 4, 5, 6, 7] });
  await site
    .owner("goals")
    .where({ student_id: site.demo.student("Wren") })
    .update({ schedule: null });
  await site.owner("goals").where(goal).update({ schedule: everyDay });
  await site
    .owner("entries")
    .where(goal)
    .andWhereRaw("observed_on > clock_now()::date - 9")
    .update({ state: "removed" });
  const today = new Intl.DateTimeFormat("en-CA", { timeZone: "America/Los_Angeles" }).format(testNow());
  await signIn(page, "noor");
  await page.goto("/caseload");
  const wren = page.getByRole("navigation", { name: "Students" }).getByRole("link", { name: /Wren Abara/ });
  await page.getByRole("link", { name: "The school", exact: true }).click();
  await expect(page.getByRole("img", { name: /The days of the year in session/ })).toBeVisible();
  for (const weekday of ["Saturday", "Sunday"]) await page.getByLabel(weekday, { exact: true }).check();
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(wren).toHaveAccessibleName("W.A., Wren Abara, data due today");

  await page
    .getByLabel(/^From of closure/)
    .last()
    .fill(today);
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(page.getByText("Give it a name.")).toBeVisible();
  await expect(page.getByLabel(/^From of closure/).last()).toHaveValue(today);
  await expectAccessible(page, "calendar with a problem");
  await page
    .getByLabel(/^Name of closure/)
    .last()
    .fill("Storm");
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(wren).toHaveAccessibleName("W.A., Wren Abara");

  // One closure more, taken out again by its cross; and a span outside the year.
  const names = () =>
    page
      .getByLabel(/^Name of closure/)
      .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value));
  const storm = (await names()).indexOf("Storm");
  await page.getByRole("button", { name: `Remove closure ${storm + 1}`, exact: true }).click();
  await page
    .getByLabel(/^Name of closure/)
    .last()
    .fill("Too early");
  await page
    .getByLabel(/^From of closure/)
    .last()
    .fill("2001-01-01");
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(page.getByText("This lies outside the school year.")).toBeVisible();
  expect(await names()).not.toContain("Storm");
  await page
    .getByLabel(/^Name of closure/)
    .last()
    .fill("");
  await page
    .getByLabel(/^From of closure/)
    .last()
    .fill("");
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(wren).toHaveAccessibleName("W.A., Wren Abara, data due today");
});

test("periods and groups are kept in rows, and whoever may not change them reads them", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/school/week");
  await page
    .getByLabel(/^Period of/)
    .last()
    .fill("Tide pool walk");
  await page
    .getByLabel(/^From of/)
    .last()
    .fill("15:10");
  await page
    .getByLabel(/^To of/)
    .last()
    .fill("15:00");
  await page.getByRole("button", { name: "Save the timetable" }).click();
  await expect(page.getByText(/ends before it begins/i)).toBeVisible();
  await expect(page.getByLabel(/^Period of/).last()).toHaveValue("Tide pool walk");
  await page
    .getByLabel(/^To of/)
    .last()
    .fill("15:40");
  await page.getByRole("button", { name: "Save the timetable" }).click();
  await expect(page.locator("svg title", { hasText: "Tide pool walk" }).first()).toBeAttached();

  await page.getByRole("link", { name: "Groups" }).click();
  await page.getByRole("link", { name: "New group" }).click();
  await page.getByLabel("Wren Abara", { exact: true }).check();
  await page.getByRole("button", { name: "Save the group" }).click();
  await expect(page.getByText("What is the group called?")).toBeVisible();
  await expect(page.getByLabel("Wren Abara", { exact: true })).toBeChecked();
  await page.getByLabel("Group", { exact: true }).fill("Tide pool club");
  await page.getByLabel("Tuesday").first().check();
  await page
    .getByLabel(/^From of/)
    .first()
    .fill("15:10");
  await page
    .getByLabel(/^To of/)
    .first()
    .fill("15:40");
  await page.getByRole("button", { name: "Save the group" }).click();
  const club = page.getByRole("listitem").filter({ hasText: "Tide pool club" });
  await expect(club).toContainText(/Tue 3:10–3:40\sPM/);
  await expect(club).toContainText("W.A.");

  await page.goto("/caseload");
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page.getByLabel("E-mail")).toBeVisible();
  await signIn(page, "gus");
  await page.goto("/school/groups");
  await expect(club).toContainText("1 student in whose circle you are not");
  await expect(page.getByRole("link", { name: "New group" })).toHaveCount(0);
  await page.getByRole("link", { name: "Timetable" }).click();
  await expect(page.locator("svg title", { hasText: "Tide pool walk" }).first()).toBeAttached();
  await expect(page.getByRole("button", { name: "Save the timetable" })).toHaveCount(0);
});

test("an administrator keeps the staff, and the school never loses its last one", async ({ page }) => {
  await signIn(page, "desmond");
  await page.goto("/school/staff");
  await page.getByRole("link", { name: "Desmond Achterberg" }).click();
  await awake(page);
  await page.getByLabel(/^Administrator/).uncheck();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("The school needs an administrator who works here.")).toBeVisible();
  await expectAccessible(page, "staff with a problem");
  await page.getByRole("link", { name: "New person" }).click();
  await expect(page.getByLabel("Given name")).toHaveValue("");
  await page.getByLabel("Given name").fill("Liv");
  await page.getByLabel("Family name").fill("Sandoval");
  await page.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await page.getByLabel(/^Carries a caseload/).check();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("This is the address of Noor Halloran already.")).toBeVisible();
  await page.getByLabel("E-mail").fill("liv.sandoval@larkspurbay.example");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("listitem").filter({ hasText: "Liv Sandoval" })).toContainText(
    "carries a caseload",
  );
  // A case manager who is new takes effect everywhere at once: a student can be hers.
  await page.goto("/students/new");
  await expect(
    page.getByLabel("On the caseload of").getByRole("option", { name: "Liv Sandoval" }),
  ).toBeAttached();
});
