import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join, normalize } from "node:path";
import { fileURLToPath } from "node:url";
import ts from "typescript";
import { describe, expect, it } from "vitest";

const project = fileURLToPath(new URL("..", import.meta.url));

/** What each file imports of the project, types too, as the compiler reads it. */
function importsOf(folder: string): Map<string, string[]> {
  const files = readdirSync(join(project, folder), { recursive: true, encoding: "utf8" })
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.|\.d\.ts$/.test(file))
    .map((file) => join(folder, file));
  return new Map(
    files.map((file) => {
      const { importedFiles } = ts.preProcessFile(readFileSync(join(project, file), "utf8"), true, true);
      const paths = importedFiles.map(({ fileName }) =>
        fileName.startsWith("#") ? fileName.slice(1) : normalize(join(dirname(file), fileName)),
      );
      return [file, paths.filter((path) => files.includes(path))];
    }),
  );
}

/** The circles that a walk through the imports runs into, each as its files in order. */
function circlesOf(imports: ReadonlyMap<string, readonly string[]>): string[] {
  const done = new Set<string>();
  const found: string[] = [];
  function walk(file: string, way: readonly string[]): void {
    if (way.includes(file)) {
      found.push([...way.slice(way.indexOf(file)), file].join(" → "));
      return;
    }
    if (done.has(file)) return;
    for (const next of imports.get(file) ?? []) walk(next, [...way, file]);
    done.add(file);
  }
  for (const file of imports.keys()) walk(file, []);
  return found;
}

/** The rows of folders as `docs/architecture.md` draws them, the uppermost first. */
function drawnRows(): string[][] {
  const text = readFileSync(join(project, "docs/architecture.md"), "utf8");
  const drawing = /```core\n([\s\S]*?)```/.exec(text)?.[1] ?? "";
  return drawing
    .trim()
    .split("\n")
    .map((row) => row.split(" · "));
}

describe("imports", () => {
  it("in core go from a row of the drawing only to rows below it", () => {
    const rows = drawnRows();
    const rowOf = (file: string) => rows.findIndex((row) => row.includes(file.split("/")[1] ?? ""));
    const imports = importsOf("core");
    expect([...imports.keys()].filter((file) => rowOf(file) < 0)).toEqual([]);
    const folder = (file: string) => file.split("/")[1];
    const upward = [...imports].flatMap(([file, targets]) =>
      targets
        .filter((target) => folder(target) !== folder(file) && rowOf(target) <= rowOf(file))
        .map((target) => `${file} → ${target}`),
    );
    expect(upward).toEqual([]);
  });

  it.each(["core", "server", "app"])("of %s run in no circle, those of types neither", (folder) => {
    const imports = importsOf(folder);
    expect(imports.size).toBeGreaterThan(40);
    expect([...imports.values()].flat().length).toBeGreaterThan(100);
    expect(circlesOf(imports)).toEqual([]);
  });

  it("would be found in a circle", () => {
    const imports = new Map([
      ["a", ["b"]],
      ["b", ["c"]],
      ["c", ["b"]],
    ]);
    expect(circlesOf(imports)).toEqual(["b → c → b"]);
  });
});

/** Names that each file of its kind has to have: those of a route, of a migration, and of the schemas in the folder of a measure. */
const sameEverywhere = /^(loader|action|clientAction|handle|shouldRevalidate|default|up|observed)$/;

describe("exported names", () => {
  it("say one thing: no two files of core, server and app export the same", () => {
    const places = new Map<string, string[]>();
    for (const file of ["core", "server", "app"].flatMap((folder) => [...importsOf(folder).keys()]))
      for (const [, name = ""] of readFileSync(join(project, file), "utf8").matchAll(
        /^export (?:async )?(?:function|const|interface|type|class) (\w+)/gm,
      ))
        // A type and its value, as one Zod schema gives both, stand in one file.
        if (!places.get(name)?.includes(file)) places.set(name, [...(places.get(name) ?? []), file]);
    expect(places.size).toBeGreaterThan(800);
    const twice = [...places].filter(([name, files]) => files.length > 1 && !sameEverywhere.test(name));
    expect(twice).toEqual([]);
  });
});

describe("exported functions of core and server", () => {
  it("say in a comment what they do", () => {
    const isFunction = (one?: ts.Expression) =>
      one !== undefined && (ts.isArrowFunction(one) || ts.isFunctionExpression(one));
    const silent = ["core", "server"].flatMap((folder) =>
      [...importsOf(folder).keys()]
        .filter((file) => !file.includes("migrations"))
        .flatMap((file) =>
          ts
            .createSourceFile(file, readFileSync(join(project, file), "utf8"), ts.ScriptTarget.Latest, true)
            .statements.filter(
              (one) =>
                ts.canHaveModifiers(one) &&
                ts.getModifiers(one)?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword) &&
                (ts.isFunctionDeclaration(one) ||
                  (ts.isVariableStatement(one) &&
                    one.declarationList.declarations.some(({ initializer }) => isFunction(initializer)))) &&
                ts.getJSDocCommentsAndTags(one).length === 0,
            )
            .map((one) => `${file}: ${one.getText().split("\n")[0]}`),
        ),
    );
    expect(silent).toEqual([]);
  });
});

describe("the documents", () => {
  it("name only files that are there", () => {
    const gone = ["architecture.md", "methods.md", "operations.md"].flatMap((document) =>
      [
        ...readFileSync(join(project, "docs", document), "utf8").matchAll(
          /`([\w./-]+\/[\w.-]+\.(?:ts|tsx|mjs))`/g,
        ),
      ]
        .map(([, path = ""]) => path)
        .filter((path) => !existsSync(join(project, path)) && !existsSync(join(project, "core", path)))
        .map((path) => `${document}: ${path}`),
    );
    expect(gone).toEqual([]);
  });
});

describe("migrations", () => {
  it("expand: what an earlier release still reads is dropped or renamed only in a later one, which says so", () => {
    // Upgraded without a gap, the old program works with the new tables for a while. A migration that takes something away is written in
    // a release after the last one that used it, and named here.
    const contracts: readonly string[] = [];
    // A check that is dropped for one that allows more takes nothing away.
    const widens: readonly string[] = [
      "018-first-hour.ts",
      "021-jots.ts",
      "022-audiences.ts",
      "023-statements.ts",
      "027-family.ts",
    ];
    const folder = join(project, "server", "db", "migrations");
    const takesAway =
      /\bdrop (table|column|function|constraint)\b|\brename (column|to)\b|\balter column \w+ (set not null|drop default)\b/i;
    const names = readdirSync(folder).filter((name) => /^\d{3}-/.test(name));
    expect(names.length).toBeGreaterThan(10);
    const since = names.filter(
      (name) => name >= "012" && takesAway.test(readFileSync(join(folder, name), "utf8")),
    );
    expect(since.filter((name) => !contracts.includes(name) && !widens.includes(name))).toEqual([]);
    expect(takesAway.test("alter table goals drop column area")).toBe(true);
  });
});
