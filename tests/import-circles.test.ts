import { readdirSync, readFileSync } from "node:fs";
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

describe("imports", () => {
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
