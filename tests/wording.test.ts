import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import { wordsToAvoid } from "../e2e/words.ts";

const project = join(import.meta.dirname, "..");

/** What a file may show: the text of its elements, and its texts of three words or more. */
function textsOf(name: string, code: string): string[] {
  const file = ts.createSourceFile(name, code, ts.ScriptTarget.Latest, true);
  const texts: string[] = [];
  const visit = (node: ts.Node) => {
    if (ts.isJsxText(node)) texts.push(node.text);
    else if (
      ts.isStringLiteralLike(node) ||
      ts.isTemplateHead(node) ||
      ts.isTemplateMiddleOrTemplateTail(node)
    )
      if (/\S\s+\S+\s+\S/.test(node.text)) texts.push(node.text);
    ts.forEachChild(node, visit);
  };
  visit(file);
  return texts.map((text) => text.replaceAll(/\s+/g, " ").trim());
}

/** The files of the interface and of the catalogues. */
const sources = () =>
  ["app", "core"]
    .flatMap((folder) =>
      readdirSync(join(project, folder), { recursive: true, encoding: "utf8" }).map((file) =>
        join(folder, file),
      ),
    )
    .filter((file) => /\.tsx?$/.test(file) && !file.includes(".test."));

describe("numbers, dates and times", () => {
  const byHand =
    /\.toFixed\(|\.toLocale(?:Date|Time)?String\(|new Intl\.(?:Number|DateTime|List)Format|\+ ["'`]%|\)\}%`/;

  it("written by hand would be found", () => {
    for (const line of ["value.toFixed(2)", "new Intl.NumberFormat()", "`${Math.round(a)}%`", 'a + "%"'])
      expect(line).toMatch(byHand);
  });

  it("are written by the catalogues of formats, and nowhere by hand", () => {
    const found = sources()
      .filter((file) => !/^core\/(words|dates)\//.test(file))
      .filter((file) => byHand.test(readFileSync(join(project, file), "utf8")));
    expect(found).toEqual([]);
  });
});

describe("words to avoid", () => {
  it("are found in the text of an element and in a message", () => {
    const code = "const a = <p>It stands {here} now</p>; const b = `${a} is kept here`; const c = 'kept';";
    expect(textsOf("a.tsx", code).flatMap(wordsToAvoid)).toEqual(["It stands", "is kept here"]);
  });

  // What people see on views of the demo is searched by `e2e/every-view.spec.ts`; this finds what the demo does not show.
  it("are in no text or message of the interface and of the catalogues", () => {
    // A goal's wording is read as others wrote it.
    const files = sources().filter((file) => !file.includes("goal-wording"));
    expect(files.length).toBeGreaterThan(200);
    const found = files.flatMap((file) =>
      textsOf(file, readFileSync(join(project, file), "utf8"))
        .flatMap(wordsToAvoid)
        .map((text) => `${file}: ${text}`),
    );
    expect(found).toEqual([]);
  });
});
