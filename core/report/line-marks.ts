import type { Language } from "../words/en.ts";

/** What is drawn beside a line of a report, in its language. Apart from the catalogues, which no page carries whole. */
export const lineMarks: Record<
  Language,
  { corrected: string; seeHistory: string; teamOnly: string; noteForTeam: string; newTab: string }
> = {
  en: {
    ...{ corrected: "corrected", seeHistory: "see history" },
    ...{ teamOnly: "team only", noteForTeam: "note for the team only", newTab: "opens in a new tab" },
  },
  es: {
    ...{ corrected: "corregido", seeHistory: "ver el historial" },
    ...{
      teamOnly: "solo para el equipo",
      noteForTeam: "nota solo para el equipo",
      newTab: "se abre en otra pestaña",
    },
  },
};
