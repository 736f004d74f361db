/** What a single letter, digit or sign does as a shortcut: what it names, the same only with Alt, or nothing. */
export const letterKeyWays = ["plain", "alt", "off"] as const;
export type LetterKeys = (typeof letterKeyWays)[number];
