/** What a criterion counts in Spanish, with its gender. */
export const spanishOccasions = {
  session: { one: "sesión", many: "sesiones", gender: "f" },
  day: { one: "día", many: "días", gender: "m" },
  week: { one: "semana", many: "semanas", gender: "f" },
  month: { one: "mes", many: "meses", gender: "m" },
} as const;
