import { readFileSync } from "node:fs";
import type { DemoIds } from "./demo-school.ts";

/** Everything that a device kept in the first version of its disk, unsealed. */
export interface DeviceSample {
  version: number;
  /** By what follows the person's id in its place: nothing, `incident`, `tallies`. */
  packs: Record<string, unknown>;
  sittings: { sittingId: string }[];
  sheets: { sittingId: string; goal: { goalId: string } }[];
  queue: { id: string }[];
}

/**
 * What a device of the demo kept on Nov 24, as it was written then. Ids stand in it as names of the demo's story.
 *
 * @param idOf the id of a name: `noor`, `Wren`, `Wren 2b`
 */
export function readDeviceSample(idOf: (name: string) => string): DeviceSample {
  const text = readFileSync(new URL("samples/device/version-1.json", import.meta.url), "utf8");
  return JSON.parse(
    text.replaceAll(/"\{([^}"]+)\}"/g, (_, name: string) => `"${idOf(name)}"`),
  ) as DeviceSample;
}

/** The ids of a demo school by the names in the sample. */
export const idsOf =
  (demo: DemoIds) =>
  (name: string): string => {
    const [student = "", number] = name.split(" ");
    if (name === "noor") return demo.person("noor").personId;
    return number === undefined ? demo.student(student) : demo.goal(student, number);
  };
