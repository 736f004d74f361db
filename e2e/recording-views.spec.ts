import { awake, expect, expectAccessible, recording, signIn, test } from "./site.ts";

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
        await page.getByRole("button", { name: "Not as planned" }).first().click();
      },
      "a sitting before it is kept": async () => {
        await page.getByRole("button", { name: "Finish" }).click();
        await page.getByRole("heading", { name: "Before it is kept" }).waitFor();
      },
      "the interval prompter": async () => {
        await page.goto("/record");
        await page
          .getByRole("list", { name: "Goals of H.M." })
          .getByRole("checkbox", { name: /On task/ })
          .check();
        await page.getByRole("button", { name: "Start with H.M." }).click();
        await page.getByRole("heading", { name: "Sitting", exact: true }).waitFor();
        const other = page.getByRole("button", { name: /On task in group work/ });
        if (await other.isVisible()) await other.click();
        await page.getByRole("button", { name: /^Start/ }).click();
        await expect(page.getByText("Wait for the signal")).toBeVisible();
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
    }
  });
