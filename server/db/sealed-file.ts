import { createCipheriv, createDecipheriv, randomBytes, scrypt } from "node:crypto";
import { createReadStream, createWriteStream } from "node:fs";
import { open } from "node:fs/promises";
import type { Readable, Writable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { promisify } from "node:util";

const derive = promisify<string, Buffer, number, Buffer>(scrypt);
const mark = Buffer.from("gmbackup1");
const [saltLength, ivLength, tagLength] = [16, 12, 16];
const headLength = mark.length + saltLength + ivLength;
const cipher = "aes-256-gcm";

/** Does a file hold a backup that was encrypted here? */
export async function isSealed(file: string): Promise<boolean> {
  const opened = await open(file, "r");
  try {
    const { buffer, bytesRead } = await opened.read(Buffer.alloc(mark.length), 0, mark.length, 0);
    return bytesRead === mark.length && buffer.equals(mark);
  } finally {
    await opened.close();
  }
}

/** Writes what comes to a file, encrypted (AES-256-GCM, the key made of the passphrase by scrypt): nothing of it is on the disk in the open. */
export async function sealTo(to: Writable, from: Readable, passphrase: string): Promise<void> {
  const [salt, iv] = [randomBytes(saltLength), randomBytes(ivLength)];
  const sealing = createCipheriv(cipher, await derive(passphrase, salt, 32), iv);
  to.write(Buffer.concat([mark, salt, iv]));
  await pipeline(from, sealing, to, { end: false });
  await new Promise<void>((resolve, reject) => {
    to.once("error", reject);
    to.once("close", resolve);
    to.end(sealing.getAuthTag());
  });
}

/**
 * Writes the content of an encrypted file to another one that only its maker can read.
 *
 * @throws Error where the passphrase is another one, or the file was changed; what was written until then must not be used
 */
export async function openSealed(file: string, to: string, passphrase: string): Promise<void> {
  const opened = await open(file, "r");
  try {
    const { size } = await opened.stat();
    const head = Buffer.alloc(headLength);
    const tag = Buffer.alloc(tagLength);
    await opened.read(head, 0, headLength, 0);
    await opened.read(tag, 0, tagLength, size - tagLength);
    const salt = head.subarray(mark.length, mark.length + saltLength);
    const iv = head.subarray(mark.length + saltLength);
    const opening = createDecipheriv(cipher, await derive(passphrase, salt, 32), iv).setAuthTag(tag);
    await pipeline(
      createReadStream(file, { start: headLength, end: size - tagLength - 1 }),
      opening,
      createWriteStream(to, { mode: 0o600 }),
    );
  } catch (error) {
    if (error instanceof Error && /authenticate|Invalid|out of range/i.test(error.message))
      throw new Error("The backup cannot be opened: its key is another one, or the file was changed.", {
        cause: error,
      });
    throw error;
  } finally {
    await opened.close();
  }
}
