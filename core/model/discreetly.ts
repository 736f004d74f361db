/**
 * A text with the names of a student as initials, for a wall that others may see: "Wren reads 80 words" becomes "W. A. reads 80 words".
 * Whole words only, whatever follows them: "Wren's" too, "wrench" not.
 */
export function discreetly(
  text: string,
  { name, calledName, initials }: { name: string; calledName: string; initials: string },
): string {
  const names = [...new Set([name, calledName, ...name.split(/\s+/)])]
    .filter((one) => one.length > 1)
    .sort((a, b) => b.length - a.length)
    .map((one) => one.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  if (names.length === 0) return text;
  return text.replace(
    new RegExp(`(?<![\\p{L}\\p{N}])(?:${names.join("|")})(?![\\p{L}\\p{N}])`, "gu"),
    initials,
  );
}
