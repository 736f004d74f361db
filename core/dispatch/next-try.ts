import type { MessageKind } from "./message-kinds.ts";

const minute = 60_000;
const hour = 60 * minute;

/**
 * After so long each a message is tried again that the mail server put off. It is given up after five days.
 *
 * Source: RFC 5321, 4.5.4.1: "retry intervals … at least 30 minutes" with more and sooner tries in the first hour, and "the give-up time
 * generally needs to be at least 4–5 days".
 */
const usual = [2 * minute, 10 * minute, 30 * minute, hour, 2 * hour];
const afterwards = 3 * hour;
const giveUpAfter = 5 * 24 * hour;

/** A code runs out after ten minutes, and its reader waits for it. */
const ofCode = [10_000, 20_000, 40_000, minute, 2 * minute, 4 * minute];

/**
 * How long after its try a message is tried again.
 *
 * @param tries how often it was tried, at least 1
 * @param ageMs how long ago it was made, in milliseconds
 * @returns milliseconds; null where it is given up
 */
export function nextTryAfter(kind: MessageKind, tries: number, ageMs: number): number | null {
  if (kind === "code" || kind === "test") return ofCode[tries - 1] ?? null;
  const wait = usual[tries - 1] ?? afterwards;
  return ageMs + wait > giveUpAfter ? null : wait;
}
