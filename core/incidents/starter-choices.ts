import type { ChoiceList } from "../model/choice-lists.ts";

/**
 * What a school's lists start with, until it says otherwise: kinds of things that classrooms have in common. Common practice;
 * what fits one student is chosen with that student in mind.
 */
export const starterChoices: Readonly<Record<ChoiceList, readonly string[]>> = {
  setting: ["classroom", "hallway", "lunch room", "playground", "gym", "bus"],
  antecedent: [
    "a direction was given",
    "change from a liked to a disliked task",
    "told no",
    "had to wait",
    "adult turned to another person",
    "disagreement with a peer",
    "loud or crowded",
    "nothing planned to do",
  ],
  behavior: [
    "shouting",
    "crying",
    "refusing to begin",
    "leaving the area",
    "hitting or kicking",
    "throwing things",
    "damaging things",
  ],
  consequence: [
    "reminded in words",
    "a break",
    "the task was taken away",
    "moved to a quiet place",
    "talked with an adult",
    "attention was withheld",
    "lost a privilege",
    "adults cleared the space",
  ],
  "setting event": ["slept badly", "unwell", "a new person", "a change in the day", "missed a meal"],
};
