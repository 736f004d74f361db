import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { format, resolveConfig } from "prettier";
import { expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { rowTypes } from "./row-types.ts";

it("the row types are those of the database; `npm run row-types` makes them anew", async () => {
  const file = fileURLToPath(new URL("./tables.ts", import.meta.url));
  const database = await openThrowaway("empty");
  try {
    const made = await format(await rowTypes(database.owner), {
      ...(await resolveConfig(file)),
      parser: "typescript",
    });
    if (process.env["GENTLE_MARGIN_WRITE_ROW_TYPES"]) writeFileSync(file, made);
    expect(readFileSync(file, "utf8")).toBe(made);
  } finally {
    await database.close();
  }
});
