/** The server's answer for an item: saved, or why not and what to do. Only by the first an item leaves its device. */
export type KeepAnswer =
  | { outcome: "saved" | "already" }
  /** `asks`: the clock of the device was wrong, so its person has to say when it was. */
  | { outcome: "refused"; why: string; asks?: "when" }
  /** This person may not record for this student now, or the goal is not there any more. */
  | { outcome: "not allowed" };

/**
 * The answer in what came back; null where it is none, whoever it is from. Read by hand: the schema of the tests, which says the same, would
 * bring its library into recording, 9.7 kB of 45 (measured, gzipped).
 */
export function readKeepAnswer(body: unknown): KeepAnswer | null {
  if (typeof body !== "object" || body === null || !("outcome" in body)) return null;
  const { outcome } = body;
  if (outcome === "saved" || outcome === "already" || outcome === "not allowed") return { outcome };
  const hasReason = outcome === "refused" && "why" in body && typeof body.why === "string";
  if (!hasReason) return null;
  return {
    outcome,
    why: String(body.why),
    ...("asks" in body && body.asks === "when" ? { asks: "when" } : {}),
  };
}

/** Of what a device hands in without a session. `held`: it waits for the leads, and the device may delete it. `unknown`: nothing of this person is taken so. `refused`: not this one. */
export type HandInAnswer = { outcome: "held" | "unknown" | "refused" };
