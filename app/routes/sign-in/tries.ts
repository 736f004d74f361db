import { isSlowDown } from "#server/auth/rate-limit.ts";
import { plural } from "#core/words/numbers.ts";

const inWords = (seconds: number) => {
  const minutes = Math.ceil(seconds / 60);
  return seconds < 90 ? `${seconds} ${plural(seconds, "second")}` : `${minutes} minutes`;
};

/** Why a try did not succeed, with the status of the answer. */
export function tryProblem(
  tried: "wrong" | "no-school" | { slowDown: number },
  wrong: string,
): { problems: Record<string, string>; status: number } {
  const form = isSlowDown(tried)
    ? `Too many wrong tries. Try again in ${inWords(tried.slowDown)}.`
    : tried === "wrong"
      ? wrong
      : "This account is in no school today. Ask an administrator of your school.";
  return { problems: { form }, status: isSlowDown(tried) ? 429 : tried === "wrong" ? 401 : 403 };
}
