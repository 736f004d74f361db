/** A text without what no XML may hold (XML 1.0, 2.2 Characters). */
export const xmlText = (text: string): string =>
  text.replace(/[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\u{10000}-\u{10ffff}]/gu, "");
