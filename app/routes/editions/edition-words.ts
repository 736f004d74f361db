import type { Audience } from "#core/report/audience.ts";
import type { Edition, ShareWay } from "#server/db/editions.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";

/** For whom an edition is, as its page says it. */
export const audienceNames: Record<Audience, string> = {
  team: "the team",
  family: "the family",
  file: "the file",
  own: "others",
};

/** For whom a report is, with the name that a school gave an audience of its own. */
export const audienceWords = ({
  audience,
  name,
}: {
  audience: Audience;
  name?: string | null | undefined;
}): string => (audience === "own" && name) || audienceNames[audience];

/** How an edition was given to others. */
export const shareWays: Record<ShareWay, string> = {
  printed: "Printed",
  "in the meeting": "In the meeting",
  mailed: "Mailed",
  "family page": "On the family’s page",
  other: "In another way",
};

/** "Replaces edition 2: 3 lines corrected and 1 removed." */
export function replacesWords({ replaces }: Pick<Edition, "replaces">): string | null {
  if (!replaces) return null;
  const { number, changes } = replaces;
  const parts = [
    changes.corrected > 0 ? `${changes.corrected} ${plural(changes.corrected, "line")} corrected` : "",
    changes.removed > 0 ? `${changes.removed} removed` : "",
    changes.added > 0 ? `${changes.added} recorded later` : "",
  ].filter(Boolean);
  return `Replaces edition ${number}: ${parts.length > 0 ? listed(parts) : "no line of it was changed"}.`;
}
