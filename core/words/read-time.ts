/** No length of time is written with more letters. */
const longest = 60;

/**
 * Reads a length of time as a person types it: "4:10", "1:02:30", "45 s", "4 min 10 s", "20 min", "1 h 5 min".
 *
 * @returns seconds, or null when the text is no length of time; a bare number has no unit and is none
 */
export function readLengthOfTime(typed: string): number | null {
  // The pattern below may skip blanks at many places: of five hundred of them it would try every way to share them out.
  const text = typed.replace(/\s+/g, " ").trim();
  if (text.length > longest) return null;
  const clock = /^\s*(?:(\d{1,3}):)?(\d{1,3}):([0-5]\d)\s*$/.exec(text);
  if (clock) return 3600 * Number(clock[1] ?? 0) + 60 * Number(clock[2]) + Number(clock[3]);
  const words =
    /^\s*(?:(\d+(?:[.,]\d+)?)\s*h(?:ours?|rs?)?\.?)?\s*(?:(\d+(?:[.,]\d+)?)\s*m(?:in(?:utes?)?)?\.?)?\s*(?:(\d+(?:[.,]\d+)?)\s*s(?:ec(?:onds?)?)?\.?)?\s*$/i.exec(
      text,
    );
  if (!words || words.slice(1).every((part) => part === undefined)) return null;
  const [hours = 0, minutes = 0, seconds = 0] = words
    .slice(1)
    .map((part) => (part === undefined ? 0 : Number(part.replace(",", "."))));
  return 3600 * hours + 60 * minutes + seconds;
}

/** The same the other way, as it stands in a field: 250 → "4:10". */
export function clockTime(seconds: number): string {
  if (!Number.isInteger(seconds)) return `${seconds} s`;
  const [hours, minutes, rest] = [
    Math.floor(seconds / 3600),
    Math.floor((seconds % 3600) / 60),
    seconds % 60,
  ];
  const pad = (value: number) => String(value).padStart(2, "0");
  return hours > 0 ? `${hours}:${pad(minutes)}:${pad(rest)}` : `${minutes}:${pad(rest)}`;
}
