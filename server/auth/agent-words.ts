const browsers: readonly (readonly [RegExp, string])[] = [
  [/\bEdg(?:e|A|iOS)?\//, "Edge"],
  [/\b(?:Firefox|FxiOS)\//, "Firefox"],
  [/\b(?:OPR|Opera)\b/, "Opera"],
  [/\bSamsungBrowser\//, "Samsung Internet"],
  [/\b(?:Chrome|CriOS|HeadlessChrome)\//, "Chrome"],
  [/\bSafari\//, "Safari"],
];
const systems: readonly (readonly [RegExp, string])[] = [
  [/\biPad\b/, "an iPad"],
  [/\biPhone\b/, "an iPhone"],
  [/\bCrOS\b/, "a Chromebook"],
  [/\bAndroid\b/, "Android"],
  [/\bWindows\b/, "Windows"],
  [/\bMac OS X\b/, "a Mac"],
  [/\bLinux\b/, "Linux"],
];

const named = (agent: string, names: typeof browsers) => names.find(([pattern]) => pattern.test(agent))?.[1];

/** A browser and its device in words, by what it says of itself: "Firefox on Windows"; "A browser" where it says nothing known. */
export function agentWords(agent: string | null): string {
  const browser = named(agent ?? "", browsers) ?? "A browser";
  const system = named(agent ?? "", systems);
  return system ? `${browser} on ${system}` : browser;
}
