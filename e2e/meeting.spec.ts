import type { Page } from "@playwright/test";
import { awake, expect, expectAccessible, expectNoOverflow, signIn, test } from "./site.ts";

/**
 * What is on the wall is read from four metres on a picture two metres wide: capital letters of 23 mm and more, which are 20 minutes of arc
 * there (ISO 9241-303 recommends 20 to 22; from memory), and of 33 mm and more in the sentence.
 */
async function expectReadFromFar(page: Page): Promise<void> {
  const sizes = await page.evaluate(() => {
    // How high a capital letter of this text is on such a picture, in millimetres; it is 0.7 of the size of the type.
    const high = (one: Element) => {
      const scale = one instanceof SVGGraphicsElement ? (one.getScreenCTM()?.a ?? 1) : 1;
      return (0.7 * parseFloat(getComputedStyle(one).fontSize) * scale * 2000) / innerWidth;
    };
    const all = (within: string) => [...document.querySelectorAll(within)].map(high);
    return {
      sentence: Math.min(...all(".meeting-sentence")),
      labels: Math.min(...all(".meeting-chart :is(svg text, figcaption, dt, dd span, li)")),
    };
  });
  expect(sizes.sentence).toBeGreaterThanOrEqual(33);
  expect(sizes.labels).toBeGreaterThanOrEqual(23);
}

test("a meeting: opened from the report, turned by keys, a clicker and a finger, written in, ended with the edition", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(`${wren}/report`);
  await awake(page);
  await page.getByRole("link", { name: "Meeting", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("What we talk about");
  await expect.poll(() => page.evaluate(() => document.fullscreenElement !== null)).toBe(true);
  const goals = page.getByRole("list").getByRole("button");
  await expect(goals.first()).toHaveText(/^4 Moves to the next activity\s*Behind$/);
  await expectAccessible(page, "the agenda of a meeting");

  // The arrow key, the page key of a clicker, the buttons, a press on a goal.
  const heading = page.getByRole("heading", { level: 1 });
  await page.keyboard.press("ArrowRight");
  await expect(heading).toHaveText("4 Moves to the next activity");
  await page.keyboard.press("PageDown");
  await expect(heading).toHaveText("2b Two-digit subtraction");
  await page.keyboard.press("PageUp");
  await expect(heading).toHaveText("4 Moves to the next activity");
  await page.getByRole("button", { name: "Next →" }).click();
  await expect(heading).toHaveText("2b Two-digit subtraction");
  await page.keyboard.press("Home");
  // Presses that come quickly are all heard.
  for (const key of ["PageDown", "PageDown", "PageDown"]) await page.keyboard.press(key);
  await expect(heading).toHaveText("3 Asks for a break with a card");
  await page.reload();
  await awake(page);
  await expect(heading).toHaveText("3 Asks for a break with a card");
  await page.keyboard.press("Home");
  await goals.nth(1).click();
  await expect(heading).toHaveText("2b Two-digit subtraction");
  await expect(page.getByText("Wren is ahead of what is expected by now.")).toBeVisible();
  await expect(page.getByRole("img", { name: /subtraction|points|Percent/i })).toBeVisible();
  await expectAccessible(page, "a goal in a meeting");
  await expectReadFromFar(page);
  await page.setViewportSize({ width: 1920, height: 1080 });
  await expectReadFromFar(page);
  await page.setViewportSize({ width: 1280, height: 800 });

  // A dark wall, and back; initials only; other readers.
  await page.keyboard.press("b");
  await expect(heading).not.toBeVisible();
  await page.keyboard.press("b");
  await expect(heading).toBeVisible();
  await page.keyboard.press("d");
  await expect(page.getByRole("main")).not.toContainText(/Wren|Abara/);
  await page.keyboard.press("d");
  await page.getByLabel("Read by").selectOption("team");
  await expect(page.getByText("Ahead of the line")).toBeVisible();
  await page.getByLabel("Read by").selectOption("family");
  await expect(page.getByText("Ahead of the line")).toHaveCount(0);

  // What is typed survives an error, a closed form and a reload.
  await page.getByRole("button", { name: "+ Question" }).click();
  const sheet = page.getByRole("dialog");
  await sheet.getByRole("button", { name: "Write it down" }).click();
  await expect(sheet.getByText("Write the question.")).toBeVisible();
  await sheet.getByLabel("The question").fill("Does Tobias do this at home too?");
  await expectAccessible(page, "a form of a meeting");
  await page.keyboard.press("Escape");
  await expect(sheet).toHaveCount(0);
  await page.reload();
  await awake(page);
  await page.getByRole("button", { name: "+ Question" }).click();
  await expect(sheet.getByLabel("The question")).toHaveValue("Does Tobias do this at home too?");
  await sheet.getByLabel("The question").fill("Which coins are at home?");
  await sheet.getByRole("button", { name: "Write it down" }).click();
  await expect(sheet).toHaveCount(0);
  const asked = page.getByRole("region", { name: "Questions", exact: true });
  await expect(asked).toContainText("Which coins are at home?");
  await asked.getByRole("button", { name: "Remove: Which coins are at home?" }).click();
  await expect(asked).toHaveCount(0);
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(asked).toContainText("Which coins are at home?");

  await page.getByRole("button", { name: "+ Decision" }).click();
  await sheet.getByLabel("Keep going").check();
  await sheet.getByLabel("Why").fill("The mat helps.");
  await sheet.getByRole("button", { name: "Add to report" }).click();
  await expect(page.getByRole("region", { name: "Decided and changed" })).toContainText(
    "Decided to keep going.",
  );

  await page.getByRole("button", { name: "+ Criterion" }).click();
  await expect(sheet.getByText("Now 80% in 3 of 4 sessions.")).toBeVisible();
  await sheet.getByLabel("Criterion", { exact: true }).fill("90");
  await sheet.getByRole("button", { name: "Change the goal" }).click();
  await expect(sheet.getByText("Give a reason: it appears in the goal’s history.")).toBeVisible();
  await expect(sheet.getByLabel("Criterion", { exact: true })).toHaveValue("90");
  await sheet.getByLabel("Why").fill("Wren asked for more.");
  await sheet.getByRole("button", { name: "Change the goal" }).click();
  await expect(sheet).toHaveCount(0);
  await expect(page.getByRole("img", { name: /criterion.*90/i })).toBeVisible();

  await page.keyboard.press("End");
  await expect(heading).toHaveText("What we agreed");
  await page.keyboard.press("a");
  await sheet.getByLabel("What was agreed").fill("We meet again in January.");
  await sheet.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("region", { name: "Agreed", exact: true })).toContainText(
    "We meet again in January.",
  );
  await expect(page.getByRole("region", { name: "Decided and changed" })).toContainText(
    /2b Two-digit subtraction: .*90% in 3 of 4 sessions/,
  );
  await expect(page.getByRole("main")).toContainText("2b Two-digit subtraction: Which coins are at home?");
  await expectAccessible(page, "what was agreed");
  await page.setViewportSize({ width: 320, height: 640 });
  await expectNoOverflow(page, "the end of a meeting on a small phone");
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.getByRole("button", { name: "End the meeting and make the edition" }).click();
  await expect(page).toHaveURL(/\/editions\/new\?for=family/);
  await expect.poll(() => page.evaluate(() => document.fullscreenElement)).toBeNull();
  await expect(page.getByText("We meet again in January.")).toBeVisible();
});

test("a finger turns the pages of a meeting, and what a colleague writes comes by itself", async ({
  browser,
  site,
}) => {
  const touch = await browser.newContext({
    ...{
      baseURL: site.web.url,
      hasTouch: true,
      viewport: { width: 1024, height: 700 },
      serviceWorkers: "block",
    },
  });
  const page = await touch.newPage();
  await signIn(page, "noor");
  const meeting = `/students/${site.demo.student("Wren")}/meeting`;
  await page.goto(meeting);
  await awake(page);
  const heading = page.getByRole("heading", { level: 1 });
  const swipe = (from: number, to: number) =>
    page.getByRole("main").evaluate(
      (main, [a, b]) => {
        const at = (clientX: number) => new Touch({ identifier: 1, target: main, clientX, clientY: 300 });
        main.dispatchEvent(new TouchEvent("touchstart", { touches: [at(a)], bubbles: true }));
        main.dispatchEvent(new TouchEvent("touchend", { changedTouches: [at(b)], bubbles: true }));
      },
      [from, to] as const,
    );
  await swipe(800, 300);
  await expect(heading).toHaveText("4 Moves to the next activity");
  // A touch that hardly moves turns nothing.
  await swipe(400, 370);
  await swipe(300, 800);
  await expect(heading).toHaveText("What we talk about");
  await swipe(800, 300);
  await expect(heading).toHaveText("4 Moves to the next activity");

  const other = await touch.newPage();
  await other.goto(`${meeting}?at=agreed`);
  await awake(other);
  await other.getByRole("button", { name: "+ Agreed" }).click();
  await other.getByRole("dialog").getByLabel("What was agreed").fill("A timer on the desk.");
  await other.getByRole("dialog").getByRole("button", { name: "Write it down" }).click();
  await expect(other.getByRole("region", { name: "Agreed", exact: true })).toContainText(
    "A timer on the desk.",
  );
  await page.bringToFront();
  await page.keyboard.press("End");
  await expect(page.getByRole("region", { name: "Agreed", exact: true })).toContainText(
    "A timer on the desk.",
  );
  await touch.close();
});

test("own notes open beside the wall, follow its pages, and are saved as they are typed", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/meeting`);
  await awake(page);
  const opening = page.waitForEvent("popup");
  await page.getByRole("link", { name: "My notes" }).click();
  const notes = await opening;
  await awake(notes);
  const whole = notes.getByRole("region", { name: "For the whole meeting" });
  await expect(whole).toHaveAttribute("aria-current", "true");
  const ofGoal = notes.getByRole("region", { name: "4 Moves to the next activity" });
  await ofGoal.getByRole("textbox").fill("Ask about the bell.");
  await expect(ofGoal.getByText("Saved")).toBeVisible();
  await page.keyboard.press("ArrowRight");
  await expect(ofGoal).toHaveAttribute("aria-current", "true");
  await expect(whole).not.toHaveAttribute("aria-current", "true");
  await expect(page.getByRole("main")).not.toContainText("Ask about the bell.");
  await notes.getByText("Read them on a phone").click();
  await expectAccessible(notes, "own notes of a meeting");
  await notes.setViewportSize({ width: 320, height: 640 });
  await expectNoOverflow(notes, "own notes on a phone");
  await notes.reload();
  await awake(notes);
  await expect(ofGoal.getByRole("textbox")).toHaveValue("Ask about the bell.");

  // Without a network what is typed stays, and is saved when one presses again.
  await notes.context().setOffline(true);
  await ofGoal.getByRole("textbox").fill("Ask about the bell. And the song.");
  await expect(ofGoal.getByText(/^Not saved yet/)).toBeVisible();
  await notes.context().setOffline(false);
  await ofGoal.getByRole("button", { name: "Save again" }).click();
  await expect(ofGoal.getByText("Saved", { exact: true })).toBeVisible();
});
