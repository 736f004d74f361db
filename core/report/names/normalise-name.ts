/**
 * A name or a word as names are compared: lower case, without accents, apostrophes and hyphens, without the ending of a possessive.
 *
 * @example normaliseName("José’s") // "jose"
 * @example normaliseName("O’Brien-Lee") // "obrienlee"
 */
export function normaliseName(text: string): string {
  return text
    .normalize("NFD")
    .replace(/\p{M}/gu, "")
    .toLowerCase()
    .replace(/ß/g, "ss")
    .replace(/ø/g, "o")
    .replace(/[’'ʼ](?:s|re|ll|d|ve)$/u, "")
    .replace(/s[’'ʼ]$/u, "s")
    .replace(/[^\p{L}\p{N}]/gu, "");
}
