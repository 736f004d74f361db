/** Small files in which a command notes something for the next: written whole or not at all, and no hindrance where one is broken. */
import { mkdirSync, readFileSync, renameSync, writeFileSync } from "node:fs";
import { dirname } from "node:path";

/** What was noted; null where nothing was, or where it cannot be read. */
export function readState(file) {
  try {
    const value = JSON.parse(readFileSync(file, "utf8"));
    return typeof value === "object" ? value : null;
  } catch {
    return null;
  }
}

/** Writes it under another name first: whoever reads meanwhile finds the old or the new, and never half of one. */
export function writeState(file, value, { mode = 0o600 } = {}) {
  writeWhole(file, JSON.stringify(value), { mode });
}

export function writeWhole(file, text, { mode = 0o600 } = {}) {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const made = `${file}.${process.pid}.new`;
  writeFileSync(made, text, { mode });
  renameSync(made, file);
}
