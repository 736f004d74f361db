import { readdir, readFile, stat } from "node:fs/promises";
import { createRequire } from "node:module";
import { dirname, join } from "node:path";

const find = createRequire(import.meta.url).resolve;
const weights = [400, 600, 700];

/**
 * The typefaces of the pages for paper: one file for each weight. Of a typeface that varies Chromium puts each letter into a PDF as a
 * drawing, four times the size. Digits are of another typeface, as on the screen.
 */
const faces = [
  { named: "Literata Variable", from: "literata", range: null },
  { named: "Atkinson Hyperlegible Next Variable", from: "atkinson-hyperlegible-next", range: null },
  { named: "Atkinson Hyperlegible Next Variable", from: "public-sans", range: "U+30-39" },
];

/** The rules of one typeface in one weight, with its files in them. */
async function faceRules({ named, from, range }: (typeof faces)[number], weight: number): Promise<string> {
  const file = find(`@fontsource/${from}/${weight}.css`);
  const rules = (await readFile(file, "utf8")).match(/@font-face\s*\{[^}]*\}/g) ?? [];
  const wanted = range === null ? rules : rules.slice(-1);
  return (
    await Promise.all(
      wanted.map(async (rule) => {
        const [, path = ""] = /url\(\.\/(files\/[\w-]+\.woff2)\)/.exec(rule) ?? [];
        const [, covers = "U+0-10FFFF"] = /unicode-range:\s*([^;]+);/.exec(rule) ?? [];
        const data = (await readFile(join(dirname(file), path))).toString("base64");
        return `@font-face { font-family: "${named}"; font-weight: ${weight}; ${range ? "size-adjust: 94%; " : ""}src: url(data:font/woff2;base64,${data}) format("woff2"); unicode-range: ${range ?? covers}; }`;
      }),
    )
  ).join("\n");
}

let fonts: Promise<string> | null = null;
const readFonts = () =>
  (fonts ??= Promise.all(weights.flatMap((weight) => faces.map((face) => faceRules(face, weight)))).then(
    (rules) => rules.join("\n"),
  ));

/**
 * The styles of the pages as they were built, for what is printed on the server, with the typefaces in them.
 *
 * @param assets the folder of what pages load. Styles of earlier builds stay in it for pages that are open: the newest are meant
 */
export async function readStyles(assets: string): Promise<string> {
  const names = (await readdir(assets)).filter((name) => name.endsWith(".css"));
  const dated = await Promise.all(
    names.map(async (name) => ({ name, at: (await stat(join(assets, name))).mtimeMs })),
  );
  const [newest] = dated.sort((a, b) => b.at - a.at);
  if (!newest) throw new Error("the application is not built: there are no styles");
  const styles = await readFile(join(assets, newest.name), "utf8");
  return `${styles.replace(/@font-face\s*\{[^}]*\}/g, "")}\n${await readFonts()}`;
}
