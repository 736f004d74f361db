/** So many of the most common passwords are refused. */
const mostCommon = 10_000;

let common: Promise<ReadonlySet<string>> | undefined;

/** The most common passwords, from a list of passwords that leaked elsewhere; loaded when the first password is set. */
async function commonPasswords(): Promise<ReadonlySet<string>> {
  const { dictionary } = await import("@zxcvbn-ts/language-common");
  const listed = dictionary["passwords-common"] as readonly string[];
  return new Set(listed.slice(0, mostCommon).map((password) => password.toLowerCase()));
}

/** Length that is asked of a password. NIST SP 800-63B, 5.1.1.2 asks for eight at least, for a check against common ones, and no other rule. */
export const passwordLength = { least: 12, most: 200 };
/** What is said of a password of another length. */
export const passwordLengthWords = {
  short: `Please use at least ${passwordLength.least} characters; a few words are good.`,
  long: `At most ${passwordLength.most} characters.`,
};

/**
 * What is wrong with a password that somebody wants to set; null where nothing is.
 *
 * Source: NIST SP 800-63B, section 5.1.1.2 (from memory): no rules about kinds of signs, but none that is commonly used, and not the own
 * address.
 */
export async function passwordProblem(password: string, email: string): Promise<string | null> {
  if (password.length < passwordLength.least) return passwordLengthWords.short;
  if (password.length > passwordLength.most) return passwordLengthWords.long;
  const folded = password.trim().toLowerCase();
  const name = email.toLowerCase().split("@")[0] ?? "";
  if (
    folded === email.toLowerCase() ||
    (name.length > 3 && folded.replace(/[^a-z]/g, "") === name.replace(/[^a-z]/g, ""))
  )
    return "This is your own address. Please choose other words.";
  const known = await (common ??= commonPasswords());
  // One of them with digits and signs around it is tried next: "password1234", "Summer2026!!".
  const stem = folded.replace(/^[^a-z]+|[^a-z]+$/g, "");
  const isCommon = [folded, stem].some((one) => one !== "" && known.has(one));
  if (isCommon || /^(.)\1+$/.test(folded) || /^\d+$/.test(folded))
    return "This password is one of the most common ones, or nearly. Please choose other words.";
  return null;
}
