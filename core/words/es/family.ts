import type { FamilyWords } from "../en/family.ts";
import { spanish } from "./spanish.ts";

const standings: Record<Parameters<FamilyWords["standing"]>[0], (name: string) => string> = {
  met: () => "Esta meta está cumplida.",
  reached: (name) => `${name} ha alcanzado esta meta. El equipo lo confirmará.`,
  lost: (name) => `${name} cumplía esta meta antes y ahora no la cumple. El equipo volverá a revisarla.`,
  "new-phase": () => "Ha comenzado una forma nueva de enseñanza. Todavía es pronto para saber cómo va.",
  "too-few": () => "Hay pocas mediciones para saber cómo va.",
  "past-due": () => "La fecha de esta meta ya pasó. El equipo decidirá qué sigue.",
  ahead: (name) => `${name} va por delante de lo que se espera hasta ahora.`,
  on: (name) => `${name} va como el equipo espera hasta ahora.`,
  behind: (name) =>
    `${name} va por detrás de lo que se espera hasta ahora. El equipo revisará cómo se enseña esta meta.`,
  "no-line": () => "No hay una fecha fijada para alcanzar esta meta.",
};

const briefly: Record<Parameters<FamilyWords["briefly"]>[0], string> = {
  met: "Cumplida.",
  reached: "Alcanzada; el equipo lo confirmará.",
  lost: "Por ahora no se cumple.",
  "new-phase": "Ha comenzado una forma nueva de enseñanza.",
  "too-few": "Todavía es pronto para saberlo.",
  "past-due": "La fecha ya pasó.",
  ahead: "Por delante de lo que se espera.",
  on: "Como se espera.",
  behind: "Por detrás de lo que se espera.",
  "no-line": "Sin fecha fijada.",
};

/** Positions as schools in the United States usually write them. Another one stays as the school wrote it. */
const positions: Record<string, string> = {
  "case manager": "responsable del caso",
  teacher: "docente",
  "special education teacher": "docente de educación especial",
  paraeducator: "asistente educativo",
  paraprofessional: "asistente educativo",
  "speech-language pathologist": "especialista del habla y el lenguaje",
  "occupational therapist": "terapeuta ocupacional",
  "physical therapist": "fisioterapeuta",
  "adapted pe": "educación física adaptada",
  psychologist: "psicología",
  "school psychologist": "psicología escolar",
  principal: "dirección",
  counselor: "orientación",
  nurse: "enfermería",
};

/** Plain sentences for families; Spanish. */
export const familyEs: FamilyWords = {
  meaning: (name, title, criterion, due) =>
    `En palabras sencillas: ${name} trabaja en “${title}”. La meta es ${criterion}${due ? `, antes del ${spanish.date(due, "full")}` : ""}.`,
  standing: (key, name) => standings[key](name),
  briefly: (key) => briefly[key],
  pace: (isEnough, isOtherwise) =>
    `${isOtherwise ? "Pero a" : "A"} este ritmo, la meta ${isEnough ? "se" : "no se"} alcanzará para su fecha.`,
  atFirst: () => "Al principio",
  now: () => "Ahora",
  measurements: (n) => `${spanish.whole(n)} ${spanish.oneOr(n, "medición", "mediciones")}`,
  iep: () => "IEP (programa educativo individualizado)",
  stale: () => "Esta meta no se ha medido últimamente.",
  notMeasured: () => "Esta meta todavía no se ha medido.",
  glance: (title, figures, standing) =>
    `${title}: ${figures.length > 0 ? `${figures.join("\u00a0→\u00a0")}. ` : ""}${standing}`,
  writtenBy: (observer, writer) => `${observer}, escrito por ${writer}`,
  position: (position) => positions[position.toLowerCase()] ?? position,
  columns: { on: "Día", result: "Lo registrado", note: "Nota", by: "Registrado por" },
};
