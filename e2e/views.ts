import type { Page } from "@playwright/test";
import { v7 as newId } from "uuid";
import { recordedItem } from "../tests/recorded.ts";
import { awake, choose, expect, margin, recording, type Site, touch } from "./site.ts";

/** Every view of the application by its name, and how one gets there; walked through in this order, signed in as the case manager. */
type Views = Record<string, () => Promise<void>>;

export function generalViews(page: Page, site: Site): Views {
  const wren = `/students/${site.demo.student("Wren")}`;
  return {
    caseload: async () => {
      await page.goto("/caseload");
      await awake(page);
    },
    "two goals compared": async () => {
      const [a, b] = [site.demo.goal("Wren", "2b"), site.demo.goal("Priya", "1")];
      await page.goto(`/compare?a=${a}&b=${b}&a-span=28`);
      await page.getByText(/^“Two-digit subtraction”: /).waitFor();
    },
    "what a goal says": async () => {
      await page.goto(`${wren}/goals/${site.demo.goal("Wren", "3")}`);
      await page.locator("canvas").waitFor();
      await page.getByText("How is this computed?", { exact: true }).click();
      await page.getByText("Record a decision").click();
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
      if ((page.viewportSize()?.width ?? 0) < 1100)
        await page.getByRole("link", { name: /^Report ·/ }).click();
      await expect(margin(page)).toBeVisible();
    },
    feedback: async () => {
      await page.goto(`${wren}/feedback`);
      await awake(page);
      await page.getByLabel("About").fill("The picture strip");
      await page.getByLabel("Goes to").selectOption({ label: "Teo Brandvold" });
      await page.getByRole("checkbox", { name: /^Noor Halloran/ }).check();
      await page.getByRole("checkbox", { name: /^Ines Okafor/ }).check();
      await page.getByRole("button", { name: "Ask them" }).click();
      await page.getByLabel("What works well?").fill("She takes it by herself.");
      await page.getByRole("button", { name: "Save my answer" }).click();
      await page.getByRole("button", { name: "Preview" }).click();
      await page.getByText("As Teo Brandvold reads it").waitFor();
    },
    "the family of a student": async () => {
      await page.goto(`${wren}/family`);
      await awake(page);
      await page.getByText("Change, refuse or remove").first().click();
    },
    dispatch: async () => {
      await page.goto("/dispatch");
      await awake(page);
      await page.getByText("Refused", { exact: true }).waitFor();
    },
    "a refused message": async () => {
      await page.goto("/dispatch?show=look");
      await page.getByRole("link", { name: /^C\.D\.: a new report/ }).click();
      await page.getByRole("button", { name: "Correct and send again" }).waitFor();
    },
    "to several families": async () => {
      await page.goto("/dispatch/new");
      await awake(page);
      await page.getByLabel("Subject").first().fill("Conference days");
      await page.getByLabel("Message").first().fill("Please choose a time, [reader].");
      await page.getByRole("button", { name: "Preview" }).click();
      await page.getByText("Please choose a time, Lena Abara.").waitFor();
      await page.getByLabel("Message").first().blur();
    },
    "own messages": async () => {
      await page.goto("/account/messages");
      await awake(page);
    },
    "the school's messages": async () => {
      await page.goto("/school/messages?kind=entry&in=es");
      await awake(page);
      await page.getByRole("button", { name: "Preview" }).click();
      await page.getByText("Hola Noor:").last().waitFor();
    },
    coverage: async () => {
      await page.goto("/coverage");
      await awake(page);
      await page.getByRole("heading", { name: "Goals, week by week" }).waitFor();
    },
    "access record": async () => {
      await page.goto(`${wren}/access`);
      await awake(page);
      await page.getByRole("heading", { name: "Outside the school’s staff" }).waitFor();
    },
    "requests and holds": async () => {
      await page.goto(`${wren}/rights`);
      await awake(page);
      await page.getByText("Write down a request").click();
    },
    retention: async () => {
      await page.goto("/school/retention");
      await awake(page);
      await page.getByRole("heading", { name: "Left the school" }).waitFor();
    },
    "next year, looked through": async () => {
      await page.goto("/school/next-year");
      await awake(page);
      await page.getByRole("button", { name: "Look it through" }).click();
      await page.getByRole("heading", { name: "What will be done" }).waitFor();
    },
    "late records": async () => {
      await page.goto(`${wren}/held`);
      await expect(page.getByText("Nothing waits here")).toBeVisible();
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
      await page.goto(`/students/${site.demo.student("Juniper")}/goals/${site.demo.goal("Juniper", "2")}`);
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
      await expect(page.getByText("What is the student called? One name is enough.")).toBeVisible();
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
      await awake(page);
      await page.locator("summary", { hasText: "Kitchen crew" }).click();
      await expect(page.getByRole("button", { name: "Save the groups" })).toBeVisible();
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
    files: async () => {
      await page.goto(`${wren}/files`);
      await awake(page);
      await page.getByRole("button", { name: "Make the file" }).click();
      await page.getByText("Say who receives it.").waitFor();
    },
    "a meeting": async () => {
      await page.goto(`${wren}/meeting`);
      await awake(page);
    },
    "a goal in a meeting": async () => {
      await page.keyboard.press("ArrowRight");
      await page.getByRole("heading", { name: "4 Moves to the next activity" }).waitFor();
    },
    "own notes of a meeting": async () => {
      await page.goto(`${wren}/meeting/notes`);
      await awake(page);
    },
    packets: async () => {
      await page.goto("/packets");
      await awake(page);
      await page.getByRole("button", { name: "Make the packet" }).click();
      await page.getByText("Say who receives it.").waitFor();
    },
    "a class assessed": async () => {
      await page.goto("/packets?of=assessment");
      await awake(page);
    },
    editions: async () => {
      await page.goto(`${wren}/editions`);
      await awake(page);
    },
    "a new edition": async () => {
      await page.goto(`${wren}/editions/new`);
      await awake(page);
    },
    palette: async () => {
      await page.keyboard.press("Control+k");
      await expect(page.getByRole("dialog").getByRole("option").nth(3)).toBeVisible();
    },
    keys: async () => {
      await page.keyboard.press("Escape");
      await expect(page.getByRole("dialog")).toHaveCount(0);
      await page.keyboard.press("?");
      await expect(page.getByRole("heading", { name: "Help" })).toBeVisible();
    },
    "not found": async () => {
      await page.goto("/nowhere");
      await expect(page.getByRole("heading", { name: "Not found" })).toBeVisible();
    },
  };
}

export function recordingViews(page: Page, site: Site): Views {
  const other = newId();
  return {
    "starting a sitting": async () => {
      await page.goto("/record");
      await recording(page);
    },
    "a sitting of four students": async () => {
      for (const initials of ["C.D.", "E.K.", "J.R.", "W.A."])
        await page.getByRole("checkbox", { name: `${initials} together with others` }).check();
      await page.getByRole("button", { name: "Start together" }).click();
      await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
      await page.keyboard.press("1");
    },
    "what else may be said of a goal": async () => {
      await page.keyboard.press("n");
    },
    "a sitting before it is kept": async () => {
      await page.getByRole("button", { name: "Finish" }).click();
      await page.getByRole("heading", { name: "Review before saving" }).waitFor();
    },
    "the interval prompter": async () => {
      await page.goto("/record");
      await choose(page, "H.M.", /On task/);
      await page.getByRole("button", { name: "Start with H.M." }).click();
      await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
      await page.getByRole("button", { name: /^Start/ }).click();
      await expect(page.getByText("Wait for the signal")).toBeVisible();
    },
    "all-day tallies": async () => {
      await page.goto("/record?tally=day");
      await recording(page);
      await page
        .getByRole("button", { name: /^Begin / })
        .first()
        .click();
      await page.getByRole("button", { name: /^\+1 / }).click();
      await page.getByText("Every one, with its time").click();
    },
    "closing a tally": () => page.getByRole("button", { name: "Close it …" }).click(),
    "who records": async () => {
      await page.getByRole("button", { name: /records\. Hand over/ }).click();
      await page.getByRole("button", { name: /Okafor/ }).click();
    },
    "adding goals beside another observer": async () => {
      await page.goto("/record");
      await recording(page);
      await page.getByRole("checkbox", { name: /^As second observer/ }).check();
      await page.getByRole("button", { name: "Start with E.K." }).click();
      await page.getByText("Beside another observer.").waitFor();
      await page.getByRole("button", { name: "Add goals" }).click();
    },
    "what was not measured": async () => {
      const anHourAgo = new Date(Date.now() + site.clockAhead - 3_600_000).toISOString();
      const made = recordedItem(site.demo, { startedAt: anHourAgo, observedAt: anHourAgo });
      const headers = { Origin: new URL(page.url()).origin };
      for (const data of [
        { ...made, kind: "not measured", reason: "refused" },
        { ...made, id: other, kind: "second", withSittingId: null },
      ])
        expect((await page.request.post("/recording/keep", { data, headers })).ok()).toBe(true);
      await page.goto(`/students/${made.studentId}/not-measured/${made.id}`);
      await awake(page);
    },
    "two observers, of whom one is still to come": async () => {
      await page.goto(`/students/${site.demo.student("Wren")}/beside/${other}`);
      await awake(page);
    },
    today: async () => {
      await page.goto("/today");
      await awake(page);
    },
    "past observations with a problem": async () => {
      await page.goto(`/past?student=${site.demo.student("Wren")}`);
      await awake(page);
      await page.getByLabel("Observed, row 1").fill("eleven");
      await page.getByRole("button", { name: "Save all rows" }).click();
      await expect(page.getByText("Write 7/10, or each trial in order: 1101110101.").first()).toBeVisible();
      await expect(page.getByRole("button", { name: "Save all rows" })).toBeEnabled();
    },
    "blank data sheets": async () => {
      await page.goto(`/sheets?student=${site.demo.student("Juniper")}`);
      await awake(page);
    },
    "my devices": async () => {
      await page.goto("/devices");
      await expect(page.getByRole("button", { name: /^Forget/ })).toBeVisible();
    },
  };
}

export function incidentViews(page: Page, site: Site): Views {
  const wren = `/students/${site.demo.student("Wren")}`;
  return {
    "whose incident": async () => {
      await page.goto("/record?incident");
      await recording(page);
      await page.getByRole("button", { name: "Incident of W.A." }).waitFor();
    },
    "an incident": async () => {
      await page.getByRole("button", { name: "Incident of W.A." }).click();
      await touch(page, "shouting");
      await touch(page, "what counts");
      await page.getByRole("button", { name: "Other time …" }).click();
      await page.getByRole("region", { name: "Where" }).getByRole("button", { name: "other …" }).click();
    },
    "what else may be said of it": async () => {
      await page.getByRole("button", { name: /^More/ }).click();
      await touch(page, "yes");
      await touch(page, "injury");
      await touch(page, "one more");
    },
    "an incident that is kept": async () => {
      await touch(page, "Save");
      await page.getByText("in the report").waitFor();
    },
    "a student's incidents": async () => {
      await page.goto(`${wren}/incidents`);
      await awake(page);
    },
    "one incident": async () => {
      await page
        .getByRole("link", { name: /There was an injury/ })
        .first()
        .click();
      // Its facts are missing, so its correction is open.
      await expect(page.getByText("Finish it")).toBeVisible();
      await expect(page.getByRole("button", { name: "Save the correction" })).toBeVisible();
    },
    patterns: async () => {
      await page.goto(`${wren}/patterns`);
      await awake(page);
      for (const one of await page.getByRole("main").locator("section summary").all())
        if (await one.isVisible()) {
          await one.click();
          await page.keyboard.press("Escape");
        }
    },
    "behaviors to choose from": async () => {
      await page.goto(`${wren}/patterns`);
      await awake(page);
      await page.getByText("Behaviors: any").click();
      await page.getByRole("checkbox", { name: "shouting" }).waitFor();
    },
    "several at once": async () => {
      await page.goto(`${wren}/incidents/several`);
      await awake(page);
      await page.getByRole("button", { name: "Save them" }).click();
      await page.getByText("Fill in at least one row.").waitFor();
    },
    "patterns around a plan": async () => {
      await page.goto(`/students/${site.demo.student("Caspian")}/patterns?span=all&by=month`);
      await awake(page);
      await page.getByRole("slider").press("Home");
    },
    "a plan": async () => {
      await page.getByRole("link", { name: "choice of two tasks", exact: true }).click();
      await page.getByRole("heading", { name: "choice of two tasks" }).waitFor();
    },
    "a new plan": async () => {
      await page.goto(`${wren}/plans/new`);
      await awake(page);
      await page.getByRole("button", { name: "Begin it" }).click();
      await page.getByText("What will be tried?").last().waitFor();
    },
    "what an incident asks": async () => {
      await page.goto("/school/incidents");
      await awake(page);
    },
    "progress reports": async () => {
      await page.goto("/progress-reports");
      await awake(page);
      await page.getByRole("heading", { name: "Progress reports" }).waitFor();
    },
    "a progress statement": async () => {
      await page.getByRole("link", { name: "Two-digit subtraction" }).click();
      await page.getByLabel("In your words").waitFor();
      for (const one of await page.locator(".statement summary").all()) await one.click();
    },
    "the school's ratings": async () => {
      await page.goto("/school/ratings");
      await awake(page);
      await page.getByRole("button", { name: "Save the ratings" }).waitFor();
    },
    "a student's circle": async () => {
      await page.goto(`${wren}/circle`);
      await awake(page);
      await page.getByRole("link", { name: "What Teo Brandvold sees" }).click();
      await page.getByRole("heading", { name: "As Teo sees W.A." }).waitFor();
      for (const one of await page.getByRole("main").locator("summary").all()) await one.click();
    },
    "the circles of the school": async () => {
      await page.goto("/school/circles");
      await awake(page);
      await page.getByRole("button", { name: "Add to these circles" }).click();
      await expect(page.getByText("Choose at least one student.")).toBeVisible();
    },
    "the own account": async () => {
      await page.goto("/account");
      await awake(page);
      await page.getByLabel("Current password").fill("not this one");
      await page.getByLabel("New password").fill("short");
      await page.getByRole("button", { name: "Change the password" }).click();
      await expect(page.getByText("Please use at least 12 characters")).toBeVisible();
    },
    "what jots are about": async () => {
      await page.goto("/school/jots");
      await awake(page);
    },
    "who reads reports": async () => {
      await page.goto("/school/audiences/family");
      await awake(page);
      await page.locator(".audience-preview .report-sheet").waitFor();
    },
    "an audience that is added": async () => {
      await page.goto("/school/audiences/own");
      await awake(page);
      await page.locator(".audience-preview .report-sheet").waitFor();
      await page.getByRole("button", { name: "Save for the school" }).click();
      await expect(page.getByText("Give the audience a name.")).toBeVisible();
    },
    "how a student's reports read": async () => {
      await page.goto(`${wren}/audiences/family`);
      await awake(page);
      await page.getByLabel("A table").check();
      await page.getByLabel("Spanish").check();
      await page.locator(".audience-preview .report-sheet[lang=es]").waitFor();
    },
    "a jot": async () => {
      await page.goto(`/record?jot=${site.demo.student("Wren")}`);
      await recording(page);
      await page.getByRole("button", { name: "Work habits" }).click();
      await page.getByText("Link as evidence").click();
      await page.getByRole("button", { name: "Other time …" }).click();
    },
    "a jot that is saved": async () => {
      await page.getByLabel("Note").fill("Began without a word.");
      await touch(page, "Save");
      await page.getByText("in the report").waitFor();
    },
    "a jot's page": async () => {
      const [row] = await site
        .owner<{ student_id: string; jot_id: string }>("pictures")
        .where({ student_id: site.demo.student("Wren") });
      await page.goto(`${wren}/jots/${row?.jot_id ?? ""}`);
      await awake(page);
      await page.getByText("Correct or remove it").click();
    },
    "patterns of the school": async () => {
      await page.goto("/school/patterns");
      await awake(page);
      for (const one of await page.getByRole("main").locator("summary").all()) await one.click();
    },
    "choice lists": async () => {
      await page.goto(`${wren}/choices`);
      await awake(page);
    },
    "no incidents": async () => {
      await page.goto(`/students/${site.demo.student("Yara")}/incidents`);
      await page.getByText("No incidents recorded").waitFor();
    },
  };
}
