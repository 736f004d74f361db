import type { Page } from "@playwright/test";
import { awake, expect, expectAccessible, margin, recording, signIn, test } from "./site.ts";

type Views = Record<string, (page: Page) => Promise<void>>;

const sizes = [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
];

for (const colorScheme of ["light", "dark"] as const) {
  for (const viewport of sizes) {
    test(`axe finds nothing on any view, ${colorScheme}, ${viewport.width}×${viewport.height}`, async ({
      page,
      site,
    }) => {
      test.setTimeout(420_000);
      await page.setViewportSize(viewport);
      await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
      await page.goto("/sign-in");
      await expectAccessible(page, "sign-in");
      await page.getByRole("button", { name: "Sign in" }).click();
      await expect(page.getByText("This is not a complete e-mail address.")).toBeVisible();
      await expectAccessible(page, "sign-in with problems");
      await signIn(page, "noor");

      const wren = `/students/${site.demo.student("Wren")}`;
      const views: Views = {
        caseload: () => awake(page),
        "two goals compared": async () => {
          const [a, b] = [site.demo.goal("Wren", "2b"), site.demo.goal("Priya", "1")];
          await page.goto(`/compare?a=${a}&b=${b}&a-span=28`);
          await page.getByText(/^Median/).waitFor();
        },
        "what a goal says": async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "3")}`);
          await page.locator("canvas").waitFor();
          await page.getByText("How is this computed?", { exact: true }).click();
          await page.getByText("Write a decision").click();
          await page.getByText("The shares as a table").click();
        },
        "a decision": async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "4")}`);
          await awake(page);
          await page.getByRole("button", { name: "Yes, it was" }).click();
          await page.getByRole("list", { name: "Decisions" }).getByRole("link").first().click();
          await page.getByRole("button", { name: "Remove this decision" }).waitFor();
        },
        student: async () => {
          await page.goto(wren);
          await awake(page);
          await page.locator("canvas").waitFor();
          await page.getByText("The numbers as a table").click();
        },
        "student's margin": async () => {
          if (viewport.width < 1100) await page.getByRole("link", { name: /^Report ·/ }).click();
          await expect(margin(page)).toBeVisible();
        },
        "student without a point": async () => {
          await page.goto(`/students/${site.demo.student("Yara")}/goals/${site.demo.goal("Yara", "3")}`);
          await expect(page.getByText("No points yet.")).toBeVisible();
        },
        recording: async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "2b")}/record`);
          await recording(page);
          await page.keyboard.press("1");
          await page.keyboard.press("0");
          await page.keyboard.press("n");
          await page.getByText("whole wording").click();
        },
        "recording by counts": async () => {
          await page.getByRole("button", { name: "type the counts instead" }).click();
          await page.getByRole("button", { name: "Save" }).click();
          await expect(page.getByText("How many were correct?")).toBeVisible();
        },
        "recording a chain of steps": async () => {
          await page.goto(
            `/students/${site.demo.student("Juniper")}/goals/${site.demo.goal("Juniper", "2")}/record`,
          );
          await recording(page);
          await page.getByRole("radio").first().check();
        },
        "recording counted levels": async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "3")}/record`);
          await recording(page);
          await page.getByRole("button", { name: "gestural" }).click();
        },
        "recording delays": async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "4")}/record`);
          await recording(page);
        },
        "recording a rubric": async () => {
          await page.goto(
            `/students/${site.demo.student("Tobias")}/goals/${site.demo.goal("Tobias", "5")}/record`,
          );
          await recording(page);
          await page.getByRole("radio").nth(2).check();
        },
        "a task analysis": async () => {
          await page.goto(
            `/students/${site.demo.student("Juniper")}/goals/${site.demo.goal("Juniper", "2")}`,
          );
          await awake(page);
          await page.locator("canvas").waitFor();
        },
        "a student's details": async () => {
          await page.goto(`${wren}/edit`);
          await awake(page);
          await page.getByRole("button", { name: "Note it" }).click();
          // Days of earlier absences stand in the list too; how many there are depends on the day of the test.
          await expect(page.getByRole("button", { name: "was present after all" }).first()).toBeVisible();
        },
        "a student who is absent": async () => {
          await page.goto(wren);
          await expect(page.getByText("Absent today: nothing is due.")).toBeVisible();
          await page.getByRole("button", { name: "Here after all" }).click();
          await expect(page.getByText("Absent today")).toHaveCount(0);
        },
        "order of goals": async () => {
          await page.goto(`${wren}/order`);
          await awake(page);
        },
        "new student with problems": async () => {
          await page.goto("/students/new");
          await awake(page);
          await page.getByRole("button", { name: "Add the student" }).click();
          await expect(page.getByText("What is the student’s given name?")).toBeVisible();
        },
        "goal set-up": async () => {
          await page.goto(`${wren}/goals/${site.demo.goal("Wren", "3")}/set-up`);
          await awake(page);
          await page.getByText("Settings, people, purposes").click();
        },
        "new goal from a template": async () => {
          await page.goto("/school/templates");
          await page.getByText("Use it for …").nth(1).click();
          await page.getByRole("main").getByRole("link", { name: "Wren Abara" }).click();
          await awake(page);
        },
        calendar: async () => {
          await page.goto("/school/calendar");
          await expect(page.getByRole("img", { name: /The days of the year/ })).toBeVisible();
        },
        timetable: async () => {
          await page.goto("/school/week");
          await expect(page.getByText("Periods of the week")).toBeVisible();
        },
        groups: async () => {
          await page.goto("/school/groups");
          await page.getByRole("link", { name: "Kitchen crew" }).click();
          await expect(page.getByRole("button", { name: "Save the group" })).toBeVisible();
        },
        staff: async () => {
          await page.goto("/school/staff");
          await expect(page.getByText("Speech-language pathologist")).toBeVisible();
        },
        templates: async () => {
          await page.goto("/school/templates");
          await page.getByText("Use it for …").first().click();
        },
        "a template": async () => {
          await page.getByRole("link", { name: "Packs a bag" }).click();
          await awake(page);
        },
        lists: async () => {
          await page.goto("/school/lists");
          await expect(page.getByText("Prompt ladders")).toBeVisible();
        },
        "copying goals": async () => {
          await page.goto(`${wren}/copy`);
          await awake(page);
          await page.getByLabel("For", { exact: true }).selectOption("Lumi Sato");
        },
        entry: async () => {
          await page.goto(wren);
          const [path] = await margin(page)
            .getByRole("link", { includeHidden: true })
            .evaluateAll((links) =>
              links.flatMap((link) =>
                link.getAttribute("href")?.includes("/entries/") ? [link.getAttribute("href")] : [],
              ),
            );
          await page.goto(path ?? "");
          await awake(page);
        },
        report: async () => {
          await page.goto(`${wren}/report`);
          await awake(page);
        },
        palette: async () => {
          await page.keyboard.press("Control+k");
          await expect(page.getByRole("option").nth(3)).toBeVisible();
        },
        keys: async () => {
          await page.keyboard.press("Escape");
          await expect(page.getByRole("dialog")).toHaveCount(0);
          await page.keyboard.press("?");
          await expect(page.getByRole("heading", { name: "Keys" })).toBeVisible();
        },
        "not found": async () => {
          await page.goto("/nowhere");
          await expect(page.getByRole("heading", { name: "Not found" })).toBeVisible();
        },
      };
      for (const [view, open] of Object.entries(views)) {
        await open(page);
        await expectAccessible(page, view);
      }
    });
  }
}
