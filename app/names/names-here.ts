import type { HashedNames } from "#core/report/names/hashed-names-schema.ts";

/** The names of the school as hashes: from the server, or from what this device keeps to record with. Null where neither has them. */
export async function namesHere(): Promise<HashedNames | null> {
  try {
    const answer = await fetch("/names", { headers: { Accept: "application/json" } });
    // What answers in place of the server, as a hotel's network does, has no salt. A schema would weigh more than all of this.
    const body = (await answer.json()) as HashedNames;
    if (answer.ok && typeof body.salt === "string") return body;
  } catch {
    // Without a network the device knows.
  }
  const { keptNames } = await import("#app/recording/device/kept-names.ts");
  return keptNames();
}
