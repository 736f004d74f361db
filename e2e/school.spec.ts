import { awake, choose, expect, expectAccessible, recording, signIn, test } from "./site.ts";
import { testNow } from "../tests/clock.ts";

test("the school keeps its own lists and ladders, and goals are offered them", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await page.getByRole("link", { name: "The school", exact: true }).click();
  await page.getByRole("link", { name: "Lists" }).click();
  await awake(page);
  const settings = page.getByRole("region", { name: "Settings" });
  const setting = (line: number) => settings.getByLabel(`setting ${line}`, { exact: true });
  const words = (list: typeof settings, one: string) =>
    list
      .getByRole("textbox", { name: new RegExp(`^${one} \\d+$`) })
      .evaluateAll((all) => all.map((field) => (field as HTMLInputElement).value));
  // Written by keys alone: a line begun, one moved up, one emptied and gone.
  await setting(1).focus();
  await page.keyboard.press("Enter");
  await page.keyboard.type("island ferry");
  await expect(setting(2)).toHaveValue("island ferry");
  await page.keyboard.press("Alt+ArrowUp");
  await expect(setting(1)).toHaveValue("island ferry");
  await expect(setting(1)).toBeFocused();
  await page.keyboard.press("ArrowDown");
  await expect(setting(2)).toBeFocused();
  await page.keyboard.press("ArrowDown");
  const third = await setting(3).inputValue();
  await setting(3).fill("");
  await page.keyboard.press("Backspace");
  await expect(setting(2)).toBeFocused();
  expect(await words(settings, "setting")).not.toContain(third);
  // A line dragged by its handle, and several pasted at once.
  await settings.getByRole("button", { name: "Move school office", exact: true }).hover();
  await page.mouse.down();
  const top = await setting(1).boundingBox();
  await page.mouse.move((top?.x ?? 0) - 15, (top?.y ?? 0) + 10, { steps: 12 });
  await expect(page.getByText(/^school office is at place 1 of/)).toBeAttached();
  await page.mouse.up();
  await expect(setting(1)).toHaveValue("school office");
  const before = await words(settings, "setting");
  await setting(before.length).focus();
  await page.evaluate(() => {
    const clipboardData = new DataTransfer();
    clipboardData.setData("text/plain", "1. pier\n2. boat shed\n");
    document.activeElement?.dispatchEvent(
      new ClipboardEvent("paste", { clipboardData, bubbles: true, cancelable: true }),
    );
  });
  const after = [...before.slice(0, -1), "pier", "boat shed", ""];
  await expect.poll(() => words(settings, "setting")).toEqual(after);
  // Taken out, and put back.
  await setting(1).hover();
  await settings.getByRole("button", { name: "Take school office out" }).click();
  await expect(settings.getByText("Taken out: school office")).toBeVisible();
  await settings.getByRole("button", { name: "Put it back" }).click();
  expect(await words(settings, "setting")).toEqual(after);

  const fresh = () => page.getByRole("group", { name: "Touch and words" });
  await page.getByLabel("New ladder").fill("Touch and words");
  const level = (line: number) => fresh().getByLabel(`level ${line}`, { exact: true });
  await level(1).fill("alone");
  await level(1).press("Enter");
  await page.keyboard.type("alone");
  await expect(page.getByText("Changed, not saved yet.")).toBeVisible();
  await page.getByRole("button", { name: "Save the lists" }).click();
  await expect(page.getByText("Two of the prompt levels have the same name.")).toBeVisible();
  await level(2).fill("word");
  // A reload, a wrong turn: what was typed stands there again, in its order.
  await page.reload();
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();
  await expect.poll(() => words(settings, "setting")).toEqual(after);
  await level(2).press("Enter");
  await page.keyboard.type("touch");
  await page.getByRole("button", { name: "Save the lists" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await expect(page.locator("#said")).toHaveText(/Saved/);
  await page.reload();
  await expect(page.getByText("not saved yet")).toHaveCount(0);
  expect(await words(settings, "setting")).toEqual(after);
  expect(await words(fresh(), "level")).toEqual(["alone", "word", "touch", ""]);

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
    .selectOption({ label: "English, United Kingdom: 26 Nov 2026, 13:20" });
  await page.getByRole("button", { name: "Save the lists" }).click();
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
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
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
  const closures = page.getByRole("group", { name: "Closed" });
  const last = (field: RegExp) => closures.getByLabel(field).nth(-2);
  await expect(last(/^From of closure/)).toHaveValue(today);
  await expectAccessible(page, "calendar with a problem");
  await last(/^Name of closure/).fill("Storm");
  await expect(page.getByText("Give it a name.")).toHaveCount(0);
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(wren).toHaveAccessibleName("W.A., Wren Abara");

  // One closure more, taken out again by its cross; and a span outside the year.
  const names = () =>
    page
      .getByLabel(/^Name of closure/)
      .evaluateAll((fields) => fields.map((field) => (field as HTMLInputElement).value));
  const storm = (await names()).indexOf("Storm");
  await page.getByRole("button", { name: `Remove closure ${storm + 1}`, exact: true }).click();
  await closures
    .getByLabel(/^Name of closure/)
    .last()
    .fill("Too early");
  await last(/^From of closure/).fill("2001-01-01");
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(page.getByText("This lies outside the school year.")).toBeVisible();
  expect(await names()).not.toContain("Storm");
  await closures
    .getByRole("button", { name: /^Remove closure/ })
    .last()
    .click();
  await page.getByRole("button", { name: "Save the year" }).click();
  await expect(wren).toHaveAccessibleName("W.A., Wren Abara, data due today");
});

test("periods and groups are kept in rows, and whoever may not change them reads them", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/school/week");
  // The empty row at the end is followed by another as soon as something stands in it.
  const name = page.getByLabel(/^Period of/);
  const count = await name.count();
  await name.last().fill("Tide pool walk");
  await awake(page);
  await expect(name).toHaveCount(count + 1);
  const row = page.getByRole("listitem").filter({ has: page.getByLabel(`Period of period ${count}`) });
  await row.getByLabel(/^From of/).fill("15:10");
  await row.getByLabel(/^To of/).fill("15:00");
  await page.getByRole("button", { name: "Save the timetable" }).click();
  await expect(row.getByText(/ends before it begins/i)).toBeVisible();
  await expect(name.nth(-2)).toHaveValue("Tide pool walk");
  await row.getByLabel(/^To of/).fill("15:40");
  await expect(row.getByText(/ends before it begins/i)).toHaveCount(0);
  await page.reload();
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();
  await expect(row.getByLabel(/^To of/)).toHaveValue(/3:40|15:40/);
  await page.getByRole("button", { name: "Save the timetable" }).click();
  await expect(page.locator("svg title", { hasText: "Tide pool walk" }).first()).toBeAttached();

  await page.getByRole("link", { name: "Groups" }).click();
  await awake(page);
  await page.getByText("Another group").click();
  const fresh = () => page.getByRole("group", { name: /^(New group|Tide pool club)$/ });
  await fresh().getByLabel("Wren Abara", { exact: true }).check();
  await page.getByRole("button", { name: "Save the groups" }).click();
  await expect(page.getByText("What is the group called?")).toBeVisible();
  await expect(fresh().getByLabel("Wren Abara", { exact: true })).toBeChecked();
  await fresh().getByLabel("Group", { exact: true }).fill("Tide pool club");
  await fresh().getByLabel("Tuesday").first().check();
  await fresh()
    .getByLabel(/^From of/)
    .first()
    .fill("15:10");
  await fresh()
    .getByLabel(/^To of/)
    .first()
    .fill("15:40");
  await page.getByRole("button", { name: "Save the groups" }).click();
  const club = page.getByRole("listitem").filter({ hasText: "Tide pool club" });
  await expect(club).toContainText(/Tue 3:10–3:40\sPM/);
  await expect(club).toContainText("W.A.");
  // A student dragged onto a group is in it once it is saved; by keys one opens the line and ticks the name.
  const card = page.getByRole("region", { name: "Students to drag" }).getByTitle("Priya Nandakumar");
  await card.hover();
  await page.mouse.down();
  const line = await club.locator("summary").boundingBox();
  await page.mouse.move((line?.x ?? 0) + 30, (line?.y ?? 0) + 12, { steps: 12 });
  await expect(club).toHaveClass(/is-over/);
  await page.mouse.up();
  await expect(club).toContainText("P.N.");
  await expect(club.getByText("changed, not saved yet")).toBeVisible();
  const head = (name: string) => page.locator("summary", { hasText: name });
  await head("Kitchen crew").focus();
  await page.keyboard.press("ArrowUp");
  await expect(head("Gym with Gus")).toBeFocused();
  await page.getByRole("button", { name: "Save the groups" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await page.reload();
  await expect(club).toContainText("P.N.");

  await page.goto("/caseload");
  await page.getByRole("button", { name: "Sign out" }).click();
  await expect(page.getByLabel("E-mail")).toBeVisible();
  await signIn(page, "gus");
  await page.goto("/school/groups");
  await expect(club).toContainText("2 students in whose circle you are not");
  await expect(page.getByText("Another group")).toHaveCount(0);
  await page.getByRole("link", { name: "Timetable" }).click();
  await expect(page.locator("svg title", { hasText: "Tide pool walk" }).first()).toBeAttached();
  await expect(page.getByRole("button", { name: "Save the timetable" })).toHaveCount(0);
});

test("an administrator keeps the staff, and the school never loses its last one", async ({ page }) => {
  await signIn(page, "desmond");
  await page.goto("/school/staff");
  await awake(page);
  const line = (name: string) => page.getByRole("listitem").filter({ hasText: name });
  // Opened by keys, in its line.
  await line("Desmond Achterberg").locator("summary").focus();
  await page.keyboard.press("Enter");
  await line("Desmond Achterberg")
    .getByLabel(/^Administrator/)
    .uncheck();
  const save = page.getByRole("button", { name: "Save the staff" });
  await save.click();
  await expect(page.getByText("The school needs an administrator who works here.")).toBeVisible();
  await expectAccessible(page, "staff with a problem");
  await line("Desmond Achterberg")
    .getByLabel(/^Administrator/)
    .check();
  await page.getByText("Another person").click();
  const fresh = page.getByRole("group", { name: /^(new person|Liv.*)$/ });
  await fresh.getByLabel("Given name").fill("Liv");
  await fresh.getByLabel("Family name").fill("Sandoval");
  await fresh.getByLabel("E-mail").fill("noor.halloran@larkspurbay.example");
  await fresh.getByLabel(/^Carries a caseload/).check();
  await save.click();
  await expect(page.getByText("This is the address of Noor Halloran already.")).toBeVisible();
  await fresh.getByLabel("E-mail").fill("liv.sandoval@larkspurbay.example");
  await save.click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await page.reload();
  await expect(line("Liv Sandoval")).toContainText("carries a caseload");
  // A case manager who is new takes effect everywhere at once: a student can be hers.
  await page.goto("/students/new");
  await expect(
    page.getByLabel("On the caseload of").getByRole("option", { name: "Liv Sandoval" }),
  ).toBeAttached();
});
