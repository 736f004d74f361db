import type { MeasureKind } from "./measure-schema.ts";

/** How each kind of measure is called in the list of measures, and when it is the right one. Apart from the kinds, since no recording screen needs it. */
export const kindNames: Record<MeasureKind, { name: string; when: string }> = {
  trials: {
    name: "Trials, correct or not",
    when: "Each opportunity is correct or not: problems solved, words spelled, requests made.",
  },
  supports: {
    name: "Prompt levels, counted",
    when: "Each opportunity is recorded by the help it took: independent, gestural, verbal, and so on.",
  },
  skills: {
    name: "A grid of sub-skills",
    when: "Several named skills observed together, each with the help it took.",
  },
  checklist: {
    name: "A checklist of items",
    when: "Which items of a set are known: letters, words, coins, tools.",
  },
  steps: {
    name: "A task analysis in steps",
    when: "A chain of steps in order: washing hands, packing a bag.",
  },
  count: {
    name: "A count or rate",
    when: "How often something happens: call-outs, requests, turns in a conversation.",
  },
  duration: {
    name: "Duration",
    when: "How long something lasts: staying with the group, sustained reading, crying.",
  },
  latency: {
    name: "Latency",
    when: "How soon after a signal the response begins: the next activity, an answer, seat work.",
  },
  intervals: {
    name: "Intervals",
    when: "Seen or not in each short stretch of time: on task, engaged, talking out.",
  },
  fluency: { name: "Fluency", when: "Correct words, letters, sounds, or digits a minute, with accuracy." },
  rubric: {
    name: "A rubric",
    when: "Criteria with levels in words: a paragraph, a presentation, a joint task.",
  },
  outcomes: {
    name: "Named outcomes",
    when: "One of a few outcomes, each worth a credit: full, with help, not at all.",
  },
  "running-total": {
    name: "A running total",
    when: "Amounts add up to a target: minutes of practice, books read.",
  },
};
