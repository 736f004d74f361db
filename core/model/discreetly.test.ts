import { expect, it } from "vitest";
import { discreetly } from "./discreetly.ts";

const wren = { name: "Wren Abara", calledName: "Wren", initials: "W.A." };

it("names become initials: the longest first, whole words only, with what is written after them", () => {
  expect(discreetly("Wren Abara read 80 words. Wren’s best! Is Abara here?", wren)).toBe(
    "W.A. read 80 words. W.A.’s best! Is W.A. here?",
  );
  expect(discreetly("A wrench and the Wrens sing; Wrenna too.", wren)).toBe(
    "A wrench and the Wrens sing; Wrenna too.",
  );
});

it("a name is text, not a pattern, in any script; a letter alone is no name", () => {
  expect(discreetly("J.P. (Jo) reads", { name: "J.P. (Jo)", calledName: "J.P.", initials: "J" })).toBe(
    "J reads",
  );
  expect(discreetly("שירה קוראת", { name: "שירה בן־דוד", calledName: "שירה", initials: "ש.ב." })).toBe(
    "ש.ב. קוראת",
  );
  expect(discreetly("A dog", { name: "A", calledName: "A", initials: "A.B." })).toBe("A dog");
});
