import type { PacketForm } from "#core/report/packet.ts";
import type { PacketReportState, PacketState } from "#server/db/packets.ts";

/** What a packet can be made into. */
export const formWords: Record<PacketForm, string> = {
  one: "One PDF, to print and hand out",
  pdfs: "A PDF for each student, in a ZIP",
  words: "A Word file for each student, in a ZIP",
};

/** How far a packet is, for the list of them. */
export const packetStateWords: Record<PacketState, string> = {
  reading: "being made",
  names: "waits for you: names to look at",
  making: "being made",
  done: "ready",
  cancelled: "cancelled",
  failed: "not made",
};

/** Why a student's report is not in a packet that is done; null where it is. */
export const leftOutWords: Record<PacketReportState, string | null> = {
  ...{ waiting: "not read", read: "not made", names: "names to look at", made: null },
  "left out": "left out because of a name in it",
  "not lead": "you are no longer the case manager",
  nothing: "there was nothing to make a page of",
  failed:
    "its report could not be made. Make its file on the student’s own page, and tell your administrator if that fails too.",
};
