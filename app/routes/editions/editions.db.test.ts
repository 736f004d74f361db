import { renderToStaticMarkup } from "react-dom/server";
import { createMemoryRouter, RouterProvider } from "react-router";
import { createElement } from "react";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { canonicalContent, findEdition, sha256Of } from "#server/db/editions.ts";
import { changeEntryState, correctEntry, saveEntry } from "#server/db/entries.ts";
import { openThrowaway } from "#tests/database.ts";
import { content, type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as report from "../report/report.tsx";
import * as file from "./edition-content.ts";
import * as edition from "./edition.tsx";
import * as editions from "./editions.tsx";
import * as making from "./new-edition.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
const wren = () => ({ studentId: demo.student("Wren") });
const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), wren().studentId, work);

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  // The demo has editions of its own: these begin with the first.
  for (const table of ["edition_shares", "editions"]) await db.owner(table).delete();
  noor = await caller(db.app, "noor");
  teo = await caller(db.app, "teo");
});
afterAll(() => db.close());

/** The report as it is drawn, to compare byte by byte. */
function drawn(document: Awaited<ReturnType<typeof findEdition>>["document"]): string {
  const element = createElement(ReportSheet, {
    report: document,
    studentId: wren().studentId,
    heading: null,
  });
  const router = createMemoryRouter([{ path: "*", element }]);
  return renderToStaticMarkup(createElement(RouterProvider, { router }));
}

const make = async (search = "") => {
  const editionId = newId();
  expect(await leadsTo(noor.send(making.action, { editionId, kept: "yes" }, wren(), search))).toMatch(
    new RegExp(`/editions/${editionId}$`),
  );
  return editionId;
};

describe("an edition", () => {
  it("is numbered, dated, by somebody, hashed as its page shows, and the file is what was hashed", async () => {
    const editionId = await make();
    const { edition: made, document } = await noor.load(edition.loader, { ...wren(), editionId });
    expect(made).toMatchObject({ number: 1, audience: "team", by: "N. Halloran", replaces: null });
    expect(document.title).toBe("Wren Abara");
    const answer = await noor.load(file.loader, { ...wren(), editionId });
    const text = await answer.text();
    expect(sha256Of(text)).toBe(made.sha256);
    expect(canonicalContent(JSON.parse(text) as Parameters<typeof canonicalContent>[0])).toBe(text);
    // Sent twice, it is one.
    await leadsTo(noor.send(making.action, { editionId, kept: "yes" }, wren()));
    expect((await noor.load(editions.loader, wren())).editions).toHaveLength(1);
  });

  it("says the same afterwards, byte by byte, when an entry was corrected and another removed", async () => {
    const ids = { studentId: wren().studentId, goalId: demo.goal("Wren", "2b") };
    const [one, two] = [newId(), newId()];
    await asNoor(async (scope) => {
      for (const [at, entryId] of [one, two].entries())
        await saveEntry(scope, draft(ids, 6, 10, { entryId, observedLocal: `2026-11-2${at}T10:15` }), ids);
    });
    const editionId = await make();
    const read = () => asNoor((scope) => findEdition(scope, wren().studentId, editionId));
    const before = await read();
    const html = drawn(before.document);
    expect(html).toContain("6 of 10 correct".replaceAll(" of ", "\u00a0of\u00a0"));
    await asNoor((scope) =>
      correctEntry(scope, { ...ids, entryId: one }, { expectedRevision: 1, reason: "Miscounted." }, () =>
        content(9, 10),
      ),
    );
    await asNoor((scope) =>
      changeEntryState(
        scope,
        { ...ids, entryId: two },
        { expectedRevision: 1, reason: "Not hers." },
        "removed",
      ),
    );
    const after = await read();
    expect(after.content).toBe(before.content);
    expect(drawn(after.document)).toBe(html);
    // The next one says which it replaces and what is different.
    const later = await make();
    const { edition: next } = await noor.load(edition.loader, { ...wren(), editionId: later });
    expect(next.replaces).toEqual({
      number: before.edition.number,
      changes: { corrected: 1, removed: 1, added: 0 },
    });
    const { editions: all } = await noor.load(editions.loader, wren());
    expect(all.find((each) => each.editionId === editionId)?.replacedBy).toBe(next.number);
  });

  it("can be changed and deleted by nobody of the application, and no other content passes its hash", async () => {
    const editionId = await make();
    for (const statement of ["update editions set number = 99", "delete from editions"])
      await expect(asNoor(({ trx }) => trx.raw(statement))).rejects.toThrow(/permission denied/);
    await expect(
      db.owner("editions").where({ edition_id: editionId }).update({ content: "{}" }),
    ).rejects.toThrow(/check constraint/);
  });

  it("is made by the one who leads, and read by the circle", async () => {
    const editionId = await make();
    await expect(teo.load(making.loader, wren())).rejects.toMatchObject({ init: { status: 403 } });
    await expect(teo.send(making.action, { editionId: newId(), kept: "yes" }, wren())).rejects.toMatchObject({
      init: { status: 403 },
    });
    expect((await teo.load(edition.loader, { ...wren(), editionId })).mayShare).toBe(false);
    const gus = await caller(db.app, "gus");
    await expect(gus.load(edition.loader, { ...wren(), editionId })).rejects.toMatchObject({
      init: { status: 404 },
    });
    const lumi = { studentId: demo.student("Lumi"), editionId };
    await expect(noor.load(edition.loader, lumi)).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("is not made while it may name another student, unless each was looked at", async () => {
    const ids = { studentId: wren().studentId, goalId: demo.goal("Wren", "2b") };
    const note = "Worked beside Tobias at the window.";
    await asNoor((scope) =>
      saveEntry(scope, { ...draft(ids, 5, 10, { observedLocal: "2026-11-23T11:15" }), note }, ids),
    );
    const { names } = await noor.load(making.loader, wren());
    expect(names.map(({ text, finds }) => [text, finds.map((find) => find.text)])).toContainEqual([
      note,
      ["Tobias"],
    ]);
    const refused = await problemsOf(noor.send(making.action, { editionId: newId() }, wren()));
    expect(refused).toMatchObject({
      status: 422,
      problems: { kept: expect.stringMatching(/Look at each/) as string },
    });
  });

  it("is a place to begin the next report after, and says how it was shared", async () => {
    const editionId = await make("?span=own&from=2026-09-08&to=2026-10-30");
    const { spans } = await noor.load(report.loader, wren());
    const since = spans.find(({ key }) => key === "edition");
    expect(since?.words).toMatch(/^Since edition \d+ \(Oct 30, 2026\)$/);
    const { report: later } = await noor.load(report.loader, wren(), "?span=edition");
    expect(later.span.from).toBe("2026-10-31");
    const share = { shareId: newId(), how: "in the meeting", on: "2026-11-24", note: "with her mother" };
    for (let time = 0; time < 2; time += 1)
      await leadsTo(noor.send(edition.action, share, { ...wren(), editionId }));
    const { edition: shared } = await noor.load(edition.loader, { ...wren(), editionId });
    expect(shared.shares).toEqual([
      { how: "in the meeting", on: "2026-11-24", note: "with her mother", by: "N. Halloran" },
    ]);
    const wrong = await problemsOf(
      noor.send(edition.action, { ...share, shareId: newId(), on: "soon" }, { ...wren(), editionId }),
    );
    expect(wrong.status).toBe(422);
  });
});
