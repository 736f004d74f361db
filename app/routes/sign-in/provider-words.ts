import type { ProviderProblem } from "#server/auth/provider.ts";

/** What stands in the way of a sign-in by the school's provider, and what to do. */
export const providerProblems: Record<ProviderProblem, string> = {
  away: "The sign-in of your school does not answer. Try again in a minute, or sign in with e-mail and password.",
  "not-set": "Nobody signs in here by a provider of this school. Sign in with e-mail and password.",
  "not-finished": "The sign-in at your school was not finished, or took longer than ten minutes. Try again.",
  "not-invited":
    "Your school knows you, and you have no place in Gentle Margin there yet. Ask an administrator of your school to invite you with this e-mail.",
  "no-email":
    "The sign-in of your school did not give an e-mail that it has made sure of. Ask who looks after the sign-in there.",
};

/** The words for a problem as an address names it; null for anything else. */
export const providerProblem = (named: string | null): string | null =>
  named !== null && Object.hasOwn(providerProblems, named)
    ? providerProblems[named as ProviderProblem]
    : null;
