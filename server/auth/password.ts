import { hash, verify } from "@node-rs/argon2";

/**
 * Argon2id with 64 MiB and three passes: the second recommended option of RFC 9106, section 4, with one lane in place of four, since
 * each hash has one thread here.
 */
const options = { memoryCost: 65_536, timeCost: 3, parallelism: 1 };

/** The Argon2id hash of a password, with its salt, as it is stored. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, options);
}

/** Was a hash made with less memory or time than is used today? Then it is made anew when its password is next known. */
export function isOldHash(stored: string): boolean {
  const [, memory, time] = /^\$argon2id\$v=19\$m=(\d+),t=(\d+),p=\d+\$/.exec(stored) ?? [];
  return Number(memory ?? 0) < options.memoryCost || Number(time ?? 0) < options.timeCost;
}

let decoy: Promise<string> | undefined;

/** Checks a password; against nobody's hash when there is no such account, so that both answers take the same time. */
export async function passwordMatches(password: string, storedHash: string | null): Promise<boolean> {
  decoy ??= hashPassword("no account has this password");
  const matched = await verify(storedHash ?? (await decoy), password);
  return matched && storedHash !== null;
}

/** Makes the decoy before the first sign-in needs it. */
export async function warmPasswords(): Promise<void> {
  await passwordMatches("", null);
}
