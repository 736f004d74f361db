import { describe, expect, it } from "vitest";
import { readNames } from "./read-names.ts";

const said = (line: string) =>
  readNames(line).map(({ given, family, grade }) => [given, family, grade].join("|"));

describe("names as people paste them", () => {
  it.each([
    ["Wren Abara", "Wren|Abara|"],
    ["Wren", "Wren||"],
    ["Abara, Wren", "Wren|Abara|"],
    ["Abara, Wren, 2", "Wren|Abara|2"],
    ["Wren Abara, 2", "Wren|Abara|2"],
    ["Wren Abara 2", "Wren|Abara|2"],
    ["Wren Abara (grade 2)", "Wren|Abara|2"],
    ["Wren Abara 2nd grade", "Wren|Abara|2"],
    ["Wren Abara; 11th", "Wren|Abara|11"],
    ["Wren Abara, K", "Wren|Abara|K"],
    ["Lumi Sato, kindergarten", "Lumi|Sato|K"],
    ["Lumi Sato, Pre-K", "Lumi|Sato|PK"],
    ["Wren K", "Wren|K|"],
    ["Wren\tAbara\t2", "Wren|Abara|2"],
    ["Wren Abara\t2", "Wren|Abara|2"],
    ["Ana Luisa de la Cruz", "Ana Luisa|de la Cruz|"],
    ["Mary Ann Smith", "Mary Ann|Smith|"],
    ["1. Wren Abara", "Wren|Abara|"],
    ["• Wren   Abara ", "Wren|Abara|"],
    ["نور حداد", "نور|حداد|"],
    ["Birke, Anselm Otto, grade 5", "Anselm Otto|Birke|5"],
  ])("%s", (line, read) => {
    expect(said(line)).toEqual([read]);
  });

  it("are one a line, and empty lines are none", () => {
    expect(said("Wren Abara, 2\r\n\n  \nElowen Kerr 3\n")).toEqual(["Wren|Abara|2", "Elowen|Kerr|3"]);
    expect(readNames("")).toEqual([]);
  });
});
