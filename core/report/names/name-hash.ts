import { hmac } from "@noble/hashes/hmac";
import { sha256 } from "@noble/hashes/sha2";
import { utf8ToBytes } from "@noble/hashes/utils";
import { hashLength, type NameHash } from "./hashed-names.ts";

const letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-_";
const lettersOfByte = 63;

/** The hash of names with the salt of a school, the same on the server and on a device. */
export const nameHash =
  (salt: string): NameHash =>
  (text) =>
    [...hmac(sha256, utf8ToBytes(salt), utf8ToBytes(text)).slice(0, hashLength)]
      .map((byte) => letters[byte & lettersOfByte])
      .join("");
