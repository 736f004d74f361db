import { test as base } from "@playwright/test";
import { openProvider } from "../demo/provider.ts";
import { openThrowaway } from "../tests/database.ts";
import { demoIds } from "../tests/demo-school.ts";
import { startWebServer } from "../tests/web-server.ts";
import { demoPassword, emailOf, people } from "../demo/school.ts";
import { awake, expect, expectAccessible } from "./site.ts";

base(
  "a school’s own sign-in is set, tried and turned on; who is invited comes in by it, and nobody else",
  async ({ page, browser }) => {
    const db = await openThrowaway("demo");
    const demo = await demoIds(db.owner);
    const web = await startWebServer(db.pooled.url, db.pooled.env);
    const provider = await openProvider(web.url);
    /** The pages of the stand-in: an e-mail with any password, and a yes. */
    const atProvider = async (on: typeof page, email: string) => {
      await on.locator("input[name=login]").fill(email);
      await on.locator("input[name=password]").fill("any");
      await on.locator("button[type=submit]").click();
      await on.getByRole("button", { name: "Continue" }).click();
    };
    try {
      await page.goto(`${web.url}/sign-in`);
      await page.getByLabel("E-mail").fill(emailOf(people.desmond));
      await page.getByLabel("Password").fill(demoPassword);
      await page.getByRole("button", { name: "Sign in", exact: true }).click();
      await expect(page).toHaveURL(/caseload/);
      await page.goto(`${web.url}/school/provider`);
      await awake(page);
      await page.getByLabel("Address of the provider").fill("login.example.org");
      await page.getByLabel("Client ID").fill(provider.clientId);
      await page.getByRole("button", { name: "Save", exact: true }).click();
      await expect(page.getByText("Write the address with https://")).toBeVisible();
      await expect(page.getByLabel("Client ID")).toHaveValue(provider.clientId);
      await page.getByLabel("Address of the provider").fill(provider.issuer);
      await page.getByLabel("Client secret").fill(provider.secret);
      await page.getByRole("button", { name: "Save", exact: true }).click();
      await expect(page.getByRole("heading", { name: "Off" })).toBeVisible();
      await expect(page.getByText(`${web.url}/sign-in/provider`)).toBeVisible();
      await page.getByRole("link", { name: "Try it" }).click();
      await atProvider(page, emailOf(people.desmond));
      await expect(page.getByText(`It works: the provider named ${emailOf(people.desmond)}.`)).toBeVisible();
      for (const width of [1280, 390]) {
        await page.setViewportSize({ width, height: 844 });
        await expectAccessible(page, "the school’s provider");
      }
      await page.getByRole("button", { name: "Turn it on" }).click();
      await expect(page.getByRole("heading", { name: "On", exact: true })).toBeVisible();

      // Somebody new, with an invitation that they never open.
      const personId = crypto.randomUUID();
      await db.owner("people").insert({
        ...{ school_id: demo.schoolId, person_id: personId, given_name: "Ada", family_name: "Marsh" },
        ...{ role: "staff", email: "ada.marsh@larkspurbay.example" },
      });
      await page.goto(`${web.url}/school/accounts`);
      await awake(page);
      await page.getByRole("button", { name: /Invite.*Ada Marsh/ }).click();
      await expect(page.getByRole("img", { name: /The link for Ada Marsh/ })).toBeVisible();

      const other = await (await browser.newContext({ baseURL: web.url })).newPage();
      await other.goto("/sign-in?to=/today");
      await other.getByRole("link", { name: "Sign in with your school account" }).click();
      await atProvider(other, "ada.marsh@larkspurbay.example");
      await expect(other).toHaveURL(/\/today$/);
      await other.goto("/account");
      await expect(other.getByText("Ada Marsh").first()).toBeVisible();
      await expect(other.getByRole("link", { name: "Turn to another school" })).toHaveCount(0);
      await awake(other);
      await other.getByRole("button", { name: "Sign out" }).first().click();
      await expect(other).toHaveURL(new RegExp(`^${provider.issuer}/session/end`));

      const stranger = await (await browser.newContext({ baseURL: web.url })).newPage();
      await stranger.goto("/sign-in");
      await stranger.getByRole("link", { name: "Sign in with your school account" }).click();
      await atProvider(stranger, "nobody@larkspurbay.example");
      await expect(stranger.getByText("you have no place in Gentle Margin there yet")).toBeVisible();
      await expectAccessible(stranger, "not invited");
    } finally {
      await Promise.all([web.stop(), provider.stop()]);
      await db.close();
    }
  },
);
