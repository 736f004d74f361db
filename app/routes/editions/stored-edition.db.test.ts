import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { renderToStaticMarkup } from "react-dom/server";
import { createElement } from "react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { sha256Of } from "#server/db/editions.ts";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { type Caller, caller } from "#tests/route.ts";
import * as file from "./edition-content.ts";
import * as edition from "./edition.tsx";

/** An edition of the first format, as a school may have kept it for years: made by the program that wrote that format. */
const sample = fileURLToPath(new URL("../../../tests/samples/edition-1.json", import.meta.url));
const sampleHash = "16e51cc4478fbb9257dde5d6c2265c1af82509e35b1e1e78818b776c5b837eb8";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let noor: Caller;
const editionId = newId();
let studentId: string;

beforeAll(async () => {
  db = await openThrowaway("demo");
  const demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
  studentId = demo.student("Wren");
  const content = readFileSync(sample, "utf8");
  await db.owner("editions").insert({
    ...{ school_id: demo.schoolId, edition_id: editionId, student_id: studentId, number: 7 },
    ...{ person_id: demo.person("noor").personId, audience: "team", language: "en" },
    ...{ from_on: "2026-10-05", to_on: "2026-10-30", made_on: "2026-11-24", changes: {}, content },
    sha256: sampleHash,
  });
});
afterAll(() => db.close());

/** Every text that a document says, wherever it stands in it. */
function textsOf(value: unknown, key = ""): string[] {
  if (typeof value === "string")
    return ["text", "value", "sentence", "wording", "note", "title", "why", "about", "label"].includes(key)
      ? [value]
      : [];
  if (Array.isArray(value)) return value.flatMap((one) => textsOf(one, key));
  if (typeof value !== "object" || value === null) return [];
  return (
    Object.entries(value)
      // Words within a drawing are placed letter by letter elsewhere.
      .filter(([name]) => name !== "chart" && name !== "weeks")
      .flatMap(([name, one]) => textsOf(one, name))
  );
}

describe("an edition of the first format", () => {
  it("is opened as it was: its file has the bytes that were hashed, and all that it says is drawn", async () => {
    const { document, edition: kept } = await noor.load(edition.loader, { studentId, editionId });
    expect(kept).toMatchObject({ number: 7, sha256: sampleHash });
    const answer = await noor.load(file.loader, { studentId, editionId });
    expect(sha256Of(await answer.text())).toBe(sampleHash);
    const element = createElement(ReportSheet, { report: document, studentId, heading: null });
    const html = renderToStaticMarkup(
      createElement(RouterProvider, { router: createMemoryRouter([{ path: "*", element }]) }),
    )
      .replaceAll("&amp;", "&")
      .replaceAll("&#x27;", "'")
      .replaceAll("&quot;", '"');
    const texts = textsOf(document.sections).filter((text) => text !== "");
    expect(texts.length).toBeGreaterThan(60);
    expect(texts.filter((text) => !html.includes(text))).toEqual([]);
    expect(html.match(/<svg/g)?.length).toBeGreaterThanOrEqual(4);
  });
});
