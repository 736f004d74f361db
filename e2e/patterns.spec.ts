import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { capitalise } from "#core/words/numbers.ts";
import type { Page } from "@playwright/test";
import { awake, expect, margin, readOnly, signIn, test } from "./site.ts";

const standsOut = (page: Page) => page.getByRole("region", { name: "Findings" });
const howOften = (page: Page) => page.getByRole("region", { name: "How often" });

readOnly(
  "the incidents of a student as a file give the sentences of the page through the figures command, to the last character",
  async ({ page, site }) => {
    await signIn(page, "noor");
    for (const given of ["Wren", "Caspian"]) {
      await page.goto(`/students/${site.demo.student(given)}/patterns`);
      await awake(page);
      const link = standsOut(page).getByRole("link", { name: "Incidents (CSV)" });
      const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
      const printed = execFileSync(
        process.execPath,
        ["--import", "tsx", "cli/figures.ts", "findings", await download.path(), "--json"],
        { encoding: "utf8" },
      );
      const { findings } = JSON.parse(printed) as { findings: { words: string; strength: string }[] };
      const said = findings.map(
        ({ words, strength }) => `${strength === "weak" ? "weak: " : ""}${capitalise(words)}.`,
      );
      expect(said.length, given).toBeGreaterThan(0);
      expect(await standsOut(page).locator("summary").allTextContents()).toEqual(said);
    }
  },
);

readOnly(
  "patterns say what was planted first, with the incidents behind it, and how often",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/patterns`);
    await awake(page);
    const [first] = await standsOut(page).getByRole("listitem").all();
    if (!first) throw new Error("nothing is said");
    await expect(first).toContainText(
      /incidents with hitting or kicking had the antecedent “change from a liked to a disliked task”/,
    );
    await expect(first).toContainText(/on Monday or Wednesday during Math \(10:15–11:00\sAM\)/);
    await expect(first).not.toContainText("weak");
    await first.locator("summary").click();
    const counts = /^(\d+|All \d+)/.exec((await first.locator("summary").textContent()) ?? "");
    const behind = first.locator("details").getByRole("link");
    expect(await behind.count()).toBe(Number(counts?.[0].replace("All ", "")));
    await expect(
      page.getByText(/\d+ incidents in \d+ observed school days: 0\.\d\d a day \(95% interval/),
    ).toBeVisible();
    await behind.first().click();
    await expect(page.getByText("Correct or remove it")).toBeVisible();
    await page.goto(`/students/${site.demo.student("Yara")}/patterns`);
    await expect(page.getByText("No incident in this span")).toBeVisible();
  },
);

readOnly(
  "a choice answers without asking the server, and the back button takes it back",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/patterns`);
    await awake(page);
    const asked: string[] = [];
    page.on("request", (request) => {
      const { pathname, search } = new URL(request.url());
      if (pathname.endsWith(".data") && search !== "") asked.push(request.url());
    });
    const rate = howOften(page).getByText(/incidents? in \d+ observed school days/);
    const all = await rate.textContent();
    await page.getByText("Behaviors: any").click();
    await page.getByRole("checkbox", { name: "shouting" }).check();
    await expect(page.getByText("Behaviors: shouting")).toBeVisible();
    await expect(rate).not.toHaveText(all ?? "");
    // The panel stays open, for a second behavior.
    await page.getByRole("checkbox", { name: "throwing things" }).check();
    await expect(page).toHaveURL(/behavior=shouting&behavior=throwing/);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("checkbox", { name: "shouting" })).toBeHidden();
    await page.getByText("Settings: any").click();
    await expect(page.getByRole("checkbox", { name: "classroom" })).toBeVisible();
    await page.getByLabel("Span", { exact: true }).selectOption("Last 4 weeks");
    await page.getByLabel("Compare with").selectOption("The same span before");
    await expect(page.getByRole("region", { name: "Against the span before" })).toContainText(
      /Before: \d+ in \d+ observed days/,
    );
    await page.getByLabel("Time axis").selectOption("by month");
    await expect(page.getByRole("slider")).toHaveAccessibleName(/^Incidents by month/);
    await page.getByLabel("Span", { exact: true }).selectOption("Other dates");
    await page.getByLabel("From", { exact: true }).fill("2026-09-20");
    await expect(page).toHaveURL(/from=2026-09-20/);
    expect(asked).toEqual([]);
    for (let back = 0; back < 7; back += 1) await page.goBack();
    await expect(rate).toHaveText(all ?? "");
    await expect(page.getByText("Behaviors: any")).toBeVisible();
    await expect(page.locator('input[value="shouting"]')).not.toBeChecked();
  },
);

readOnly(
  "the time axis says what each week holds to the arrow keys and to the pointer, and opens its incidents",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/patterns`);
    await awake(page);
    const axis = page.getByRole("slider");
    await axis.press("End");
    const last = await axis.getAttribute("aria-valuenow");
    await axis.press("ArrowLeft");
    expect(Number(await axis.getAttribute("aria-valuenow"))).toBe(Number(last) - 1);
    const words = (await axis.getAttribute("aria-valuetext")) ?? "";
    expect(words).toMatch(/^Week of \w+ \d+, \d{4}: \d+ incidents? in \d+ observed days?$/);
    await expect(howOften(page).getByText(words)).toBeVisible();
    await expect(howOften(page).getByRole("link", { name: /:/ })).toHaveCount(
      Number(/: (\d+)/.exec(words)?.[1]),
    );
    const box = await axis.boundingBox();
    if (!box) throw new Error("no axis");
    await page.mouse.move(box.x + 3, box.y + box.height / 2);
    await expect(axis).toHaveAttribute("aria-valuenow", "1");
    const download = page.waitForEvent("download");
    await howOften(page).getByRole("link", { name: /^CSV/ }).click();
    const file = await (await download).path();
    expect(readFileSync(file, "utf8")).toMatch(/^\uFEFFfrom,to,incidents,days observed,a day\r\n/);
  },
);

test("what one thinks and tries becomes a line, and the page says what changed; a sentence goes into the report", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const malik = `/students/${site.demo.student("Malik")}/patterns`;
  await page.goto(malik);
  await awake(page);
  const [first] = await standsOut(page).getByRole("listitem").all();
  if (!first) throw new Error("nothing is said");
  await first.getByRole("button", { name: /^Add to report/ }).click();
  await expect(first.getByRole("link", { name: "in the report" })).toBeVisible();
  await expect(
    margin(page)
      .getByText(/^To check: /)
      .first(),
  ).toBeVisible();
  await page.getByRole("link", { name: "Record an incident" }).click();
  await page.getByLabel("What do you think is happening?").fill("The noise before lunch is too much.");
  await page.getByLabel("In a few words").fill("lunch at 11:30");
  await page.getByLabel("First day").fill("2026-10-19");
  await page.getByRole("button", { name: "Begin it" }).click();
  // What is missing is said beside it, and what was typed stays.
  await expect(page.locator("[aria-invalid]")).toHaveAccessibleName("What will be tried?");
  await expect(page.getByLabel("In a few words")).toHaveValue("lunch at 11:30");
  await page.getByLabel("What will be tried?").fill("He goes ten minutes earlier, with two others.");
  await page.getByRole("button", { name: "Begin it" }).click();
  await expect(page.getByRole("region", { name: "Before and since “lunch at 11:30”" })).toContainText(
    /Before: \d+ in \d+ observed days, \d\.\d\d a day\. Since: \d+ in \d+/,
  );
  await expect(page.getByRole("region", { name: "What we think" })).toContainText("The noise before lunch");
  await page.getByRole("link", { name: "lunch at 11:30", exact: true }).click();
  await page.getByRole("button", { name: "Remove it" }).click();
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(page.getByRole("button", { name: "Save the change" })).toBeVisible();
});

test("a school says what an incident asks; a mistake keeps what was typed; the screen asks so", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/school/incidents");
  await awake(page);
  await page.getByLabel("whether other students were").uncheck();
  await page.getByLabel("1, the mildest").fill("a look from across the room");
  await page.getByLabel("question 1", { exact: true }).fill("Form number");
  await page.getByRole("textbox", { name: "to under of band 1" }).fill("0");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("It ends before it begins.")).toBeVisible();
  await expect(page.getByLabel("1, the mildest")).toHaveValue("a look from across the room");
  await page.getByRole("textbox", { name: "to under of band 1" }).fill("2");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await page.getByRole("button", { name: /^More/ }).click();
  await expect(page.getByText("a look from across the room")).toBeVisible();
  await expect(page.getByRole("button", { name: "one more" })).toHaveCount(0);
  await page.getByRole("button", { name: "injury", exact: true }).click();
  await expect(page.getByLabel("Form number")).toBeVisible();
});

readOnly("the school's patterns are counted together, by months that are over", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/school/patterns");
  await awake(page);
  await expect(page.getByText(/\d+ incidents of \d+ students in \d+ school days/)).toBeVisible();
  await expect(page.getByRole("table").first()).toContainText("few");
  await expect(page.getByRole("region", { name: "Findings" })).toContainText(
    /Not tested|No pattern is shared/,
  );
  // Spans are whole months that are over; an older one is chosen, and the back button takes it back.
  const span = page.getByLabel("Span");
  const newest = await span.inputValue();
  await span.selectOption({ index: 1 });
  await expect(page).toHaveURL(/span=\d{4}-\d\d-01/);
  await page.goBack();
  await expect(span).toHaveValue(newest);
});
