/** The number after the last on an IEP page: 3 after 2b, 1 on an empty one. */
export function nextGoalNumber(numbers: Iterable<string>): string {
  return String(Math.max(0, ...[...numbers].map((number) => Number.parseInt(number, 10) || 0)) + 1);
}
