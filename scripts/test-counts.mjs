/** Decisions of the test script that are worth a test of their own: which parts run, and what their results count as. */
import { stripVTControlCharacters } from "node:util";

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

/**
 * The tests that failed, by file, title and the first line of what was wrong: the last lines of a log say it all.
 * @param {{ testResults?: { name?: string, status: string, message?: string, assertionResults: { status: string, fullName?: string, failureMessages?: string[] }[] }[] }} results
 */
export function vitestFailures({ testResults = [] }) {
  return testResults
    .filter((file) => file.status === "failed")
    .flatMap((file) => {
      const failed = file.assertionResults.filter((test) => test.status === "failed");
      if (failed.length === 0) return [`${file.name}: ${firstLine(file.message)}`];
      return failed.map((test) => `${file.name}: ${test.fullName}: ${firstLine(test.failureMessages?.[0])}`);
    });
}

/** @param {{ suites?: any[], errors?: any[] }} results */
export function playwrightFailures({ suites = [], errors = [] }) {
  const ofSuite = (suite) => [
    ...(suite.specs ?? [])
      .filter((spec) => !spec.ok || spec.tests?.some((test) => test.status === "flaky"))
      .map((spec) => {
        const errors = (spec.tests ?? []).flatMap((test) =>
          test.results.map((result) => result.error?.message),
        );
        return `${spec.file}: ${spec.title}: ${firstLine(errors.find(Boolean))}`;
      }),
    ...(suite.suites ?? []).flatMap(ofSuite),
  ];
  return [...suites.flatMap(ofSuite), ...errors.map((error) => firstLine(error.message))];
}

// Colors of a terminal have no place in a list.
const firstLine = (text) =>
  stripVTControlCharacters(text ?? "")
    .split("\n")[0]
    .slice(0, 300);

/** @param {{ passed: number, failed: number }[]} counts */
export function sumOf(counts) {
  return counts.reduce(
    (sum, { passed, failed }) => ({ passed: sum.passed + passed, failed: sum.failed + failed }),
    { passed: 0, failed: 0 },
  );
}
