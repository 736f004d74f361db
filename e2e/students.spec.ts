import { awake, expect, recording, signIn, test } from "./site.ts";

test("a student added takes effect everywhere at once, and a name twice is asked about", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await page.getByRole("link", { name: "New student" }).click();
  await awake(page);
  await page.getByLabel("Given name").fill("نور");
  await page.getByLabel("Family name").fill("حداد");
  await page.getByLabel("Alias on recording screens").fill("Blue Kite");
  await page.getByLabel("IEP from").fill("2027-01-10");
  await page.getByLabel("IEP to").fill("2026-01-10");
  await page.getByRole("button", { name: "Add the student" }).click();
  await expect(page.getByText("The IEP ends before it begins.")).toBeVisible();
  await expect(page.getByLabel("Given name")).toHaveValue("نور");
  await page.getByLabel("IEP to").fill("2028-01-09");
  await page.getByRole("button", { name: "Add the student" }).click();
  await expect(page.getByRole("main").getByRole("link", { name: "نور حداد", exact: true })).toBeVisible();
  await expect(
    page.getByRole("navigation", { name: "Students" }).getByRole("link", { name: "نور حداد" }),
  ).toBeVisible();

  await page.getByRole("link", { name: "Set up the first goal" }).click();
  await awake(page);
  await page
    .getByLabel("Wording", { exact: true })
    .fill(
      "She will name 8 of 10 colors in 2 consecutive sessions: red, blue, green, yellow, black, white, pink, brown, orange, gray.",
    );
  await expect(page.getByLabel("The items")).toHaveValue(/red\nblue/);
  await page.getByRole("button", { name: "Save the goal" }).click();
  await page.getByRole("link", { name: /^Record 1/ }).click();
  await recording(page);
  await expect(page.getByRole("region", { name: "Blue Kite", exact: true })).toBeVisible();
  await page.getByRole("group", { name: "blue" }).getByRole("radio", { name: "known" }).check();
  await page.getByRole("button", { name: "Mark the rest as not yet" }).click();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("complementary").getByText(/1\sof\s10 known \(10%\)/)).toBeVisible();

  // Two students of the same initials are told apart, on the spine and on recording screens.
  await page.goto("/students/new");
  await awake(page);
  await page.getByLabel("Given name").fill("Wilma");
  await page.getByLabel("Family name").fill("Aalto");
  await page.getByRole("button", { name: "Add the student" }).click();
  await page.getByRole("link", { name: "Details" }).click();
  await expect(page.getByText("Wren Abara has W.A. too: other initials tell them apart.")).toBeVisible();
  await page.getByLabel("Initials").fill("Wi.A.");
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(
    page.getByRole("navigation", { name: "Students" }).getByRole("link", { name: "Wilma Aalto" }),
  ).toHaveText("Wi.A.");

  await page.goto("/students/new");
  await awake(page);
  await page.getByLabel("Given name").fill(" wren ");
  await page.getByLabel("Family name").fill("ABARA");
  await page.getByRole("button", { name: "Add the student" }).click();
  await expect(page.getByText(/Wren Abara is on your caseload already/)).toBeVisible();
  await page.getByLabel("This is another student of the same name").check();
  await page.getByRole("button", { name: "Add the student" }).click();
  await expect(page.getByRole("main").getByRole("link", { name: "wren ABARA", exact: true })).toBeVisible();
});

test("a paraeducator notes an absence on the recording screen and adds no student", async ({
  page,
  site,
}) => {
  await signIn(page, "teo");
  await page.goto("/caseload");
  await expect(page.getByRole("link", { name: "New student" })).toHaveCount(0);
  expect((await page.goto("/students/new"))?.status()).toBe(403);
  const wren = `/students/${site.demo.student("Wren")}`;
  expect((await page.goto(`${wren}/edit`))?.status()).toBe(403);
  await page.goto(`${wren}/goals/${site.demo.goal("Wren", "2b")}/record`);
  await recording(page);
  await page.getByRole("button", { name: "Absent today" }).click();
  await expect(page.getByText("Absent today: nothing is due.")).toBeVisible();
  await page.getByRole("button", { name: "Here after all" }).click();
  await expect(page.getByText("Absent today")).toHaveCount(0);
});

test("goals are put in the order and numbering of the IEP page, by keys and by dragging", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}`);
  await page.getByRole("link", { name: "Order and numbers" }).click();
  await awake(page);
  const rows = page.getByRole("listitem").filter({ has: page.getByRole("textbox") });
  const titles = async () => (await rows.allInnerTexts()).map((text) => text.split("\n")[0]);
  const [first, second, third] = [
    "Two-digit subtraction",
    "Asks for a break with a card",
    "Moves to the next activity",
  ];
  await expect.poll(titles).toEqual([first, second, third]);
  await page.getByRole("button", { name: /Moves to the next activity one up/ }).click();
  await expect.poll(titles).toEqual([first, third, second]);

  await page.getByRole("button", { name: /^Move .*Two-digit subtraction/ }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText(/^Two-digit subtraction is (picked up|at place 1 of 3)/)).toBeAttached();
  // The arrow is heard once the list has been measured.
  await expect(async () => {
    await page.keyboard.press("ArrowDown");
    await expect(page.getByText("Two-digit subtraction is at place 2 of 3.")).toBeAttached({ timeout: 2000 });
  }).toPass();
  await page.keyboard.press("Space");
  await expect.poll(titles).toEqual([third, first, second]);

  const handle = page.getByRole("button", { name: /^Move .*Asks for a break/ });
  const target = page.getByRole("button", { name: /^Move .*Moves to the next/ });
  const [from, to] = [await handle.boundingBox(), await target.boundingBox()];
  if (!from || !to) throw new Error("no handles to drag");
  await page.mouse.move(from.x + 10, from.y + 10);
  await page.mouse.down();
  await page.mouse.move(to.x + 10, to.y + 30, { steps: 8 });
  await page.mouse.move(to.x + 10, to.y + 5, { steps: 4 });
  await page.mouse.up();
  await expect.poll(titles).toEqual([second, third, first]);

  // For 50 ms after a drop the drag still clears every selection, and with it what is typed over it.
  const number = page.getByLabel("Number of Asks for a break with a card");
  await expect(async () => {
    await number.fill("1");
    await expect(number).toHaveValue("1", { timeout: 500 });
  }).toPass();
  await page.getByRole("button", { name: "Save order and numbers" }).click();
  await expect(page.getByRole("region", { name: "Goal 1" })).toBeVisible();
});
