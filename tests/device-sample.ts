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
export const readDeviceSample = (idOf: (name: string) => string): DeviceSample =>
  readSample<DeviceSample>("version-1", idOf);

/** A jot as it was half written, and as it and its picture were sent, in the first format of both. */
export const readJotSample = (idOf: (name: string) => string): { draft: unknown; queue: unknown[] } =>
  readSample("jots-1", idOf);

function readSample<Sample>(file: string, idOf: (name: string) => string): Sample {
  const text = readFileSync(new URL(`samples/device/${file}.json`, import.meta.url), "utf8");
  return JSON.parse(text.replaceAll(/"\{([^}"]+)\}"/g, (_, name: string) => `"${idOf(name)}"`)) as Sample;
}

/** The ids of a demo school by the names in the sample. */
export const idsOf =
  (demo: DemoIds) =>
  (name: string): string => {
    const [student = "", number] = name.split(" ");
    if (name === "noor") return demo.person("noor").personId;
    return number === undefined ? demo.student(student) : demo.goal(student, number);
  };
