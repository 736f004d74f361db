import { readFileSync } from "node:fs";

/**
 * The passphrase of backups, from a file or from the environment; undefined where they are not encrypted.
 *
 * @throws Error where it is too short to keep anything
 */
export function backupKey(env: NodeJS.ProcessEnv): string | undefined {
  const file = env["BACKUP_KEY_FILE"];
  const key = file ? readFileSync(file, "utf8").trim() : env["BACKUP_KEY"];
  if (key !== undefined && key !== "" && key.length < 16)
    throw new Error(
      "The key of backups has fewer than 16 characters. Make one with: openssl rand -base64 24",
    );
  return key || undefined;
}
