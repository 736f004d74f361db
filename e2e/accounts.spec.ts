import { test as base } from "@playwright/test";
import { openMailbox } from "../demo/mailbox.ts";
import { demoPassword, emailOf, people } from "../demo/school.ts";
import { codeAt } from "../server/auth/second-step.ts";
import { makeSchool, makeSetUpCode } from "../server/db/accounts.ts";
import { openThrowaway } from "../tests/database.ts";
import { startWebServer } from "../tests/web-server.ts";
import { awake, expect, expectAccessible, margin, recording, signIn, test } from "./site.ts";

const password = "seven quiet herons";

base(
  "a school is founded, a colleague invited by mail, records on another device, and is shown out when the membership ends",
  async ({ page, browser }) => {
    const db = await openThrowaway("empty");
    const mailbox = await openMailbox();
    const web = await startWebServer(db.pooled.url, {
      ...db.pooled.env,
      SMTP_URL: mailbox.smtpUrl,
      MAIL_FROM: "margin@heron.example",
    });
    const elsewhere = async (width = 1280, height = 800) =>
      (await browser.newContext({ baseURL: web.url, viewport: { width, height } })).newPage();
    try {
      // Nobody is first without the code that the console shows.
      await page.goto(`${web.url}/first-run`);
      const fill = async (code: string) => {
        await page.getByLabel("Set-up code").fill(code);
        await page.getByLabel("Password").fill(password);
        await page.getByRole("button", { name: "Set up the school" }).click();
      };
      await page.getByLabel("School").fill("Heron Point School");
      await page.getByLabel("Given name").fill("Ada");
      await page.getByLabel("Family name").fill("Marsh");
      await page.getByLabel("E-mail").fill("ada@heron.example");
      await fill("23456-789ab");
      await expect(page.getByText("This is not the code.")).toBeVisible();
      await expect(page.getByLabel("School")).toHaveValue("Heron Point School");
      await fill((await makeSetUpCode(db.owner)) ?? "");
      await expect(page.getByRole("heading", { name: "No students yet" })).toBeVisible();

      await page.goto(`${web.url}/school/accounts`);
      await awake(page);
      await page.getByRole("link", { name: "Invite new colleagues" }).click();
      const list = page.getByLabel("One person a line: name, e-mail, position");
      await list.fill("Ana Ruiz, ana@heron.example, Classroom aide\nNobody, without an address");
      await page.getByRole("button", { name: "Invite them" }).click();
      await expect(page.getByText("Line 2 has no e-mail. Nobody was invited yet.")).toBeVisible();
      await list.fill("Ana Ruiz, ana@heron.example, Classroom aide\nBo Lind <bo@heron.example>");
      await page.getByRole("button", { name: "Invite them" }).click();
      await expect(page.getByRole("img", { name: /The link for Ana Ruiz/ })).toBeVisible();
      await expectAccessible(page, "invitations");
      const shown = await page
        .getByRole("listitem")
        .filter({ hasText: "Bo Lind" })
        .getByText(/\/join\//)
        .innerText();

      // Ana opens what was mailed; Bo what was shown, and it was taken back.
      const mailed = () => mailbox.messages.find(({ to }) => to === "ana@heron.example");
      await expect.poll(() => mailed() !== undefined, { timeout: 15_000 }).toBe(true);
      await page.goto(`${web.url}/school/accounts`);
      await awake(page);
      await page.getByRole("button", { name: /^Take the link back.*Bo Lind/ }).click();
      await expect(page.getByText("The link is taken back.")).toBeVisible();
      await expectAccessible(page, "accounts");
      const second = await elsewhere(390, 844);
      await second.goto(shown);
      await expect(second.getByRole("heading", { name: "This link is no longer good" })).toBeVisible();
      await second.goto(/http\S+/.exec(mailed()?.text ?? "")?.[0] ?? "");
      await expectAccessible(second, "an invitation");
      await second.getByLabel("Password").first().fill("short");
      await second.getByRole("button", { name: "Make my account" }).click();
      await expect(second.getByText("Please use at least 12 characters")).toBeVisible();
      await second.getByLabel("Password").first().fill(password);
      await second.getByRole("button", { name: "Make my account" }).click();
      await expect(second.getByRole("heading", { name: /students/i })).toBeVisible();

      // The founder adds a student with a goal, and Ana to the circle.
      await page.goto(`${web.url}/students/new`);
      await awake(page);
      await page.getByLabel("Given name").fill("Kestrel");
      await page.getByRole("button", { name: "Add the student" }).click();
      await page.getByRole("link", { name: "Set up the first goal" }).click();
      await awake(page);
      await page
        .getByLabel("Wording", { exact: true })
        .fill("Given 5 shapes, Kestrel will name each shape with 80% accuracy in 3 of 4 sessions.");
      await expect(page.getByLabel("Kind")).not.toHaveValue("");
      await page.getByRole("button", { name: "Save the goal" }).click();
      await page.getByRole("link", { name: "Circle", exact: true }).click();
      await awake(page);
      await page.getByLabel("Find staff by name or position").fill("ana");
      await page.getByRole("checkbox", { name: /Ana Ruiz/ }).check();
      await page.getByRole("button", { name: "Add", exact: true }).click();
      await expect(
        page.getByRole("listitem").filter({ has: page.locator("b", { hasText: "Ana Ruiz" }) }),
      ).toContainText("records");

      // On a third device Ana records a point.
      const third = await elsewhere();
      await third.goto("/sign-in");
      await third.getByLabel("E-mail").fill("ana@heron.example");
      await third.getByLabel("Password").fill(password);
      await third.getByRole("button", { name: "Sign in", exact: true }).click();
      await third
        .getByRole("navigation", { name: "Students" })
        .getByRole("link", { name: /Kestrel/ })
        .click();
      await third.getByRole("link", { name: /^Record 1/ }).click();
      await recording(third);
      for (let marked = 0; marked < 5; marked += 1)
        await third.getByRole("button", { name: /^Correct/ }).click();
      await third.getByRole("button", { name: /^(Save|Finish)/ }).click();
      const review = third.getByRole("button", { name: /^Save 1 line/ });
      const point = margin(third).getByText(/5\sof\s5 correct/);
      await expect(review.or(point).first()).toBeVisible();
      if (await review.isVisible()) await review.click();
      await expect(point).toBeVisible();
      await expect(third.locator("html")).toHaveAttribute("data-live", "idle");

      // Signed out there: the open page is led to the sign-in at once. Then the last day: no sign-in any more.
      await page.goto(`${web.url}/school/accounts`);
      await page.getByRole("link", { name: "Sign-ins of Ana Ruiz" }).click();
      await awake(page);
      await expectAccessible(page, "the sign-ins of a person");
      await page.getByRole("button", { name: "Sign out everywhere" }).click();
      await expect(third.getByRole("heading", { name: "Sign in" })).toBeVisible({ timeout: 4000 });
      await third.getByLabel("E-mail").fill("ana@heron.example");
      await third.getByLabel("Password").fill(password);
      await third.getByRole("button", { name: "Sign in", exact: true }).click();
      await awake(third);
      await db.owner("people").where({ email: "ana@heron.example" }).update({ left_on: "2026-01-01" });
      await third.goto("/caseload");
      await expect(third.getByRole("heading", { name: "Sign in" })).toBeVisible();
      await third.getByLabel("E-mail").fill("ana@heron.example");
      await third.getByLabel("Password").fill(password);
      await third.getByRole("button", { name: "Sign in", exact: true }).click();
      await expect(third.getByText("This account is in no school today.")).toBeVisible();
    } finally {
      await web.stop();
      await mailbox.stop();
      await db.close();
    }
  },
);

test("one account in two schools: chosen after sign-in, and a page of one school saves nothing in the other", async ({
  page,
  site,
}) => {
  const token = await makeSchool(site.owner, {
    ...{ name: "Heron Point School", timeZone: "America/New_York", locale: "en-US" },
    ...{ givenName: "Ines", familyName: "Okafor", email: emailOf(people.ines) },
  });
  await page.goto(`/join/${token}`);
  await expect(page.getByText("There is an account for")).toBeVisible();
  await page.getByLabel("Its password").fill("not this one");
  await page.getByRole("button", { name: "Add Heron Point School to my account" }).click();
  await expect(page.getByText("E-mail and password do not go together.")).toBeVisible();
  await page.getByLabel("Its password").fill(demoPassword);
  await page.getByRole("button", { name: "Add Heron Point School to my account" }).click();
  await expect(page).toHaveURL(/caseload/);
  await awake(page);

  await page.context().clearCookies();
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(emailOf(people.ines));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Which school?" })).toBeVisible();
  await expectAccessible(page, "the choice of a school");
  await page.getByRole("button", { name: /Heron Point School/ }).click();
  await expect(page).toHaveURL(/caseload/);
  await page.goto("/school/staff");
  await awake(page);
  await page.getByRole("listitem").filter({ hasText: "Ines Okafor" }).locator("summary").click();
  await page.getByLabel("Position").first().fill("Speech therapist");

  const other = await page.context().newPage();
  await other.goto("/schools");
  await other.getByRole("button", { name: /Larkspur Bay School/ }).click();
  await expect(other).toHaveURL(/caseload/);
  await expect(other.getByRole("navigation", { name: "Students" })).toBeVisible();
  // Told that something changed, the page asks first, and stays with what is typed in it.
  const asked = page.waitForResponse(/\/live\?whose=/);
  await other.evaluate(() =>
    new BroadcastChannel("gentle-margin-live").postMessage({
      type: "heard",
      at: null,
      heard: { what: "all", when: "now" },
    }),
  );
  expect((await asked).status()).toBe(409);
  await page.getByRole("button", { name: "Save the staff" }).click();
  await expect(
    page.getByText(/Not saved: in another tab this browser turned to another school/),
  ).toBeVisible();
  await expect(page.getByLabel("Position").first()).toHaveValue("Speech therapist");
  await other.goto("/schools");
  await other.getByRole("button", { name: /Heron Point School/ }).click();
  await expect(other).toHaveURL(/caseload/);
  await page.getByRole("button", { name: "Save the staff" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
});

test("a second step is set up with an authenticator, asked for at the next sign-in, and a school can ask for it", async ({
  page,
  site,
}) => {
  await signIn(page, "desmond");
  await page.goto("/school/accounts");
  await awake(page);
  await page.getByRole("radio", { name: "administrators", exact: true }).check();
  await page.getByRole("button", { name: "Save who is asked" }).click();
  await expect(page.getByText("Your school asks you for a second step.")).toBeVisible();
  await page.goto("/caseload");
  await expect(page).toHaveURL(/second-step/);
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 844 });
    await expectAccessible(page, "setting up a second step");
  }
  const key = (await page.locator("p.font-mono").innerText()).replaceAll(" ", "");
  await page.getByLabel("Code").fill("000000");
  await page.getByRole("button", { name: "Switch the second step on" }).click();
  await expect(page.getByText("This is not the code of this moment")).toBeVisible();
  const now = Date.now();
  await page.getByLabel("Code").fill(codeAt(key, now));
  await page.getByRole("button", { name: "Switch the second step on" }).click();
  await expect(page.getByRole("heading", { name: "Your recovery codes" })).toBeVisible();
  const recovery = await page.locator("ul.font-mono li").first().innerText();
  await page.getByRole("link", { name: "I have them on paper" }).click();
  await expect(page.getByText("On. 10 recovery codes left.")).toBeVisible();

  await page.context().clearCookies();
  await page.goto("/school/accounts");
  await page.getByLabel("E-mail").fill(emailOf(people.desmond));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("heading", { name: "The second step" })).toBeVisible();
  await expectAccessible(page, "the second step");
  // The password alone opens nothing.
  expect((await page.request.get("/caseload", { maxRedirects: 0 })).status()).toBe(302);
  await page.getByLabel("Code").fill(recovery);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page).toHaveURL(/school\/accounts/);
  await site.owner("schools").update({ second_step_for: "nobody" });
});

test("a passkey of the device signs in by itself, and a password alone no longer does", async ({
  page,
  site,
  browser,
}) => {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send("WebAuthn.enable");
  await cdp.send("WebAuthn.addVirtualAuthenticator", {
    options: {
      ...{ protocol: "ctap2", transport: "internal", hasResidentKey: true, hasUserVerification: true },
      isUserVerified: true,
      automaticPresenceSimulation: true,
    },
  });
  await signIn(page, "gus");
  await page.goto("/account");
  await page.getByRole("link", { name: "Set up a second step" }).click();
  await awake(page);
  await page.getByLabel("Name of the device").fill("Gym tablet");
  await page.getByLabel("Current password").fill("not this one");
  await page.getByRole("button", { name: "Add a passkey" }).click();
  await expect(page.getByText("This is not your current password.")).toBeVisible();
  await page.getByLabel("Current password").fill(demoPassword);
  await page.getByRole("button", { name: "Add a passkey" }).click();
  await expect(page.getByText("Gym tablet", { exact: true })).toBeVisible();
  await expectAccessible(page, "passkeys");

  await page.context().clearCookies();
  await page.goto("/sign-in?to=/today");
  await page.getByRole("button", { name: "Use a passkey" }).click();
  await expect(page).toHaveURL(/today/);

  // With the password the passkey is the second step, in a browser that has none it ends there.
  const other = await browser.newContext({ baseURL: site.web.url });
  const stranger = await other.newPage();
  await stranger.goto("/sign-in");
  await stranger.getByLabel("E-mail").fill(emailOf(people.gus));
  await stranger.getByLabel("Password").fill(demoPassword);
  await stranger.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(stranger.getByText("Now your passkey.")).toBeVisible();
  expect((await stranger.request.get("/caseload", { maxRedirects: 0 })).status()).toBe(302);
  await other.close();
  await page.context().clearCookies();
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(emailOf(people.gus));
  await page.getByLabel("Password").fill(demoPassword);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await page.getByRole("button", { name: "Use a passkey" }).click();
  await expect(page).toHaveURL(/caseload/);

  await page.goto("/account/second-step");
  await awake(page);
  await page.getByRole("button", { name: /^Remove/ }).click();
  await expect(page.getByText("Gym tablet", { exact: true })).toHaveCount(0);
  await page.context().clearCookies();
  await page.goto("/sign-in");
  await page.getByRole("button", { name: "Use a passkey" }).click();
  await expect(page.getByText("This passkey is not known here.")).toBeVisible();
});

test("the sign-in page leads to a link for a new password where the server sends none", async ({ page }) => {
  await page.goto("/sign-in");
  await page.getByRole("link", { name: "Forgotten the password?" }).click();
  await expect(page.getByText("This server sends no mail.")).toBeVisible();
  await expectAccessible(page, "a forgotten password");
});

test("a district sees its schools and who runs them", async ({ page, site }) => {
  await site.owner.raw(
    "insert into gate.district_people select account_id from gate.accounts where email = ?",
    [emailOf(people.desmond)],
  );
  await signIn(page, "desmond");
  await page.goto("/account");
  await page.getByRole("link", { name: "Schools of the district" }).click();
  await expect(page.getByText("desmond.achterberg@larkspurbay.example")).toBeVisible();
  await expectAccessible(page, "the schools of a district");
  await signIn(page, "noor");
  expect((await page.goto("/district"))?.status()).toBe(404);
});
