import { describe, expect, it } from "vitest";
import { type FeedbackAnswer, gatherFeedback, orderFor } from "./gather-feedback.ts";

const answer = (name: string, at: string, ...texts: string[]): FeedbackAnswer => ({
  ...{ personId: name, name, initials: name.slice(0, 1), at, texts },
});
const prompts = ["What went well?", "What next?"];
const answers = [
  answer("Teo", "2026-11-24T10:00Z", "The strip", ""),
  answer("Ines", "2026-11-24T09:00Z", "Turns ", "A second strip"),
  answer("Gus", "2026-11-24T11:00Z", " ", "More gym"),
];

describe("gathered feedback", () => {
  it("has each prompt with its answers, in the order and with the names that were chosen", () => {
    expect(gatherFeedback(prompts, answers, { order: "as they came", names: "names", seed: "x" })).toBe(
      "What went well?\n• Turns (Ines)\n• The strip (Teo)\n\nWhat next?\n• A second strip (Ines)\n• More gym (Gus)",
    );
    expect(gatherFeedback(prompts, answers, { order: "by name", names: "initials", seed: "x" })).toContain(
      "What next?\n• More gym (G)\n• A second strip (I)",
    );
  });

  it("names nobody where that was chosen, and its order does not either", () => {
    expect(orderFor("by name", "none")).toBe("mixed");
    const text = gatherFeedback(prompts, answers, { order: "by name", names: "none", seed: "x" });
    expect(text).not.toMatch(/Teo|Ines|Gus|\(/);
    expect(gatherFeedback(prompts, answers, { order: "mixed", names: "none", seed: "x" })).toBe(text);
    // Over many rounds every order comes about as often: nobody is always first.
    const two = answers.slice(0, 2);
    const firsts = Array.from({ length: 200 }, (_, round) =>
      gatherFeedback(["?"], two, { order: "mixed", names: "none", seed: String(round) }).includes(
        "• The strip\n• Turns",
      ),
    ).filter(Boolean).length;
    expect(firsts).toBeGreaterThan(60);
    expect(firsts).toBeLessThan(140);
  });

  it("leaves out what nobody answered", () => {
    expect(
      gatherFeedback(["a?", "b?"], [answer("Teo", "1", "", "yes")], {
        order: "mixed",
        names: "none",
        seed: "",
      }),
    ).toBe("b?\n• yes");
    expect(gatherFeedback(["a?"], [], { order: "mixed", names: "none", seed: "" })).toBe("");
  });
});
