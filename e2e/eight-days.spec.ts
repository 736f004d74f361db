import { eightDays } from "../tests/eight-days.ts";
import { expectNoOverflow, openSite, setClock, signIn, siteless } from "./site.ts";
import { generalViews, incidentViews, recordingViews } from "./views.ts";

for (const { what, on, calendar } of eightDays)
  siteless(`every view opens on ${what} @slow`, async ({ browser }) => {
    siteless.setTimeout(420_000);
    // Noon at the school, whatever its clocks do that day.
    const site = await openSite({ at: `${on}T20:00:00Z` });
    await calendar?.(site.owner, on);
    const context = await browser.newContext({ baseURL: site.web.url, serviceWorkers: "block" });
    await setClock(context, site.clockAhead);
    const page = await context.newPage();
    await signIn(page, "noor");
    for (const viewsOf of [generalViews, recordingViews, incidentViews])
      for (const [view, open] of Object.entries(viewsOf(page, site))) {
        await open();
        await expectNoOverflow(page, view);
      }
    await context.close();
    await site.close();
  });
