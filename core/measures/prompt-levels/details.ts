import { type KindDetails, plainDetails } from "../kind-details.ts";
import { creditedHelp } from "../../words/en/credited.ts";
import { countsWithPercent } from "../../words/numbers.ts";
import { creditedWords } from "../ladder.ts";
import { countAt, scorePromptLevels } from "./prompt-levels.ts";
import type { PromptLevelsMeasure, PromptLevelsEntry } from "./schema.ts";

export const promptLevelsDetails: KindDetails<PromptLevelsMeasure, PromptLevelsEntry> = {
  ...plainDetails,
  partsCalled: ["prompt level", "prompt levels"],
  creditedMeans: () => "of the opportunities",
  parts: (measure, { counts }) => {
    const of = Object.values(counts).reduce((sum, count) => sum + count, 0);
    return [...measure.levels, ...measure.misses].map((part) => {
      const credited = countAt(counts, part);
      return { part, said: String(credited), credited, of };
    });
  },
  sideFigures: ({ levels }) =>
    levels.map((level, index) => ({
      figure: `cumulative.${level}`,
      label: creditedHelp({ level, isFirst: index === 0 }),
      unit: "percent",
      better: "increase",
    })),
  facts: (measure, entry, score) => {
    const left = measure.misses.filter(
      (miss) => !(measure.countMisses ?? measure.misses).includes(miss) && countAt(entry.counts, miss) > 0,
    );
    if (left.length === 0) return [];
    const { misses } = measure;
    const all = scorePromptLevels({ ...measure, countMisses: misses }, entry);
    return [
      { label: `Without ${left.join(", ")}`, value: countsWithPercent(score, creditedWords(measure)) },
      {
        label: "With all opportunities",
        value: all.ok ? countsWithPercent(all.score, creditedWords(measure)) : "",
      },
    ];
  },
};
