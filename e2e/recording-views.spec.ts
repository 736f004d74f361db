import { v7 as newId } from "uuid";
import { recordedItem } from "../tests/recorded.ts";
import {
  awake,
  choose,
  expect,
  expectAccessible,
  expectLargeTargets,
  recording,
  signIn,
  test,
} from "./site.ts";

const looks = [
  { colorScheme: "light", width: 1280, height: 800 },
  { colorScheme: "dark", width: 390, height: 844 },
  { colorScheme: "light", width: 320, height: 640 },
] as const;

for (const { colorScheme, ...viewport } of looks)
  test(`axe finds nothing on any view of recording, ${colorScheme}, ${viewport.width}×${viewport.height}`, async ({
    page,
    site,
  }) => {
    test.setTimeout(300_000);
    await page.setViewportSize(viewport);
    await page.emulateMedia({ colorScheme, reducedMotion: "reduce" });
    await signIn(page, "noor");
    const other = newId();
    const views: Record<string, () => Promise<void>> = {
      "starting a sitting": async () => {
        await page.goto("/record");
        await recording(page);
      },
      "a sitting of four students": async () => {
        for (const initials of ["C.D.", "E.K.", "J.R.", "W.A."])
          await page.getByRole("checkbox", { name: `${initials} together with others` }).check();
        await page.getByRole("button", { name: "Start together" }).click();
        await page.getByRole("heading", { name: "Sitting", exact: true }).waitFor();
        await page.keyboard.press("1");
      },
      "what else may be said of a goal": async () => {
        await page.keyboard.press("n");
      },
      "a sitting before it is kept": async () => {
        await page.getByRole("button", { name: "Finish" }).click();
        await page.getByRole("heading", { name: "Before it is kept" }).waitFor();
      },
      "the interval prompter": async () => {
        await page.goto("/record");
        await choose(page, "H.M.", /On task/);
        await page.getByRole("button", { name: "Start with H.M." }).click();
        await page.getByRole("heading", { name: "Sitting", exact: true }).waitFor();
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
        await page.getByRole("button", { name: /^Count one/ }).click();
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
        const made = recordedItem(site.demo);
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
    for (const [view, open] of Object.entries(views)) {
      await open();
      await expectAccessible(page, view);
      if (new URL(page.url()).pathname === "/record") await expectLargeTargets(page, view);
    }
  });
