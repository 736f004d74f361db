import { spawnSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { expect, it } from "vitest";

const project = fileURLToPath(new URL("..", import.meta.url));

// CycloneDX 1.5, as npm's own command makes it: https://cyclonedx.org/docs/1.5/json/
it("npm run sbom names every package that the application is made of, with its version", () => {
  const { stdout } = spawnSync("npm", ["run", "-s", "sbom"], {
    cwd: project,
    encoding: "utf8",
    maxBuffer: 64 * 1024 * 1024,
  });
  const made = JSON.parse(stdout) as {
    bomFormat: string;
    specVersion: string;
    components: { name: string; version: string; purl: string }[];
  };
  expect(made).toMatchObject({ bomFormat: "CycloneDX", specVersion: "1.5" });
  const { dependencies } = JSON.parse(readFileSync(`${project}/package.json`, "utf8")) as {
    dependencies: Record<string, string>;
  };
  const known = new Set(made.components.map(({ purl }) => decodeURIComponent(purl)));
  for (const name of Object.keys(dependencies)) {
    const there = JSON.parse(readFileSync(`${project}/node_modules/${name}/package.json`, "utf8")) as {
      version: string;
    };
    expect(known).toContain(`pkg:npm/${name}@${there.version}`);
  }
});
