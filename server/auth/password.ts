import { hash, verify } from "@node-rs/argon2";

/** argon2id with the memory and time the OWASP password storage cheat sheet asks for (19 MiB, 2 passes; from memory). */
const options = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** The Argon2id hash of a password, with its salt, as it is stored. */
export function hashPassword(password: string): Promise<string> {
  return hash(password, options);
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
