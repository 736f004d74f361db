import { type KindDetails, plainDetails } from "../kind-details.ts";
import { creditedWords, isCredited } from "../ladder.ts";
import { markOfSkill } from "./skills.ts";
import type { SkillsMeasure, SkillsEntry } from "./schema.ts";

export const skillsDetails: KindDetails<SkillsMeasure, SkillsEntry> = {
  ...plainDetails,
  partsCalled: ["sub-skill", "sub-skills"],
  creditedMeans: creditedWords,
  parts: (measure, { marks }) =>
    measure.skills.flatMap((part) => {
      const said = markOfSkill(marks, part);
      return said === undefined ? [] : [{ part, said, credited: isCredited(measure, said) ? 1 : 0, of: 1 }];
    }),
  facts: (measure, { marks }) =>
    measure.skills.map((skill) => ({ label: skill, value: markOfSkill(marks, skill) ?? "not marked" })),
};
