import type { Decision } from "../model/decision.ts";

/** The latest day up to which one of these decisions says that the goal was taught as planned. */
export const taughtOn = (decisions: readonly Decision[]): string | null =>
  decisions.find(({ kind }) => kind === "taught as planned")?.on ?? null;
