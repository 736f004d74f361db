import { test as base } from "@playwright/test";
import { openMailbox } from "../demo/mailbox.ts";
import { demoFamilyLink } from "../demo/school.ts";
import { openThrowaway } from "../tests/database.ts";
import { demoIds } from "../tests/demo-school.ts";
import { startWebServer } from "../tests/web-server.ts";
import { clockAhead } from "../tests/clock.ts";
import { awake, expect, expectAccessible, setClock, signIn, test } from "./site.ts";

base(
  "a guardian opens a link on a phone with a mailed code, reads in Spanish, asks, and is refused at once",
  async ({ browser }) => {
    const db = await openThrowaway("demo");
    const mailbox = await openMailbox();
    const web = await startWebServer(db.pooled.url, {
      ...db.pooled.env,
      SMTP_URL: mailbox.smtpUrl,
      MAIL_FROM: "margin@larkspurbay.example",
    });
    const open = async (width: number, height: number) => {
      const context = await browser.newContext({ baseURL: web.url, viewport: { width, height } });
      await setClock(context, clockAhead);
      return context.newPage();
    };
    try {
      const demo = await demoIds(db.owner);
      const phone = await open(390, 844);
      await phone.goto("/family");
      await expect(phone.getByRole("heading", { name: "Para la familia" })).toBeVisible();
      await expectAccessible(phone, "the family's entrance");
      await phone.goto(`/family/open/${demoFamilyLink}`);
      // The address is hinted at, and no student is named before the code.
      await expect(phone.getByText("m…@home.example")).toBeVisible();
      await expect(phone.getByText(/Junie|Juniper/)).toHaveCount(0);
      await expect(phone.locator("main")).toHaveAttribute("lang", "es");
      await expectAccessible(phone, "a family's link");
      await phone.getByLabel("Código").fill("000000");
      await phone.getByRole("button", { name: "Abrir" }).click();
      await expect(phone.getByText("Este no es el código, o ya no vale.")).toBeVisible();
      await phone.getByRole("button", { name: "Envíenme un código" }).click();
      await expect(phone.getByText("El código va en camino")).toBeVisible();
      const code = () => /Su código: (\d{6})/.exec(mailbox.messages[0]?.text ?? "")?.[1];
      await expect.poll(code, { timeout: 15_000 }).toBeDefined();
      expect(mailbox.messages[0]).toMatchObject({
        to: "marisol.reyes@home.example",
        subject: "Su código para Larkspur Bay School",
      });
      expect(mailbox.messages[0]?.text).not.toMatch(/Junie|Juniper/);
      await phone.getByLabel("Código").fill(code() ?? "");
      await phone.getByRole("button", { name: "Abrir" }).click();
      await expect(phone.getByRole("heading", { name: "Junie" })).toBeVisible();
      await expectAccessible(phone, "the family's page");
      await phone.getByRole("link", { name: /hecho el/ }).click();
      await expect(phone.getByRole("heading", { name: "Juniper Reyes" })).toBeVisible();
      await expectAccessible(phone, "a family's report");
      // Nothing on it leads into the school's own pages.
      await expect(phone.locator('a[href^="/students"]')).toHaveCount(0);
      await phone.getByRole("link", { name: "Volver" }).click();
      await phone.getByLabel("Su pregunta").fill("¿Qué libro lee Junie?");
      await phone.getByRole("button", { name: "Enviar la pregunta" }).click();
      await expect(
        phone.getByText("Su pregunta está con la persona encargada del plan.").first(),
      ).toBeVisible();

      const desk = await open(1280, 800);
      await signIn(desk, "noor");
      await desk.goto("/caseload");
      await awake(desk);
      await desk.getByRole("link", { name: "Junie: 1 question from the family" }).click();
      await awake(desk);
      await expectAccessible(desk, "the family of a student");
      await desk.getByLabel("Answer").fill("El libro azul.");
      await desk.getByRole("button", { name: "Answered" }).click();
      await expect(desk.getByText("El libro azul.")).toBeVisible();
      await phone.reload();
      await expect(phone.getByText("El libro azul.")).toBeVisible();

      const line = desk.getByRole("listitem").filter({ hasText: "Marisol Reyes" }).first();
      await line.getByText("Change, refuse or remove").click();
      await line.getByLabel("No access, because").fill("Court order of Monday");
      await line.getByRole("button", { name: "Refuse Marisol Reyes" }).click();
      await expect(line.getByText("No access, because: Court order of Monday")).toBeVisible();
      await phone.reload();
      await expect(phone.getByRole("heading", { name: "Para la familia" })).toBeVisible();
      await expect(phone.getByText(/Court|Junie/)).toHaveCount(0);
      await phone.goto(`/family/open/${demoFamilyLink}`);
      await expect(phone.getByText("Este enlace ya no vale.")).toBeVisible();
      expect(demo.student("Juniper")).toBeDefined();
    } finally {
      await web.stop();
      await mailbox.stop();
      await db.close();
    }
  },
);

test("without mail the lead makes the code and hands it over, and a mother with an account signs in as anybody does", async ({
  page,
  site,
  browser,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/family`);
  await awake(page);
  const line = page
    .getByRole("listitem")
    .filter({ hasText: "Lena Abara" })
    .filter({ hasText: "Change, refuse" });
  await line.getByRole("button", { name: /^Make a link/ }).click();
  const link = await page.getByText(/\/family\/open\//).innerText();
  await expectAccessible(page, "a family's link to hand over");
  // What is shown once stays when the page reads its data again, as a live update has it do.
  const read = page.waitForResponse((answer) => answer.url().includes("/family.data"));
  await page.evaluate(() =>
    new BroadcastChannel("gentle-margin-live").postMessage({
      type: "heard",
      at: null,
      heard: { what: "all", when: "now" },
    }),
  );
  await read;
  await expect(page.locator("html")).toHaveAttribute("data-live", "idle");
  await expect(page.getByText(link)).toBeVisible();
  await line.getByRole("button", { name: /^Make a code/ }).click();
  const code = await line.getByRole("status").locator("b").innerText();
  const context = await browser.newContext({ baseURL: site.web.url, viewport: { width: 390, height: 844 } });
  const phone = await context.newPage();
  await phone.goto(link);
  await expect(phone.getByText("The case manager gives it to you")).toBeVisible();
  await phone.getByLabel("Code").fill(code);
  await phone.getByRole("button", { name: "Open" }).click();
  await expect(phone.getByRole("heading", { name: "Wren" })).toBeVisible();
  await phone.getByRole("button", { name: "Close this page" }).click();
  await expect(phone.getByRole("heading", { name: "For the family" })).toBeVisible();
  await phone.getByRole("link", { name: "I have an account" }).click();
  await phone.getByLabel("E-mail").fill("lena.abara@home.example");
  await phone.getByLabel("Password").fill("gentle margin demo");
  await phone.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(phone.getByRole("heading", { name: "Wren" })).toBeVisible();
  await expect(phone.getByText("For Lena Abara")).toBeVisible();
  await context.close();
});
