/** How a device is called in the list of devices, from its browser's User-Agent header (RFC 9110): "Chrome on Android". */
export function deviceName(userAgent: string): string {
  const first = (table: [RegExp, string][], otherwise: string) =>
    table.find(([pattern]) => pattern.test(userAgent))?.[1] ?? otherwise;
  const browser = first(
    [
      [/Firefox/, "Firefox"],
      [/Edg/, "Edge"],
      [/Chrom/, "Chrome"],
      [/Safari/, "Safari"],
    ],
    "A browser",
  );
  const system = first(
    [
      [/Android/, "Android"],
      [/iPhone|iPad/, "iOS"],
      [/CrOS/, "ChromeOS"],
      [/Windows/, "Windows"],
      [/Mac/, "macOS"],
      [/Linux/, "Linux"],
    ],
    "a device",
  );
  return `${browser} on ${system}`;
}
