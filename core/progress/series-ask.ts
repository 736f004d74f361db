import type { DecideAsk } from "./decide.ts";

/** What `figures decide` asks for beside a goal's points. */
export type SeriesAsk = Pick<DecideAsk, "today" | "weeks" | "taughtOn" | "isStale">;
