import { describe, expect, it } from "vitest";
import { readPeople } from "./read-people.ts";

const person = (given: string, family: string, email = "", position = "") => ({
  ...{ given, family, email, position },
});

describe("colleagues from a list", () => {
  it("reads a line with commas, of a mail program, and of a table", () => {
    expect(
      readPeople(
        [
          "Ana Ruiz, Ana.Ruiz@larkspurbay.example, Classroom aide",
          "Teo van den Berg <teo@larkspurbay.example>",
          "Mina Sato\tmina@larkspurbay.example\tNurse",
          "bo@larkspurbay.example; Bo Lind",
        ].join("\n"),
      ),
    ).toEqual([
      person("Ana", "Ruiz", "ana.ruiz@larkspurbay.example", "Classroom aide"),
      person("Teo", "van den Berg", "teo@larkspurbay.example"),
      person("Mina", "Sato", "mina@larkspurbay.example", "Nurse"),
      person("Bo", "Lind", "bo@larkspurbay.example"),
    ]);
  });

  it("leaves out numbering and empty lines, and shows what is missing as empty", () => {
    expect(readPeople("1. Ana Ruiz\n\n- ana@larkspurbay.example\r\n  ")).toEqual([
      person("Ana", "Ruiz"),
      person("", "", "ana@larkspurbay.example"),
    ]);
  });
});
