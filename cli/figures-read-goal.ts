import { readMore } from "#core/goal-wording/more.ts";
import { readGoal } from "#core/goal-wording/read-goal.ts";
import { inputLines, jsonLines } from "./lines.ts";

/** `figures read-goal`: one goal statement a line in, what each says of its set-up out. */
export function figuresReadGoal(text: string, { json }: { json: boolean }): string {
  const rows = inputLines(text).map(({ line }) => {
    const { reading } = readGoal(line);
    const more = readMore(line, reading);
    return { text: line, ...reading, ...(Object.keys(more).length > 0 ? { more } : {}) };
  });
  if (json) return jsonLines(rows);
  return rows
    .map(({ text, ...reading }) => {
      const said = Object.entries(reading)
        .filter(([, value]) => value !== null)
        .map(
          ([field, value]) =>
            `  ${field.padEnd(14)}${typeof value === "object" ? JSON.stringify(value) : value}\n`,
        );
      return `${text}\n${said.length > 0 ? said.join("") : "  nothing is read from it\n"}`;
    })
    .join("\n");
}
