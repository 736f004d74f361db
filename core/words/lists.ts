/** "shouting", "shouting and crying", "shouting, crying and hitting" */
export function listed(words: readonly string[], last: "and" | "or" = "and"): string {
  const end = words.at(-1) ?? "";
  return words.length < 2 ? end : `${words.slice(0, -1).join(", ")} ${last} ${end}`;
}
