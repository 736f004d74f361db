import { test as base } from "@playwright/test";
import { openMailbox } from "../demo/mailbox.ts";
import { openThrowaway } from "../tests/database.ts";
import { startWebServer } from "../tests/web-server.ts";
import { clockAhead } from "../tests/clock.ts";
import { awake, expect, expectAccessible, expectNoOverflow, setClock, signIn } from "./site.ts";

base(
  "an administrator tests the mail, a case manager writes to several families, corrects an address and sees all arrive",
  async ({ browser }) => {
    const db = await openThrowaway("demo");
    const mailbox = await openMailbox();
    const web = await startWebServer(db.pooled.url, {
      ...db.pooled.env,
      SMTP_URL: mailbox.smtpUrl,
      MAIL_FROM: "margin@larkspurbay.example",
    });
    const open = async (width = 1280, height = 800) => {
      const context = await browser.newContext({ baseURL: web.url, viewport: { width, height } });
      await setClock(context, clockAhead);
      return context.newPage();
    };
    /** Families are not written to at night, and these tests run at any hour. */
    const nowForFamilies = () =>
      db
        .owner("messages")
        .whereNotNull("guardian_id")
        .whereIn("state", ["waiting", "held"])
        .whereRaw("next_at < 'infinity'")
        .update({ is_urgent: true, next_at: new Date(0) });
    try {
      const desmond = await open();
      await signIn(desmond, "desmond");
      await desmond.goto("/school/mail");
      await awake(desmond);
      await expectAccessible(desmond, "the school's mail");
      await desmond.getByRole("button", { name: "Send a test message" }).click();
      await expect(desmond.getByRole("status").filter({ hasText: "Last test" })).toContainText("Sent", {
        timeout: 20_000,
      });
      expect(mailbox.messages[0]?.subject).toBe("Test message from Larkspur Bay School");

      mailbox.behave("refuse", "lena.abara@home.example");
      const noor = await open();
      await signIn(noor, "noor");
      await noor.goto("/dispatch");
      await awake(noor);
      await noor.getByRole("link", { name: "Write to several" }).click();
      await expect(noor.getByText("no e-mail address")).toBeVisible();
      await noor.getByLabel("Subject").first().fill("Conference days");
      await noor.getByLabel("Message").first().fill("Please choose a time, [parent].");
      await noor.getByRole("button", { name: "Send", exact: true }).click();
      await expect(noor.getByText("[parent] is not a field of this message.")).toBeVisible();
      // What was typed is still there.
      await expect(noor.getByLabel("Subject").first()).toHaveValue("Conference days");
      await noor.getByLabel("Message").first().fill("Please choose a time, [reader].");
      await noor.getByRole("button", { name: "Preview" }).click();
      await expect(noor.getByText("Please choose a time, Lena Abara.")).toBeVisible();
      await noor.getByRole("button", { name: "Send", exact: true }).click();
      await expect(noor.getByRole("heading", { name: "Conference days" })).toBeVisible();
      await nowForFamilies();
      await expect(noor.getByText("Refused", { exact: true })).toBeVisible({ timeout: 20_000 });
      await expectAccessible(noor, "a message to several");
      await noor.getByRole("link", { name: /^Conference days to Lena Abara/ }).click();
      await expect(noor.getByText("5.1.1 No such mailbox here")).toBeVisible();
      await noor.getByLabel("E-mail address of Lena Abara").fill("lena@abara.example");
      await noor.getByRole("button", { name: "Correct and send again" }).click();
      await expect(noor.getByRole("button", { name: "Correct and send again" })).toBeHidden();
      await nowForFamilies();
      await expect.poll(() => mailbox.messages[0]?.to, { timeout: 20_000 }).toBe("lena@abara.example");
      expect(mailbox.messages[0]?.text).toContain("Please choose a time, Lena Abara.");
      await noor.goBack();
      await expect(noor.getByText("1 of 1 sent")).toBeVisible({ timeout: 20_000 });

      // What one wants to be sent, on a phone.
      const phone = await open(390, 844);
      await signIn(phone, "teo");
      await phone.goto("/account/messages");
      await awake(phone);
      await phone
        .getByRole("group", { name: "New entries" })
        .getByRole("radio", { name: "Once a week" })
        .check();
      await expectNoOverflow(phone, "own messages");
      await phone.getByRole("button", { name: "Save my choices" }).click();
      await expect(phone.locator("#page").getByText("Saved.")).toBeVisible();
      await expect(
        phone.getByRole("group", { name: "New entries" }).getByRole("radio", { name: "Once a week" }),
      ).toBeChecked();
    } finally {
      await web.stop();
      await mailbox.stop();
      await db.close();
    }
  },
);
