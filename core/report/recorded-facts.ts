import { detailsOf } from "../measures/details-of.ts";
import type { Fact } from "../measures/kind-details.ts";
import type { Recorded } from "./entry-line.ts";

/** Everything an entry holds beyond its line: each sub-skill, each bout, the order of the marks. */
export const recordedFacts = ({
  measure,
  entry,
  score,
}: Pick<Recorded, "measure" | "entry" | "score">): Fact[] => detailsOf(measure).facts(measure, entry, score);
