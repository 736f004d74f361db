import { awake, expect, expectAccessible, readOnly, signIn, test } from "./site.ts";

test("several students are read of a list, looked over, and added", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await page.getByRole("link", { name: "Several students" }).click();
  await awake(page);
  await page.getByLabel("Names, one per line").fill("Ana de la Cruz, 3\nAbara, Wren\nLumi");
  await page.getByRole("button", { name: "Read the list" }).click();
  await expect(page.getByText("3 names, 2 new")).toBeVisible();
  await expect(page.getByLabel("Add Wren Abara")).not.toBeChecked();
  await expect(page.getByText(/on your caseload already/)).toBeVisible();
  await expectAccessible(page, "several students");
  await page.getByRole("button", { name: "Add those ticked" }).click();
  await expect(page.getByText("2 students added.")).toBeVisible();
  await expect(page.getByRole("main").getByRole("link", { name: "Ana de la Cruz" })).toBeVisible();
});

test("what is typed survives a reload, a cancel and the end of the session, on each form; and nobody else finds it", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = site.demo.student("Wren");
  const goal = `/students/${wren}/goals/${site.demo.goal("Wren", "2b")}`;
  await page.goto("/students/new");
  await awake(page);
  await page.getByLabel("Given name").fill("Kestrel");
  await page.getByLabel("Grade").fill("2");
  await page.getByRole("link", { name: "Cancel" }).click();
  await expect(page.getByRole("heading", { name: "Caseload" })).toBeVisible();
  await page.getByRole("link", { name: "New student" }).click();
  await expect(page.getByLabel("Given name")).toHaveValue("Kestrel");
  await expect(page.getByLabel("Grade")).toHaveValue("2");
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();

  // A decision, half written.
  await page.goto(goal);
  await awake(page);
  await page.getByText("Record a decision").click();
  await page.getByRole("radio", { name: /^Change the instruction/ }).check();
  await page.getByLabel("Name of the phase").fill("number line");
  await page.getByLabel("Why").fill("Flat for four weeks.");
  await page.reload();
  await expect(page.getByLabel("Why")).toHaveValue("Flat for four weeks.");
  await expect(page.getByRole("radio", { name: /^Change the instruction/ })).toBeChecked();

  // Several incidents, more rows than the page begins with.
  await page.goto(`/students/${wren}/incidents/several`);
  await awake(page);
  const notes = page.getByRole("main").locator('input[name$=".note"], textarea[name$=".note"]');
  const begun = await notes.count();
  await page
    .getByRole("button", { name: /row|more/i })
    .first()
    .click();
  await expect(notes).toHaveCount(begun + 1);
  // One of the rows that are there at first, and one that is not.
  await page.getByRole("group", { name: "Incident 1", exact: true }).getByLabel("Time").fill("9:05");
  await notes.last().fill("by the sink");
  await page.reload();
  await expect(notes).toHaveCount(begun + 1);
  await expect(notes.last()).toHaveValue("by the sink");

  // A correction, and the session ends while it is sent.
  await page.goto(goal);
  await page.getByRole("complementary").getByRole("listitem").first().getByRole("link").click();
  await expect(page.getByRole("heading", { name: "Correct it" })).toBeVisible();
  await awake(page);
  const note = page.getByLabel("Note");
  await note.fill("with counters");
  // The time as one types it; what is no time is said beside it and leads there.
  const observed = page.getByRole("group", { name: "Observed" });
  await observed.getByLabel("Time").fill("quarter past");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(observed.getByText(/^Write a time/).first()).toBeVisible();
  await expect(observed.getByLabel("Time")).toBeFocused();
  await observed.getByLabel("Time").fill("9.10 am");
  const entry = new URL(page.url()).pathname;
  await site.owner("gate.sessions").update({ ended_at: new Date() });
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await signIn(page, "noor");
  await page.goto(entry);
  await expect(note).toHaveValue("with counters");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByRole("complementary").getByText(/with counters/)).toBeVisible();
  // Saved, there is no draft of it.
  await page.goto(entry);
  await awake(page);
  await expect(page.getByText("What you typed here before is not saved yet.")).toHaveCount(0);

  // An incident being corrected: its touches are no fields, and stand there again all the same.
  await page.goto(`/students/${wren}/incidents`);
  await page
    .getByRole("main")
    .getByRole("link", { name: /hitting or kicking/i })
    .first()
    .click();
  await page.getByText("Correct or remove it").click();
  await awake(page);
  const crying = page.getByRole("button", { name: "crying", exact: true });
  await crying.click();
  await page.getByLabel("Note").fill("seen from the door");
  await page.getByLabel("Reason").fill("asked the aide");
  await page.reload();
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();
  await expect(crying).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByLabel("Note")).toHaveValue("seen from the door");
  await expect(page.getByLabel("Reason")).toHaveValue("asked the aide");
  await page.getByRole("button", { name: "Save the correction" }).click();
  // The line may come by the live update before the answer to the form.
  await page.waitForURL(/saved=/);
  await expect(
    page
      .getByRole("main")
      .getByText(/seen from the door/)
      .first(),
  ).toBeVisible();
  await page.reload();
  await awake(page);
  await expect(page.getByText("What you typed here before is not saved yet.")).toHaveCount(0);

  // Somebody else at this tab.
  await site.owner("gate.sessions").update({ ended_at: new Date() });
  await signIn(page, "desmond");
  await page.goto("/students/new");
  await awake(page);
  await expect(page.getByLabel("Given name")).toHaveValue("");
});

test("a correction that is made meanwhile takes neither the text nor the focus away", async ({
  page,
  context,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
  await page
    .getByRole("complementary")
    .getByRole("link", { name: /Two-digit subtraction/ })
    .first()
    .click();
  await expect(page.getByRole("heading", { name: "Correct it" })).toBeVisible();
  await awake(page);
  await page.getByLabel("Note").fill("mine");
  const other = await context.newPage();
  await other.goto(page.url());
  await awake(other);
  await other.getByLabel("Note").fill("theirs");
  await other.getByRole("button", { name: "Save the correction" }).click();
  await expect(other.getByRole("complementary").getByText(/theirs/)).toBeVisible();
  await expect(page.getByRole("complementary").getByText(/theirs/)).toBeVisible();
  await expect(page.getByLabel("Note")).toHaveValue("mine");
  await expect(page.getByLabel("Note")).toBeFocused();
});

readOnly(
  "help says what the screen is for, the guide is found by any of its words, and one page prints",
  async ({ page }) => {
    await signIn(page, "noor");
    await page.goto("/today");
    await awake(page);
    await page.keyboard.press("?");
    const help = page.getByRole("dialog", { name: "Help" });
    await expect(help.getByRole("region", { name: "This screen" }).getByRole("listitem")).toHaveCount(5);
    await expect(help.getByText("These are the goals for which data are due today")).toBeVisible();
    await expectAccessible(page, "help");
    await page.keyboard.press("Escape");

    await page.keyboard.press("Control+k");
    await page.getByRole("dialog").getByRole("combobox").fill("antecedent");
    await expect(page.getByRole("dialog").getByRole("option").first()).toContainText(
      "Guide: Recording an incident",
    );
    await page.keyboard.press("Enter");
    await expect(
      page.getByRole("heading", { level: 1, name: "Recording an incident · Guide" }),
    ).toBeFocused();
    const picture = page.getByRole("img", { name: /Recording an incident: columns/ });
    await expect
      .poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth))
      .toBeGreaterThan(600);
    const pages = page.getByRole("navigation", { name: "Pages of the guide" }).getByRole("link");
    await expect(pages).toHaveCount(10);
    for (let at = 0; at < 8; at += 1) {
      const link = pages.nth(at);
      const name = await link.innerText();
      await link.click();
      await expect(page.getByRole("heading", { level: 1, name: `${name} · Guide` })).toBeVisible();
      await expectAccessible(page, `guide: ${name}`);
    }
    await page.getByRole("link", { name: "One page to print" }).click();
    await expect(page.getByRole("heading", { name: "Recording, on one page" })).toBeVisible();
    await expectAccessible(page, "one page");
    // On Letter paper at usual margins it is one page.
    const pdf = (
      await page.pdf({
        format: "Letter",
        margin: { top: "1.5cm", bottom: "1.5cm", left: "1.5cm", right: "1.5cm" },
      })
    ).toString("latin1");
    expect(pdf.match(/\/Type\s*\/Page\b(?!s)/g)).toHaveLength(1);
  },
);

test("single letters can work with Alt only, or never, in every browser of the person", async ({
  page,
  browser,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  const saved = page.waitForResponse((answer) => answer.url().includes("/own-settings"));
  await page.keyboard.press("?");
  await page.getByRole("radio", { name: "only with Alt (Option)" }).check();
  await saved;
  await page.keyboard.press("Escape");
  await page.keyboard.press("s");
  await expect(page).toHaveURL(/caseload/);
  await page.keyboard.press("Alt+s");
  await expect(page).toHaveURL(/\/record$/);

  const elsewhere = await browser.newContext({ baseURL: site.web.url });
  const other = await elsewhere.newPage();
  await signIn(other, "noor");
  await other.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
  await awake(other);
  await other.keyboard.press("r");
  await expect(other).toHaveURL(/goals/);
  await other.keyboard.press("Alt+r");
  await other.getByRole("heading", { name: /^Sitting/ }).waitFor();
  await other.keyboard.press("1");
  await other.keyboard.press("Alt+1");
  await expect(other.getByText(/of 1 so far/)).toBeVisible();
  await elsewhere.close();
});

test("with 40 students Today, Record, Incident, Find and the foot stay on every screen, and a search finds anyone", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/students/several");
  await awake(page);
  const names = Array.from({ length: 26 }, (_, at) => `Kit${String.fromCharCode(97 + at)} Rowan, 4`);
  await page.getByLabel("Names, one per line").fill(names.join("\n"));
  await page.getByRole("button", { name: "Read the list" }).click();
  await page.getByRole("button", { name: "Add those ticked" }).click();
  await expect(page.getByText("26 students added.")).toBeVisible();
  for (const [width, height] of [
    [390, 844],
    [820, 1180],
    [1280, 800],
  ] as const) {
    await page.setViewportSize({ width, height });
    await page.goto(`/students/${site.demo.student("Wren")}`);
    await awake(page);
    const spine = page.getByRole("navigation", { name: "Students" });
    for (const name of ["Caseload", "Today", "Record", "Incident"])
      await expect(spine.getByRole("link", { name, exact: true })).toBeInViewport({ ratio: 0.99 });
    await expect(spine.getByRole("button", { name: "Find" })).toBeInViewport({ ratio: 0.99 });
    await expect(spine.getByRole("link", { name: /Wren Abara/ })).toBeInViewport({ ratio: 0.99 });
    if (width > 640)
      await expect(spine.getByRole("button", { name: "Sign out" })).toBeInViewport({ ratio: 0.99 });
    await spine.getByRole("button", { name: "Find" }).click();
    await page.getByRole("dialog").getByRole("combobox").fill("kitz");
    await expect(page.getByRole("dialog").getByRole("option").first()).toContainText("Kitz Rowan");
    await page.keyboard.press("Escape");
  }
});
