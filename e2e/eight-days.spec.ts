import { eightDays } from "../tests/eight-days.ts";
import { expectNoOverflow, openSite, setClock, signIn, siteless } from "./site.ts";
import { generalViews, incidentViews, recordingViews } from "./views.ts";

// Recording is opened on each day, the other views on every second one: all of them on all eight would be a third of the whole run.
for (const [at, { what, on, calendar }] of eightDays.entries())
  siteless(`the views open on ${what} @slow`, async ({ browser }) => {
    // Noon at the school, whatever its clocks do that day.
    const site = await openSite({ at: `${on}T20:00:00Z` });
    await calendar?.(site.owner, on);
    const context = await browser.newContext({ baseURL: site.web.url, serviceWorkers: "block" });
    await setClock(context, site.clockAhead);
    const page = await context.newPage();
    await signIn(page, "noor");
    for (const viewsOf of [recordingViews, at % 2 === 0 ? generalViews : incidentViews])
      for (const [view, open] of Object.entries(viewsOf(page, site))) {
        await open();
        await expectNoOverflow(page, view);
      }
    await context.close();
    await site.close();
  });
