/** A device's own key, sealed with a key made of a PIN. Texts in base64. */
export interface SealedKey {
  salt: string;
  iv: string;
  bytes: string;
}

/** How a device guards what it keeps of its person, as the server says with each pack. */
export interface DeviceLock {
  /** For how many days it is readable after the server last knew its person as signed in. */
  days: number;
  /** After how many minutes without use the recording screens ask for the PIN; null where the school does not want it. */
  minutes: number | null;
  /** What the device is left with while it is locked; null where its person has no PIN. */
  sealed: SealedKey | null;
}

/** Wrong PINs after which a locked device opens by signing in only. */
export const pinTries = 5;

/**
 * Rounds of PBKDF2 with SHA-256 from a PIN to the key that seals (the number that OWASP's password storage guidance gives, from memory).
 * A PIN of few digits stays guessable by a program that has the disk: `docs/operations.md` says so.
 */
export const pinRounds = 600_000;

/** What of the lock a device keeps, in the open: it is read before anything can be unsealed. */
export interface KeptLock extends DeviceLock {
  /** Whose device it is, as they sign. */
  name: string;
  /** When the server last knew them as signed in, by the device's clock; milliseconds since 1970. */
  since: number;
  /** Is the device's key gone from the disk, until the PIN brings it back? */
  shut: boolean;
  /** Wrong PINs in a row that the server has not counted, and all those it has not been told of. */
  tries: number;
  wrong: number;
  /** Has the server counted wrong ones since the last right one? It hears of that one, too. */
  counted: boolean;
  /** Five were wrong without a network: the session is ended as soon as the server can be reached. */
  over: boolean;
  /** The colleague who has the device in hand by their own PIN, which opens it too. */
  holder: { name: string; handoverId: string; sealed: SealedKey } | null;
}
