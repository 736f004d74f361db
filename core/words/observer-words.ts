/** Who watched, and who wrote it down where that was another: "T. Brandvold, written by N. Halloran". */
export function observerWords(observer: string, writer: string | null): string {
  return writer === null || writer === observer ? observer : `${observer}, written by ${writer}`;
}
