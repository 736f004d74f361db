import { checklist } from "./checklist/checklist.ts";
import { count } from "./count/count.ts";
import { duration } from "./duration/duration.ts";
import { fluency } from "./fluency/fluency.ts";
import { intervals } from "./intervals/intervals.ts";
import { latency } from "./latency/latency.ts";
import { outcomes } from "./outcomes/outcomes.ts";
import { rubric } from "./rubric/rubric.ts";
import { runningTotal } from "./running-total/running-total.ts";
import { skills } from "./skills/skills.ts";
import { steps } from "./steps/steps.ts";
import { promptLevels } from "./prompt-levels/prompt-levels.ts";
import { trials } from "./trials/trials.ts";
import type { Kind } from "./kind.ts";
import type { Scored } from "./score.ts";
import type { Measure, MeasureKind, ObservedEntry } from "./measure-schema.ts";

/** All kinds, in the order in which a person is offered them. No schema is loaded with them: recording screens are small. */
export const kinds: Record<MeasureKind, Kind<Measure, ObservedEntry>> = {
  trials,
  supports: promptLevels,
  skills,
  checklist,
  steps,
  count,
  duration,
  latency,
  intervals,
  fluency,
  rubric,
  outcomes,
  "running-total": runningTotal,
};

export const measureKinds = Object.keys(kinds) as MeasureKind[];

/** Everything that is known of the kind of a measure. */
export function kindOf(measure: Measure): Kind<Measure, ObservedEntry> {
  return kinds[measure.kind];
}

/** The unit in which a measure gives its value. */
export function unitOf(measure: Measure): string {
  return kindOf(measure).unit(measure);
}

/** The score of an entry whose shape is right, or what is wrong with it as a whole. */
export function judgeEntry(measure: Measure, entry: ObservedEntry): Scored {
  const kind = kindOf(measure);
  const result = kind.score(measure, entry);
  const problems = result.ok ? (kind.problems?.(measure, entry) ?? []) : [];
  return problems.length > 0 ? { ok: false, problems } : result;
}
