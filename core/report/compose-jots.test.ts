import { describe, expect, it } from "vitest";
import type { Jot } from "../model/jot.ts";
import { en } from "../words/en.ts";
import { es } from "../words/es.ts";
import { audienceDefaults } from "./audience.ts";
import { jotBlocks, type JotsMaterial } from "./compose-jots.ts";
import type { JotsBlock } from "./document.ts";

const names = ["not seen yet", "with a reminder", "on their own"];
const levels = names.map((name, at) => ({
  levelId: `l${at + 1}`,
  name,
  meaning: at === 1 ? "one reminder" : "",
}));
const categories = [
  { categoryId: "habits", name: "Work habits", levels },
  { categoryId: "play", name: "Play", levels: [] },
];
const rated = (on: string, step: number | null, change: Partial<Jot> = {}): Jot => ({
  ...{
    jotId: `${on} ${step} ${change.rater?.personId ?? "n"}`,
    studentId: "s",
    authorId: "n",
    observerId: null,
  },
  ...{ author: "N. Halloran", rater: { personId: "n", name: "N. Halloran" }, on, at: "10:00", period: null },
  category: { categoryId: "habits", name: "Work habits" },
  level:
    step === null
      ? null
      : { levelId: `l${step}`, name: names[step - 1] ?? "", meaning: "", step, of: names.length },
  ...{ link: null, pictures: [], note: null, own: false, teamOnly: false, state: "kept", revision: 1 },
  ...change,
});
const teo = { rater: { personId: "t", name: "T. Brandvold" }, at: "10:05" };
const span = { from: "2026-09-08", to: "2026-11-24" };
const blocks = (jots: Jot[], named = true, words = en) =>
  jotBlocks(
    { jots, categories } satisfies JotsMaterial,
    span,
    { ...audienceDefaults.team, staff: named ? "names" : "none" },
    words,
  );
const habits = (jots: Jot[], named = true, words = en): JotsBlock => {
  const [first] = blocks(jots, named, words);
  if (first?.kind !== "jots") throw new Error("no jots");
  return first;
};

describe("jots in a report", () => {
  it("are levels over time: a step through each day's mean, every rating a point, the student's own apart", () => {
    const { chart, counts, latest } = habits([
      rated("2026-10-05", 1),
      rated("2026-10-05", 2, teo),
      rated("2026-10-05", 3, { own: true }),
      rated("2026-10-12", 3, { note: "Began alone." }),
      rated("2026-08-01", 1),
      rated("2026-11-25", 1),
    ]);
    expect(chart?.chart.line.map(({ step }) => step)).toEqual([1.5, 3]);
    expect(chart?.chart.points.map(({ step, own }) => [step, own])).toEqual([
      [1, false],
      [3, true],
      [2, false],
      [3, false],
    ]);
    expect(chart?.legend).toContain("open diamond: the student’s own");
    expect(counts).toBe("On their own (2), with a reminder (1), and not seen yet (1).");
    expect(latest).toMatchObject({ text: "On their own. Began alone.", page: "jots/2026-10-12 3 n" });
  });

  it("have no drawing of one day, and no raters where one person rated", () => {
    const { chart, raters } = habits([rated("2026-10-05", 1), rated("2026-10-05", 2, { at: "12:00" })]);
    expect([chart, raters]).toEqual([null, null]);
  });

  it("compare raters: the student's own first, adults named or not, in the reader's language", () => {
    const jots = [
      rated("2026-10-05", 1),
      rated("2026-10-05", 2, teo),
      rated("2026-10-05", 3, { own: true }),
      rated("2026-10-12", 3),
      rated("2026-10-12", 3, teo),
    ];
    expect(habits(jots).raters?.columns.map(({ name }) => name)).toEqual([
      "The student’s own rating",
      "N. Halloran",
      "T. Brandvold",
    ]);
    expect(habits(jots).raters?.sentence).toBe(
      "On 2 days rated by more than one adult: the same level in 1 of 2 comparisons (50%), at most one level apart in 2 of 2 comparisons (100%). Mean of the adults: 2.3 on levels 1 to 3.".replaceAll(
        /(\d) of (\d)/g,
        "$1\u00a0of\u00a0$2",
      ),
    );
    const unnamed = habits(jots, false, es).raters;
    expect(unnamed?.columns.map(({ name }) => name)).toEqual([
      "La valoración del propio estudiante",
      "Persona 1",
      "Persona 2",
    ]);
    expect(JSON.stringify(unnamed)).not.toContain("Halloran");
  });

  it("stand under a category that is no longer offered, and last what has none; a level that is gone is counted", () => {
    const old = { category: { categoryId: "old", name: "Mornings" }, note: "Came in calm." };
    const gone = { levelId: "x", name: "half way", meaning: "", step: null, of: 3 };
    const made = blocks([
      rated("2026-10-01", null, old),
      rated("2026-10-02", null, { category: null, note: "Lost a tooth." }),
      rated("2026-10-03", null, { level: gone }),
      rated("2026-10-04", 2),
    ]);
    expect(made.flatMap((block) => (block.kind === "jots" ? `${block.title}: ${block.counts}` : []))).toEqual(
      [
        "Work habits: Half way (1) and with a reminder (1).",
        "Mornings: 1 jot in this span.",
        "Without a category: 1 jot in this span.",
      ],
    );
  });

  it("show the latest six pictures that are here, the newest first", () => {
    const file = { width: 40, height: 30, sha256: "5e" };
    const taken = Array.from({ length: 8 }, (_, at) =>
      rated(`2026-10-0${at + 1}`, 1, {
        pictures: [{ pictureId: `p${at + 1}`, caption: "work", file: at === 7 ? null : file }],
      }),
    );
    const pictures = blocks(taken).find(({ kind }) => kind === "pictures");
    expect(pictures?.kind === "pictures" && pictures.items.map(({ pictureId }) => pictureId)).toEqual([
      "p7",
      "p6",
      "p5",
      "p4",
      "p3",
      "p2",
    ]);
  });
});
