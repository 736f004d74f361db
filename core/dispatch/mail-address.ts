/** The address in `Name <address>`, or the text itself. */
export const addressIn = (from: string): string => /<([^>]*)>\s*$/.exec(from)?.[1] ?? from.trim();

/** Ports at which mail servers take mail (RFC 6409, 8314); 2525 in their place (common practice). */
export const mailPorts: readonly number[] = [25, 465, 587, 2525];
