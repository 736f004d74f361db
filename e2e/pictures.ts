import type { Page } from "@playwright/test";
import { v7 as newId } from "uuid";
import { demoFamilyLink } from "../demo/school.ts";
import { makeFamilyCode } from "../server/auth/family.ts";
import { addMessages } from "../server/db/messages.ts";
import { withScope } from "../server/db/school.ts";
import { openSending } from "../tests/sending.ts";
import { choose, margin, recording, type Site, signIn, test } from "./site.ts";

const folder = process.env["GENTLE_MARGIN_PICTURES"] ?? "test-results/pictures";

/** The family's page on a phone, of a guardian who has shown a code. */
async function takeFamilyPage(page: Page, site: Site): Promise<void> {
  const guardian: { guardian_id: string } | undefined = await site
    .owner("guardians")
    .where({ name: "Marisol Reyes" })
    .first("guardian_id");
  const code = await makeFamilyCode(site.app, site.demo.schoolId, guardian?.guardian_id ?? "");
  await page.goto(`/family/open/${demoFamilyLink}`);
  await page.getByLabel("Código").fill(code ?? "");
  await page.getByRole("button", { name: "Abrir" }).click();
  await page.getByRole("heading", { name: "Junie" }).waitFor();
  await take(page, "family-page");
}

/** What arrives in the demo's mailbox: the summary of a day, and a message to a family in Spanish. */
async function takeMailbox(page: Page, site: Site): Promise<void> {
  const { schoolId } = site.demo;
  const sending = await openSending(site, schoolId);
  await sending.atAnyTime();
  const [lumi, malik] = [site.demo.student("Lumi"), site.demo.student("Malik")];
  const entries = await site.owner("entries").where({ student_id: lumi }).limit(3);
  const [incident] = await site.owner("incidents").where({ student_id: malik }).limit(1);
  const [guardian] = await site.owner("guardians").where({ name: "Marisol Reyes" });
  const ids = [newId(), newId()];
  await withScope(site.app, { kind: "job", schoolId, name: "pictures" }, null, (scope) =>
    addMessages(scope, [
      {
        messageId: ids[0] ?? "",
        ...{ kind: "digest", reader: { personId: site.demo.person("noor").personId }, studentId: null },
        about: {
          news: [
            { kind: "entry", studentId: lumi, things: entries.map(({ entry_id }) => entry_id) },
            { kind: "incident", studentId: malik, things: [incident?.incident_id ?? ""] },
          ],
        },
      },
      {
        messageId: ids[1] ?? "",
        ...{ kind: "edition", reader: { guardianId: guardian?.guardian_id ?? "" } },
        ...{ studentId: guardian?.student_id ?? null, about: { things: [newId()] } },
      },
    ]),
  );
  // Whatever the hour, and whether the site's own worker, which has no mail server, was there first.
  await site
    .owner("messages")
    .whereIn("message_id", ids)
    .update({ state: "waiting", is_urgent: true, why: null, next_at: new Date(0) });
  await sending.deliver();
  await page.goto(sending.mailbox.url);
  await take(page, "mailbox");
  await sending.stop();
}

/** Takes a picture once the type is there and nothing moves. */
async function take(page: Page, name: string): Promise<void> {
  await page.evaluate(async () => {
    await document.fonts.ready;
    await Promise.all(document.getAnimations().map((animation) => animation.finished.catch(() => undefined)));
  });
  await page.screenshot({ path: `${folder}/${name}.png` });
}

/** Begins a sitting of just these goals. */
async function begin(page: Page, chosen: [initials: string, goal: RegExp][]): Promise<void> {
  await page.goto("/record");
  await recording(page);
  for (const [initials, goal] of chosen) {
    await choose(page, initials, goal);
    if (chosen.length > 1)
      await page.getByRole("checkbox", { name: `${initials} together with others` }).check();
  }
  const [[first]] = chosen as [[string, RegExp]];
  await page
    .getByRole("button", { name: chosen.length > 1 ? "Start together" : `Start with ${first}` })
    .click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
}

async function writeIncident(page: Page, studentId: string, chosen: readonly string[]): Promise<void> {
  await page.goto(`/record?incident=${studentId}`);
  for (const name of chosen) await page.getByRole("button", { name, exact: true }).click();
  await page.evaluate(() => scrollTo(0, 0));
}

test("the pictures of the guide", async ({ page, site }) => {
  await page.emulateMedia({ reducedMotion: "reduce" });
  await signIn(page, "noor");
  await page.goto("/caseload");
  await take(page, "caseload");

  const wren = `/students/${site.demo.student("Wren")}`;
  await page.setViewportSize({ width: 390, height: 844 });
  await begin(page, [["W.A.", /Two-digit subtraction/]]);
  for (const key of "11011101") await page.keyboard.press(key);
  for (const key of "10") await page.keyboard.press(key);
  await page.keyboard.press("n");
  await page
    .getByLabel("Note")
    .fill("Regrouping across a zero was still hard; she checked two answers without being asked.");
  await page.getByRole("button", { name: /^Save/ }).click();
  await page.locator("canvas").waitFor();
  await page.setViewportSize({ width: 1280, height: 800 });
  await margin(page).waitFor();
  await page.reload();
  await page.locator("canvas").waitFor();
  await take(page, "student");
  await page.goto(`${wren}/report`);
  await take(page, "report");
  await page.goto(`${wren}/meeting`);
  await page.locator("main[data-ready]").waitFor();
  await page.keyboard.press("PageDown");
  await page.keyboard.press("PageDown");
  await page.getByRole("heading", { name: "2b Two-digit subtraction" }).waitFor();
  await take(page, "meeting");
  await page.goto("/dispatch");
  await page.locator(".notebook[data-ready]").waitFor();
  await take(page, "dispatch");
  await takeMailbox(page, site);
  await page.goto("/coverage");
  await page.locator(".notebook[data-ready]").waitFor();
  await page.evaluate(() => document.querySelector("#goals")?.scrollIntoView());
  await take(page, "coverage");
  await page.goto(`${wren}/access?who=outside`);
  await page.locator(".notebook[data-ready]").waitFor();
  await take(page, "access-record");
  await page.goto(`${wren}/circle`);
  await page.locator(".notebook[data-ready]").waitFor();
  await page.getByText("Change or end").nth(4).click();
  await take(page, "circle");
  await page.goto("/progress-reports");
  await page.locator(".notebook[data-ready]").waitFor();
  await take(page, "progress-reports");
  await page.getByRole("link", { name: "Moves to the next activity" }).click();
  await page
    .getByLabel("In your words")
    .fill("Wren does well when she knows what comes next. From Monday she carries a picture strip.");
  await page.getByText("little progress").click();
  await take(page, "statement");

  await page.goto(`${wren}/goals/new`);
  await page.locator("[data-ready] textarea").first().waitFor();
  await page
    .getByLabel("Wording", { exact: true })
    .fill(
      "By March 14, 2027, given a third-grade passage, Wren will read aloud at 90 words per minute with 95% accuracy across three consecutive sessions.",
    );
  await page.locator("q", { hasText: "90 words per minute" }).first().waitFor();
  await take(page, "goal-set-up");
  await page.goto("/school/calendar");
  await take(page, "calendar");
  await page.goto(`/students/${site.demo.student("Caspian")}/patterns`);
  await page.locator(".notebook[data-ready]").waitFor();
  const axis = page.getByRole("slider");
  await axis.press("ArrowRight");
  await axis.press("ArrowRight");
  await page.evaluate(() =>
    scrollBy(0, (document.querySelector("[aria-labelledby=change]")?.getBoundingClientRect().top ?? 0) - 20),
  );
  await take(page, "patterns");
  await page.setViewportSize({ width: 390, height: 844 });
  await writeIncident(page, site.demo.student("Caspian"), ["classroom", "told no"]);
  await take(page, "incident-phone");
  await takeFamilyPage(page, site);
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto("/record?incident");
  await page.getByRole("button", { name: "Start over" }).click();
  await writeIncident(page, site.demo.student("Wren"), [
    "classroom",
    "change from a liked to a disliked task",
    "hitting or kicking",
    "a break",
  ]);
  await take(page, "incident");
  await page.getByRole("button", { name: "Start over" }).click();
  await begin(page, [
    ["W.A.", /Asks for a break/],
    ["O.F.", /Reads the recipe/],
  ]);
  for (const key of "1132") await page.keyboard.press(key);
  await page.keyboard.press("ArrowRight");
  for (const key of "110111") await page.keyboard.press(key);
  await take(page, "sitting");
  await page.getByRole("button", { name: "Finish" }).click();
  await page.goto("/today");
  await page.locator(".notebook[data-ready]").waitFor();
  await take(page, "today");
});
