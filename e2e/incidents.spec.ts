import { v7 as newId } from "uuid";
import { choice, incidentItem, keep } from "../tests/recorded.ts";
import { signedIn } from "../tests/session.ts";
import { awake, expect, margin, recording, settled, signIn, test, touch } from "./site.ts";
import { backWithoutSession, crash, madeReady, tablet, typeSignIn, withFolder } from "./tablet.ts";
import { daysAgo, testNow } from "../tests/clock.ts";

const yesterday = () => daysAgo(1);

test("a usual incident takes six touches from the student's page, and stands in the report at once", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/incidents`);
  await awake(page);
  await page.evaluate(() =>
    addEventListener(
      "click",
      () => sessionStorage.setItem("touches", String(Number(sessionStorage.getItem("touches")) + 1)),
      true,
    ),
  );
  await page.getByRole("link", { name: "Record an incident" }).click();
  await touch(page, "playground");
  await touch(page, "had to wait");
  await touch(page, "throwing things");
  await touch(page, "reminded in words");
  await touch(page, "Save");
  await expect(page.getByText("in the report")).toBeVisible();
  expect(await page.evaluate(() => sessionStorage.getItem("touches"))).toBe("6");
  await page.getByRole("link", { name: "Done" }).click();
  const line = "Throwing things (playground). Antecedent: had to wait. Consequence: reminded in words.";
  await expect(page.getByRole("link", { name: line }).first()).toBeVisible();
  await expect(margin(page).getByText(line).first()).toBeVisible();
  expect(await page.title()).not.toMatch(/throwing/i);
});

test("an incident is written by keys alone: the student's own page, arrows within a list, Ctrl and Enter", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}`);
  await awake(page);
  await page.keyboard.press("i");
  await page.getByRole("region", { name: "Where" }).waitFor();
  await page.getByRole("button", { name: "hitting or kicking" }).focus();
  await page.keyboard.press("ArrowDown");
  const focused = page.locator(":focus");
  const name = (await focused.textContent()) ?? "";
  await page.keyboard.press("Space");
  await expect(focused).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("Control+Enter");
  await expect(
    page.getByRole("region", { name: "Incident saved" }).getByText(name, { exact: false }),
  ).toBeVisible();
  // Without a behavior it is not saved, says so, and keeps what was chosen.
  await page.getByRole("button", { name: "Another of W.A." }).click();
  await touch(page, "had to wait");
  await page.keyboard.press("Control+Enter");
  await expect(page.getByRole("alert")).toHaveText("Say what the student did: touch at least one.");
  await expect(page.getByRole("button", { name: "had to wait" })).toHaveAttribute("aria-pressed", "true");
});

withFolder(
  "without a network incidents are kept, one half written survives a crash, and each arrives once @slow",
  async ({ site, folder }) => {
    let context = await tablet(folder, site.web.url);
    let page = context.pages()[0] ?? (await context.newPage());
    await madeReady(page);
    await context.setOffline(true);
    await page.goto("/record?incident");
    await recording(page);
    await page.getByRole("button", { name: "Incident of C.D." }).click();
    await page.getByRole("button", { name: "20 min ago" }).click();
    await page
      .getByRole("region", { name: "What C.D. did" })
      .getByRole("button", { name: "other …" })
      .click();
    await page.getByLabel("Other words, What C.D. did").fill("Rolled under the bench");
    await page.keyboard.press("Enter");
    await touch(page, "Save");
    await expect(page.getByText("saved on this device", { exact: true })).toBeVisible();
    await touch(page, "Another like this");
    await expect(page.getByRole("button", { name: "Rolled under the bench" })).toHaveAttribute(
      "aria-pressed",
      "true",
    );
    await touch(page, "told no");
    await settled(page);
    await crash(context);

    context = await tablet(folder, site.web.url);
    page = context.pages()[0] ?? (await context.newPage());
    await context.setOffline(true);
    await page.goto("/record?incident");
    await recording(page);
    await expect(page.getByText("This one was begun before and not saved.")).toBeVisible();
    await expect(page.getByRole("button", { name: "told no" })).toHaveAttribute("aria-pressed", "true");
    await touch(page, "Save");
    await expect(page.getByText("saved on this device", { exact: true })).toBeVisible();
    await backWithoutSession(context);
    await expect(
      page.getByText("Your session is over; recording goes on: 2 saved on this device"),
    ).toBeVisible({
      timeout: 90_000,
    });
    await page.getByRole("link", { name: "Sign in" }).click();
    await typeSignIn(page);
    await recording(page);
    const told = () =>
      site
        .owner("incidents")
        .where({ student_id: site.demo.student("Caspian") })
        .whereRaw("saved_at > clock_now() - interval '1 hour'");
    await expect.poll(async () => (await told()).length, { timeout: 60_000 }).toBe(2);
    // Nothing waits any more, and nothing came twice.
    await expect(page.getByText(/saved on this device|^Sending/)).toHaveCount(0);
    expect(await told()).toHaveLength(2);
    expect(await site.owner("choices").where({ name: "Rolled under the bench" })).toHaveLength(1);
    await context.close();
  },
);

test("two adults who tell of the same incident are asked, and it is counted once", async ({ page, site }) => {
  const teo = await signedIn(site.web.url, "teo");
  const theirs = incidentItem(site.demo, {
    observedAt: new Date(testNow() - 4 * 60_000).toISOString(),
    chosen: { behavior: [choice("shouting")] },
  });
  expect(await keep(teo, theirs)).toEqual({ outcome: "saved" });
  await signIn(page, "noor");
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await touch(page, "shouting");
  await touch(page, "Save");
  await expect(
    page.getByText(/T\. Brandvold wrote down one at \d\d:\d\d\. Is it the same one\?/),
  ).toBeVisible();
  await touch(page, "Yes, join the two");
  await expect.poll(async () => (await site.owner("incidents").where({ same_as: theirs.id })).length).toBe(1);
  await page.getByRole("link", { name: "Done" }).click();
  await expect(page.getByText("another account of the same incident, counted once")).toBeVisible();
  await page.getByText("another account of the same incident").click();
  await page.getByRole("button", { name: "They are two" }).click();
  await expect(page.getByText("Another account of")).toHaveCount(0);
});

test("a clock says how long it lasted; one still going on is finished later", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await touch(page, "Start a clock");
  await touch(page, "shouting");
  await touch(page, "Save, still going on");
  await expect(page.getByText("Still going on when recorded.").first()).toBeVisible();
  await expect(page.getByText("in the report")).toBeVisible();
  await page.getByRole("link", { name: "Done" }).click();
  await page.getByRole("link", { name: /still going on when recorded: open it/ }).click();
  await expect(page.getByText("Finish it")).toBeVisible();
  await page.getByLabel("It is still going on").uncheck();
  await page.getByLabel("or exactly").fill("6.5");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Duration 6.5\u00a0min").first()).toBeVisible();
  const [row] = await site
    .owner<{ ongoing: boolean; revision: number; content: unknown }>("incidents")
    .orderBy("incident_id", "desc")
    .limit(1);
  expect(row).toMatchObject({
    ongoing: false,
    revision: 2,
    content: { details: { length: { minutes: 6.5 } } },
  });
});

test("an incident is corrected, removed and put back, with its history; an outdated page changes nothing", async ({
  page,
  site,
}) => {
  const teo = await signedIn(site.web.url, "teo");
  const item = incidentItem(site.demo, {
    began: { as: "time", local: `${yesterday()}T10:32` },
    chosen: { behavior: [choice("shouting")], consequence: [choice("a break")] },
  });
  expect(await keep(teo, item)).toEqual({ outcome: "saved" });
  await signIn(page, "noor");
  const path = `/students/${site.demo.student("Wren")}/incidents/${item.id}`;
  const late = await page.context().newPage();
  for (const one of [page, late]) {
    await one.goto(path);
    await awake(one);
    await one.getByText("Correct or remove it").click();
  }
  await touch(page, "crying");
  await page.getByRole("button", { name: "Other time …" }).click();
  await page.getByLabel("or only the period").selectOption({ index: 1 });
  await page.getByLabel("Reason for the change").fill("asked Teo");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Shouting and crying.").first()).toBeVisible();
  await expect(page.getByText("Reason: asked Teo")).toBeVisible();
  await late.getByLabel("Note").fill("typed for long");
  await expect(late.getByText("This incident was changed while you were here.")).toBeVisible();
  await late.getByRole("button", { name: "Save the correction" }).click();
  await expect(late.getByText("This incident was changed in the meantime.")).toBeVisible();
  await expect(late.getByLabel("Note")).toHaveValue("typed for long");
  await page.getByText("Correct or remove it").click();
  await page.getByRole("button", { name: "Remove this incident" }).click();
  await expect(page.getByText("This incident is removed")).toBeVisible();
  await expect(margin(page).getByRole("link", { name: /Shouting and crying/ })).toHaveCount(0);
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(margin(page).getByRole("link", { name: /Shouting and crying/ })).toHaveCount(1);
  const steps = page.getByRole("heading", { name: "History" }).locator("+ ol").getByRole("listitem");
  await expect(steps.getByText(/^(Recorded|Corrected|Removed|Put back)$/)).toHaveText([
    ...["Recorded", "Corrected", "Removed", "Put back"],
  ]);
});

test("choice lists are renamed with their history, retired, brought back, and copied", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(`${wren}/choices`);
  await awake(page);
  const behaviors = page.getByRole("region", { name: "Behavior", exact: true });
  const save = page.getByRole("button", { name: "Save the lists" });
  const before = behaviors.getByLabel("behavior 1", { exact: true });
  const old = await before.inputValue();
  await before.fill("calling out loudly");
  await behaviors.getByRole("button", { name: "Take crying out" }).click();
  await save.click();
  await expect(behaviors.getByText("Not offered any more")).toBeVisible();
  await page.goto(`${wren}/incidents`);
  await expect(page.getByText(new RegExp(`^${old}`, "i"))).toHaveCount(0);
  await expect(page.getByRole("link", { name: /calling out loudly/i }).first()).toBeVisible();
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await expect(page.getByRole("button", { name: "calling out loudly" })).toBeVisible();
  await expect(page.getByRole("button", { name: "crying", exact: true })).toHaveCount(0);
  await page.goto(`${wren}/choices`);
  await awake(page);
  await behaviors.getByText("Not offered any more").click();
  await page.getByRole("button", { name: "crying: offer it again" }).click();
  // Two of one name are refused beside the list, and what was typed stays.
  const lines = behaviors.getByRole("textbox", { name: /^behavior \d+$/ });
  await lines.last().fill("Crying");
  await save.click();
  await expect(behaviors.getByText("“Crying” is listed twice.")).toBeVisible();
  await lines.nth((await lines.count()) - 2).fill("weeping quietly");
  await save.click();
  await expect(behaviors.getByText("is listed twice")).toHaveCount(0);
  const yara = `/students/${site.demo.student("Yara")}/choices`;
  await page.goto(yara);
  await page.getByLabel("Add the lists of").selectOption("Wren Abara");
  await page.getByRole("button", { name: /copy what is not here yet/ }).click();
  await expect(behaviors.getByLabel("What counts as calling out loudly")).toHaveValue(/Louder than/);
  const names = behaviors.getByRole("textbox", { name: /^behavior \d+$/ });
  await expect
    .poll(() => names.evaluateAll((all) => all.map((one) => (one as HTMLInputElement).value)))
    .toContain("weeping quietly");
});

test("a day or a period in which nothing happened is said in one touch, stands there again, and is taken back", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const on = (weekday: number) => ({ weekday, name: "Quiet hour", starts_at: "00:00", ends_at: "00:01" });
  await site.owner("timetable").insert(
    [1, 2, 3, 4, 5, 6, 7].map((weekday) => ({
      school_id: site.demo.schoolId,
      slot_id: newId(),
      ...on(weekday),
    })),
  );
  await page.goto("/record?incident");
  const none = (of: string) =>
    page.getByRole("group", { name: `${of}, W.A.` }).getByRole("button", { name: "none", exact: true });
  const said = (period: string) =>
    site
      .owner("watched_days")
      .where({ student_id: site.demo.student("Wren"), state: "none", period })
      .orderBy("watched_on");
  for (const [of, period] of [
    ["Today", ""],
    ["Quiet hour", "Quiet hour"],
  ] as const) {
    await page.getByLabel("None, not observed or absent in").selectOption(period);
    const before = (await said(period)).length;
    await none(of).click();
    await expect.poll(async () => (await said(period)).length).toBe(before + 1);
    // Known anew from the server: what was said is not asked twice.
    await page.reload();
    await page.getByLabel("None, not observed or absent in").selectOption(period);
    await expect(none(of)).toHaveAttribute("aria-pressed", "true");
    await none(of).click();
    await expect.poll(async () => (await said(period)).length).toBe(before);
  }
  // Away for a period is taken back like the others.
  const absent = page
    .getByRole("group", { name: "Quiet hour, W.A." })
    .getByRole("button", { name: "absent", exact: true });
  await absent.click();
  await expect(absent).toHaveAttribute("aria-pressed", "true");
  await absent.click();
  await expect(absent).toHaveAttribute("aria-pressed", "false");
});

test("an incident still going on waits on Today until somebody says how it ended", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(`/record?incident=${site.demo.student("Wren")}`);
  await touch(page, "shouting");
  await touch(page, "Start a clock");
  await touch(page, "Save, still going on");
  await expect(page.getByText("in the report")).toBeVisible();
  await page.goto("/today");
  await page.getByRole("link", { name: "Finish the incident of Wren Abara" }).click();
  await page.getByText("Still going on when recorded.").first().waitFor();
  await page.goBack();
  await expect(page.getByRole("region", { name: "Incidents to finish" })).toBeVisible();
});

test("several incidents of one morning are written in rows; a row without what was done is said, and nothing typed is lost", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/incidents`);
  await awake(page);
  await page.getByRole("link", { name: "Several at once" }).click();
  const row = (number: number) => page.getByRole("group", { name: `Incident ${number}`, exact: true });
  for (const [number, time] of [
    [1, "09:05"],
    [2, "09:40"],
    [3, "10:20"],
  ] as const) {
    await row(number).getByLabel("Time").fill(time);
    if (number !== 2) await row(number).getByLabel("What was done").selectOption("shouting");
  }
  await row(1).getByLabel("Just before").selectOption("told no");
  await page.getByRole("button", { name: "Save them" }).click();
  await expect(page.getByText("Say what the student did.")).toBeVisible();
  await expect(row(3).getByLabel("Time")).toHaveValue(/^10:20\sAM$/);
  await row(2).getByLabel("What was done").selectOption("crying");
  await page.getByRole("button", { name: "Save them" }).click();
  await expect(page.getByRole("heading", { name: /^Incidents ·/ })).toBeVisible();
  for (const line of [/Shouting\. Antecedent: told no\./, /^Crying\./])
    await expect(margin(page).getByText(line).first()).toBeVisible();
});

test("the list is found by what it says, and prints as one student's record", async ({ page, site }) => {
  await signIn(page, "noor");
  const list = `/students/${site.demo.student("Wren")}/incidents`;
  await page.goto(list);
  await awake(page);
  const lines = page.getByRole("region", { name: "Incidents" }).getByRole("listitem");
  const all = await lines.count();
  await page.getByLabel("Words").pressSequentially("quiet place");
  await expect(page).toHaveURL(/words=quiet/);
  await expect(lines.filter({ hasNotText: "quiet place" })).toHaveCount(0);
  await expect.poll(() => lines.count()).toBeLessThan(all);
  await page.getByLabel("Choice").selectOption("told no");
  await expect(page).toHaveURL(/choice=/);
  await expect(lines.filter({ hasNotText: /told no.*quiet place/ })).toHaveCount(0);
  const few = await lines.count();
  await page.goBack();
  await expect.poll(() => lines.count()).toBeGreaterThan(few);
  await expect(page.getByLabel("Choice")).toHaveValue("");
  await expect(page.getByLabel("Words")).toHaveValue("quiet place");
  await page.getByLabel("Words").fill("no such words");
  await expect(page.getByText("None of these")).toBeVisible();
  await page.goto(list);
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("main").getByRole("link", { name: "Wren Abara", exact: true })).toBeVisible();
  await expect(page.getByText(/printed \w+ \d+, /)).toBeVisible();
  await expect(page.getByRole("navigation").first()).toBeHidden();
  const text = await page.locator("body").innerText();
  expect(text).not.toMatch(/Caspian|Malik|Lumi|C\.D\./);
});
