import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { blanksIn, fillBlanks } from "./blanks.ts";
import { namesIn, pronounsIn, withBlanks } from "./with-blanks.ts";

describe("blanks of a wording", () => {
  it("are named once each, in their order; braces that hold nothing are none", () => {
    expect(blanksIn("By {date}, {student} will read {number} words; {student} …")).toEqual([
      "date",
      "student",
      "number",
    ]);
    expect(blanksIn("{ } {} {a\nb} plain")).toEqual([]);
  });

  it("are filled where there is a value, and stay where there is none", () => {
    const wording = "By {date}, {student} will say {kind of word} words.";
    expect(fillBlanks(wording, { student: "Malik", date: " " })).toBe(
      "By {date}, Malik will say {kind of word} words.",
    );
    // What is filled in is no blank itself, and words of the language are no values.
    expect(fillBlanks("{student}", { student: "{date}", date: "x" })).toBe("{date}");
    expect(fillBlanks("{constructor} {$&}", { "$&": "$1" })).toBe("{constructor} $1");
  });

  it("are all gone once each has a value, whatever else the wording says", () => {
    fc.assert(
      fc.property(fc.string(), fc.stringMatching(/^[a-z ]{1,20}$/), (rest, name) => {
        fc.pre(name.trim() !== "" && !/[{}]/.test(rest));
        const filled = fillBlanks(`${rest}{${name}}${rest}`, { [name.trim()]: "ten" });
        expect(filled).toBe(`${rest}ten${rest}`);
      }),
    );
  });
});

describe("a wording made ready for another student", () => {
  it("loses every name of its own and its due date, and nothing else", () => {
    expect(
      withBlanks(
        "By 14 March 2027, Tobias will count Toby's change; Tobias Venn will tell. Baseline 12 May 2026: 2 of 5.",
        ["Tobias Venn", "Tobias", "Toby"],
      ),
    ).toBe(
      "By {date}, {student} will count {student}'s change; {student} will tell. Baseline 12 May 2026: 2 of 5.",
    );
  });

  it("knows a name only as a whole word in its own capitals, in any script", () => {
    expect(withBlanks("Will will read; Willow will too.", ["Will"])).toBe(
      "{student} will read; Willow will too.",
    );
    expect(withBlanks("نور ستقرأ ونور", ["نور"])).toBe("{student} ستقرأ ونور");
    expect(withBlanks("José lira, Josée aussi", ["José"])).toBe("{student} lira, Josée aussi");
    expect(withBlanks("D. will (a) try", ["D.", "(a"])).toBe("{student} will {student}) try");
    expect(withBlanks("Anyone", [])).toBe("Anyone");
  });

  it("gives the same wording back when the same student and date are filled in", () => {
    const wording = "By 14 March 2027, Wren will read Wren's card by 1 October 2026.";
    const blank = withBlanks(wording, ["Wren"]);
    expect(blank).toBe("By {date}, {student} will read {student}'s card by 1 October 2026.");
    expect(fillBlanks(blank, { student: "Wren", date: "14 March 2027" })).toBe(wording);
  });

  it("says which names still stand, and which words may not suit the next student", () => {
    expect(namesIn("Wren and Ms. Doyle; wren", ["Wren", "Doyle", "Lumi"])).toEqual(["Wren", "Doyle"]);
    expect(pronounsIn("She will raise her hand; the other child raises hers.")).toEqual([
      "she",
      "her",
      "hers",
    ]);
  });
});
