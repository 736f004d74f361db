import { demoPassword, emailOf, people } from "../demo/school.ts";
import { openThrowaway } from "../tests/database.ts";
import { demoIds } from "../tests/demo-school.ts";
import { hasNginx, nginxProxy, nodeProxy } from "../tests/tls-proxy.ts";
import { startWebServer } from "../tests/web-server.ts";
import { awake, expect, margin, recording, setClock, siteless } from "./site.ts";
import { typeSignIn } from "./tablet.ts";

const proxies = { "a proxy of our own": nodeProxy, ...(hasNginx ? { nginx: nginxProxy } : {}) };

for (const [name, open] of Object.entries(proxies))
  siteless(
    `one signs in, saves and hears of changes behind TLS and HTTP/2, with ${name}`,
    async ({ browser }) => {
      const db = await openThrowaway("demo");
      const { owner } = db;
      const web = await startWebServer(db.pooled.url, {
        ...db.pooled.env,
        TRUST_PROXY: "1",
        DRAIN: "0",
      });
      const proxy = await open(web.url);
      const context = await browser.newContext({ baseURL: proxy.url, ignoreHTTPSErrors: true });
      await setClock(context, db.clockAhead);
      const page = await context.newPage();
      try {
        const protocols = new Set<string>();
        const network = await context.newCDPSession(page);
        network.on("Network.responseReceived", ({ response }) => protocols.add(response.protocol ?? ""));
        await network.send("Network.enable");
        const streaming = page.waitForResponse((answer) => new URL(answer.url()).pathname === "/live");
        await page.goto("/");
        await typeSignIn(page);
        await expect(page.getByRole("heading", { name: "Caseload" })).toBeVisible();
        const cookie = (await context.cookies()).find(({ name }) => name === "__Host-gentle-margin");
        expect(cookie).toMatchObject({ secure: true, httpOnly: true });
        expect((await streaming).status()).toBe(200);
        expect([...protocols]).toEqual(["h2"]);

        const demo = await demoIds(owner);
        const wren = `/students/${demo.student("Wren")}`;
        const watching = await context.newPage();
        await watching.goto(wren);
        await awake(watching);
        await page.goto(`${wren}/goals/${demo.goal("Wren", "2b")}/record`);
        await recording(page);
        for (const key of "110") await page.keyboard.press(key);
        await page.getByRole("button", { name: /^Save 2.of.3/ }).click();
        await expect(page).toHaveURL(/saved=/);
        await expect(margin(watching).getByRole("listitem").first()).toContainText("2 of 3 correct (67%)");
        await watching.close();
        await page.getByRole("button", { name: "Sign out" }).click();
        await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();

        // A link that names another place leads there for nobody, signed in just now or before.
        await page.goto("/sign-in?to=/%09/evil.example");
        await typeSignIn(page);
        await expect(page).toHaveURL(`${proxy.url}/caseload`);
        await page.goto("/sign-in?to=/%09/evil.example");
        await expect(page).toHaveURL(`${proxy.url}/caseload`);

        // Another site's form is refused, whatever it says of itself.
        const form = { email: emailOf(people.noor), password: demoPassword };
        for (const Origin of ["https://evil.example", proxy.url.replace("https", "http")])
          expect((await page.request.post("/sign-in", { form, headers: { Origin } })).status()).toBe(403);
      } finally {
        await context.close();
        await proxy.stop();
        await web.stop();
        await db.close();
      }
    },
  );
