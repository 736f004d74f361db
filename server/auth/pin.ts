import { createCipheriv, pbkdf2, randomBytes } from "node:crypto";
import { promisify } from "node:util";
import { pinRounds, type SealedKey } from "#core/sync/device-lock.ts";

/** Digits that anyone tries first: all the same, two in turn, or counting up or down by one. */
export function isEasyPin(pin: string): boolean {
  const steps = [...pin].slice(1).map((digit, index) => Number(digit) - Number(pin[index]));
  return [1, -1].some((step) => steps.every((one) => one === step)) || /^(\d{1,2})\1+$/.test(pin);
}

/** A key made of a PIN, and its salt. */
export interface PinKey {
  key: Buffer;
  salt: Buffer;
}

/** Makes a key of a PIN, as a device makes it when the PIN is typed there. */
export async function pinKeyOf(pin: string): Promise<PinKey> {
  const salt = randomBytes(16);
  return { salt, key: await promisify(pbkdf2)(pin, salt, pinRounds, 32, "sha256") };
}

/** Seals a device's own key with that of a PIN: AES-256-GCM, its tag at the end, as the Web Cryptography API takes it. */
export function sealedByPin({ key, salt }: PinKey, deviceKey: Buffer): SealedKey {
  const iv = randomBytes(12);
  const cipher = createCipheriv("aes-256-gcm", key, iv);
  const bytes = Buffer.concat([cipher.update(deviceKey), cipher.final(), cipher.getAuthTag()]);
  return {
    salt: salt.toString("base64"),
    iv: iv.toString("base64"),
    bytes: bytes.toString("base64"),
  };
}
