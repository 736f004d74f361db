import sharp from "sharp";
import { awake, expect, expectAccessible, margin, readOnly, recording, signIn, test, touch } from "./site.ts";
import { madeReady, tablet, withFolder } from "./tablet.ts";

const photograph = (width: number, height: number, background: string) =>
  sharp({ create: { width, height, channels: 3, background } })
    .jpeg()
    .withExif({ IFD0: { Make: "Phone" } })
    .toBuffer();

withFolder(
  "a jot is written without a network, with a level and a picture, and stands in the report once there is one",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await context.setOffline(true);
    await page.goto(`/record?jot=${site.demo.student("Wren")}`);
    await recording(page);
    await touch(page, "Save");
    await expect(page.getByRole("alert").filter({ hasText: "Write something" })).toBeVisible();
    await page.getByLabel("Note").fill("Packed with the list and waited for Priya.");
    await expect(page.locator("names-under .names-line")).toContainText("May name another student");
    await touch(page, "Work habits");
    await page.getByRole("button", { name: /with a reminder/ }).click();
    const chooser = page.getByLabel("Choose pictures");
    await chooser.setInputFiles({
      name: "IMG_1.HEIC",
      mimeType: "image/heic",
      buffer: Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from("ftypheic"), Buffer.alloc(20)]),
    });
    await expect(page.getByRole("alert").filter({ hasText: "HEIC" })).toContainText("Most Compatible");
    await chooser.setInputFiles({
      ...{ name: "bag.jpg", mimeType: "image/jpeg", buffer: await photograph(2600, 1300, "#4477aa") },
    });
    await expect(page.getByLabel("What picture 1 shows")).toBeFocused();
    await touch(page, "Save");
    await expect(page.getByText("Say in a few words what each picture shows.").first()).toBeVisible();
    await page.getByLabel("What picture 1 shows").fill("A packed bag");
    await expectAccessible(page, "a jot being written");
    // What is half written is still here after the page was closed.
    await page.reload();
    await recording(page);
    await expect(page.getByText("This jot was begun before and not saved.")).toBeVisible();
    await expect(page.getByLabel("What picture 1 shows")).toHaveValue("A packed bag");
    await page.getByLabel("Note").fill("Packed with the list and waited for a peer.");
    await page.keyboard.press("Control+Enter");
    await expect(page.getByText("saved on this device", { exact: true })).toBeVisible();
    await expect(page.getByText(/^Work habits: with a reminder\. Packed with the list/)).toBeVisible();
    await context.setOffline(false);
    await expect(page.getByText("in the report")).toBeVisible();
    await page.getByRole("link", { name: "Done" }).click();
    const jots = page.getByRole("region", { name: "Work habits" });
    await expect(jots).toContainText("With a reminder. Packed with the list and waited for a peer.");
    const picture = page.getByRole("img", { name: "A packed bag", exact: true });
    await picture.scrollIntoViewIfNeeded();
    await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(1280);
    await context.close();
  },
);

test("a jot is corrected on its page, with another picture, and its author's keys lead there", async ({
  page,
  site,
}) => {
  const wren = `/students/${site.demo.student("Wren")}`;
  await signIn(page, "noor");
  await page.goto(wren);
  await awake(page);
  await page.keyboard.press("j");
  await recording(page);
  await expect(page.getByLabel("Note")).toBeFocused();
  await page.keyboard.type("Asked for the red pencil.");
  await page.keyboard.press("Control+Enter");
  await expect(page.getByText("in the report")).toBeVisible();
  await page.goto(wren);
  await awake(page);
  const line = margin(page).getByRole("listitem").filter({ hasText: "Asked for the red pencil." });
  await expect(line).toHaveCount(1);
  const [row] = await site.owner<{ jot_id: string; note: string }>("jots").where({
    note: "Asked for the red pencil.",
  });
  await page.goto(`${wren}/jots/${row?.jot_id ?? ""}`);
  await awake(page);
  await page.getByText("Correct or remove it").click();
  await page.getByLabel("Choose pictures").setInputFiles({
    ...{ name: "pencil.png", mimeType: "image/png" },
    buffer: await sharp({ create: { width: 300, height: 200, channels: 4, background: "#aa3322" } })
      .png()
      .toBuffer(),
  });
  await page.getByLabel("What picture 1 shows").fill("The red pencil");
  await page.getByLabel("Link as evidence").fill("pencils");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Write the whole address, beginning with https://.")).toBeVisible();
  await expect(page.getByLabel("What picture 1 shows")).toHaveValue("The red pencil");
  await page.getByLabel("Link as evidence").fill("");
  await page.getByRole("button", { name: "Save the correction" }).click();
  // It is sent by this device's queue, and the page learns of it by itself.
  const picture = page.getByRole("figure").getByRole("img", { name: "The red pencil" });
  await expect(picture).toBeVisible();
  await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(300);
  await expect(page.getByRole("heading", { name: "History" })).toBeVisible();
  await expectAccessible(page, "a jot's page");
  await page.getByText("Correct or remove it").click();
  await page.getByRole("button", { name: "Remove this jot" }).click();
  await expect(page.getByText("This jot is removed")).toBeVisible();
  await page.goto(wren);
  await expect(margin(page)).not.toContainText("red pencil");
});

readOnly(
  "raters of a rubric have a column each on the goal's page, the student's own first",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Tobias")}/goals/${site.demo.goal("Tobias", "5")}`);
    const raters = page.getByRole("region", { name: "Raters" });
    await expect(raters.getByRole("columnheader").first()).toContainText("The student’s own rating");
    await expect(raters).toContainText(/the same level in \d+\sof\s\d+ comparisons/);
    await raters.getByRole("link").first().click();
    await expect(page.getByText("never counts for the goal")).toBeVisible();
  },
);
