const year = 365 * 86_400_000;

/**
 * Where a weakness in this installation is reported, in the form of RFC 9116; null where no contact is set.
 *
 * @param contact an address as `mailto:…`, `https://…` or `tel:…`; an e-mail address alone counts as `mailto:`
 */
export function securityTxt(contact: string | undefined, now: number): string | null {
  const written = contact?.trim() ?? "";
  const uri = /^[^\s:@]+@[^\s:@]+$/.test(written) ? `mailto:${written}` : written;
  if (!/^(mailto|https|tel):\S+$/.test(uri)) return null;
  return `Contact: ${uri}\nExpires: ${new Date(now + year).toISOString()}\nPreferred-Languages: en, es`;
}
