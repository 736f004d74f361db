/** Decisions of the test script that are worth a test of their own: which parts run, and what their results count as. */
const allParts = ["types", "lint", "unit", "db", "browser"];

export function partsOf(only) {
  const wished = only === undefined ? allParts : only.split(",").map((part) => part.trim());
  const unknown = wished.filter((part) => !allParts.includes(part));
  if (unknown.length > 0) throw new Error(`--only takes ${allParts.join(", ")}; not ${unknown.join(", ")}`);
  return new Set(wished);
}

/**
 * A test file that failed without a failed test (it could not be loaded, its set-up failed) counts as one failure.
 * @param {{ numPassedTests: number, numFailedTests: number, testResults?: { status: string, assertionResults: { status: string }[] }[] }} results
 */
export function vitestCounts({ numPassedTests, numFailedTests, testResults = [] }) {
  const unloaded = testResults.filter(
    (file) => file.status === "failed" && !file.assertionResults.some((test) => test.status === "failed"),
  ).length;
  return { passed: numPassedTests, failed: numFailedTests + unloaded };
}

/**
 * A test that passed only at a second try is no pass.
 * @param {{ stats: { expected: number, unexpected: number, flaky: number }, errors?: unknown[] }} results
 */
export function playwrightCounts({ stats, errors = [] }) {
  return { passed: stats.expected, failed: stats.unexpected + stats.flaky + errors.length };
}

/** @param {{ passed: number, failed: number }[]} counts */
export function sumOf(counts) {
  return counts.reduce(
    (sum, { passed, failed }) => ({ passed: sum.passed + passed, failed: sum.failed + failed }),
    { passed: 0, failed: 0 },
  );
}
