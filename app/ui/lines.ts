/** One thing a line, as lists are typed and pasted; empty lines are nothing. */
export function lines(text: string | undefined): string[] {
  return (text ?? "")
    .split(/\r?\n/)
    .map((line) => line.replace(/^\s*(?:[-•*]|\(?[0-9]{1,3}[.)]|\(?[a-z]\))\s+/i, "").trim())
    .filter((line) => line !== "");
}
