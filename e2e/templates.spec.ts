import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("a goal is kept as a template that names nobody, found again, and used for another student", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(`${wren}/goals/${site.demo.goal("Wren", "2b")}/set-up`);
  await page.getByRole("link", { name: "Save as a template" }).click();
  await awake(page);
  const wording = page.getByLabel("Wording", { exact: true });
  await expect(wording).toHaveValue(/^By \{date\}, given ten .*, \{student\} will solve them/);
  await wording.fill(
    "By {date}, Malik will solve {number of problems} problems with 80% accuracy in 3 of 4 sessions.",
  );
  await page.getByRole("button", { name: "Add to the library" }).click();
  await expect(
    page.getByText(/This contains the name Malik, and everyone at the school can read it/),
  ).toBeVisible();
  await expectAccessible(page, "a template that names a student");
  await wording.fill(
    "By {date}, {student} will solve {number of problems} problems with 80% accuracy in 3 of 4 sessions.",
  );
  await page.getByLabel("Short name").fill("Solves problems of {subject}");
  await page.getByRole("button", { name: "Add to the library" }).click();

  await page.getByLabel("Find a template").fill("solves MATH");
  await page.getByRole("main").getByRole("button", { name: "Find", exact: true }).click();
  await expect(page.getByRole("heading", { level: 3 })).toHaveText(["Solves problems of {subject}"]);
  await page.getByText("Use it for …").click();
  await page.getByRole("main").getByRole("link", { name: "Tobias Venn", exact: true }).click();
  await awake(page);
  await expect(page.getByText("Tobias Venn, from the template")).toBeVisible();
  const blanks = page.getByRole("group", { name: "Blanks of the wording" });
  await expect(blanks.getByLabel("{student}")).toHaveValue("Toby");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(page.getByText("The wording has {date}: when is it due?")).toBeVisible();
  await expect(page.getByText(/What replaces \{subject\}\?/)).toBeVisible();
  await blanks.getByLabel("{date}").fill("2027-05-14");
  await blanks.getByLabel("{number of problems}").fill("five");
  await blanks.getByLabel("{subject}").fill("fractions");
  await expect(page.getByLabel("Due", { exact: true })).toHaveValue("2027-05-14");
  // What the wording says now is read again, and what the template knew stays.
  await expect(page.getByLabel("What was read")).toHaveText(/Toby will solve five problems/);
  await expect(page.getByLabel("Kind")).toHaveValue("trials");
  await page.getByRole("button", { name: "Save the goal" }).click();
  await expect(
    page.getByText("By May 14, 2027, Toby will solve five problems with 80% accuracy in 3 of 4 sessions."),
  ).toBeVisible();
});

test("a template is taken out of the library and put back; others may use it and not change it", async ({
  page,
}) => {
  await signIn(page, "teo");
  await page.goto("/school/templates");
  // Teo changes his own template; those of others he reads.
  await expect(page.getByRole("link", { name: "Packs a bag" })).toHaveCount(0);
  await page.getByRole("link", { name: "Stays with the task" }).click();
  await awake(page);
  await page.getByRole("button", { name: "Remove from the library" }).click();
  await expect(page.getByText("is no longer in the library. Goals made from it stay.")).toBeVisible();
  await expect(page.getByRole("link", { name: "Stays with the task" })).toHaveCount(0);
  await page.getByRole("button", { name: "Take that back" }).click();
  await expect(page.getByRole("link", { name: "Stays with the task" })).toBeVisible();
  await page.getByLabel("Find a template").fill("no such goal");
  await page.getByRole("main").getByRole("button", { name: "Find", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Nothing about “no such goal”" })).toBeVisible();
});

test("a whole set-up is taken to another student with the right name, and into the next year", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(wren);
  await page.getByRole("link", { name: "Copy goals" }).click();
  await awake(page);
  await page.getByLabel("For", { exact: true }).selectOption("Priya Nandakumar");
  const wording = page.getByLabel("Wording of 3 after copying");
  await expect(wording).toHaveValue(/Priya will hand over her break card/);
  await expect(page.getByText("It says “her”: does that suit Priya?")).toBeVisible();
  await page.getByLabel("Due date of 3").fill("2027-06-04");
  await expect(wording).toHaveValue(/^By June 4, 2027/);
  await page.getByRole("checkbox", { name: "Moves to the next activity" }).uncheck();
  await wording.fill("By June 4, 2027, Priya will do as Wren does.");
  await page.getByRole("button", { name: "Copy 2 goals" }).click();
  await expect(page.getByText("It still names Wren.")).toBeVisible();
  await expect(wording).toHaveValue("By June 4, 2027, Priya will do as Wren does.");
  await expectAccessible(page, "copying with a problem");
  await wording.fill(
    "By June 4, 2027, Priya will hand over the card in 4 of 5 opportunities on 3 consecutive days.",
  );
  await page.getByRole("button", { name: "Copy 2 goals" }).click();
  await expect(
    page.getByRole("main").getByRole("link", { name: "Priya Nandakumar", exact: true }),
  ).toBeVisible();
  await expect(page.getByRole("link", { name: /Asks for a break with a card/ })).toBeVisible();
  await expect(page.getByText("No points yet.")).toBeVisible();

  await page.goto(`${wren}/goals/${site.demo.goal("Wren", "2b")}/set-up`);
  await page.getByRole("link", { name: /^Copy it/ }).click();
  await awake(page);
  await expect(page.getByRole("button", { name: "Copy 1 goal" })).toBeEnabled();
  await page.getByLabel(/^Close this year’s goals today/).check();
  await page.getByRole("button", { name: "Copy 1 goal" }).click();
  await expect(page.getByText("No points yet.")).toBeVisible();
  await expect(page.getByRole("link", { name: /Two-digit subtraction \(continued\)/ })).toBeVisible();
  await page.getByRole("link", { name: /^2b Two-digit subtraction, begun/ }).click();
  await expect(page.getByText(/^Ended \(continued\)/)).toBeVisible();
  await page.getByRole("link", { name: /^2b Two-digit subtraction, begun/ }).click();
  await expect(page.getByText("No points yet.")).toBeVisible();
  // Set up by mistake, it goes again: nothing was recorded for it.
  await page.getByRole("link", { name: "Set-up", exact: true }).click();
  await page.getByText("Set up by mistake?").click();
  await page.getByRole("button", { name: "Remove this goal" }).click();
  await expect(page.getByRole("link", { name: /Two-digit subtraction \(continued\)/ })).toBeVisible();
  await expect(page.getByText("No points yet.")).toHaveCount(0);
});
