/**
 * Prompt ladders to start from, until the school has its own. No order of prompts is standard, so a school is asked to put
 * its own in its own order.
 *
 * Source: kinds, amounts and numbers of prompts as they are commonly noted, common practice.
 */
export const starterLadders = [
  {
    name: "Kinds of prompt",
    levels: ["independent", "gestural", "verbal", "visual", "model", "partial physical", "full physical"],
    misses: ["no response", "refused"],
  },
  {
    name: "Amount of assistance",
    levels: ["independent", "minimal", "moderate", "maximal"],
    misses: ["no response", "refused"],
  },
  {
    name: "Number of prompts",
    levels: ["no prompt", "1 prompt", "2 prompts", "3 or more prompts"],
    misses: ["no response", "refused"],
  },
] as const;
