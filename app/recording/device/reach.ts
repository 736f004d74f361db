import type { Posted } from "./post.ts";

/** What the last opening found: how far the server can be reached, and whether the person is still signed in there. */
export type Reach =
  | "online"
  | "offline"
  | "signed out"
  /** Something else answers in its place: the sign-in page of a network, or a proxy. */
  | "elsewhere"
  /** It is there and can take nothing just now. */
  | "unwell";

const reaches: Record<Posted<unknown>["kind"], Reach> = {
  said: "online",
  "signed out": "signed out",
  "no answer": "offline",
  "not ours": "elsewhere",
  unwell: "unwell",
  failed: "unwell",
};

/** How far the server can be reached, by what became of a request. */
export const reachOf = ({ kind }: Posted<unknown>): Reach => reaches[kind];
