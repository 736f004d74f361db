/** The classes of the drawing in the colors of the light theme: a file has no style sheet of ours beside it. */
export const fileStyle = `
text{font-family:"Atkinson Hyperlegible Next",Verdana,sans-serif;fill:#1c2a44;paint-order:stroke;stroke:#fbf8f1;stroke-width:3px;stroke-linejoin:round}
.stroke-base-300{stroke:#dfd8ca}.stroke-base-content{stroke:#1c2a44}.stroke-data{stroke:#0072b2}.stroke-aim{stroke:#b55e00}
.stroke-other{stroke:#8f3f6b}.stroke-soft{stroke:#566073}.stroke-none{stroke:none}
.fill-data{fill:#0072b2}.fill-base-100{fill:#fbf8f1}.fill-soft{fill:#566073}.fill-none{fill:none}
.fill-aim\\!{fill:#b55e00}.fill-other\\!{fill:#8f3f6b}.fill-data\\!{fill:#0072b2}`;

/**
 * A drawing as a file of its own, on paper of the light theme.
 *
 * @param drawn the markup of the chart, its first element the svg
 * @param head whose chart it is, in a line above it
 * @param legend what its marks stand for, in lines below it
 */
export function chartFile(drawn: string, head: string, legend: readonly string[]): string {
  const [, size = "0 0 800 262"] = /viewBox="([^"]+)"/.exec(drawn) ?? [];
  const [, , width = "800", height = "262"] = size.split(" ");
  const lines = legendLines(legend);
  const whole = Number(height) + headHeight + lineHeight * lines.length + 8;
  const text = (words: string, at: number, more = "") =>
    `<text x="12" y="${at}" font-size="12"${more}>${escaped(words)}</text>`;
  const chart = drawn.replace(
    /^<svg([^>]*)>/,
    `<svg$1 width="${width}" height="${height}" y="${headHeight}">`,
  );
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${whole}" viewBox="0 0 ${width} ${whole}"><style>${fileStyle}</style><rect width="100%" height="100%" class="fill-base-100"/>${text(head, 18, ' font-weight="700"')}${chart}${lines
    .map((line, at) => text(line, headHeight + Number(height) + lineHeight * (at + 1)))
    .join("")}</svg>`;
}

/** The room for the head of a picture, and for each line of its legend. */
export const headHeight = 26;
export const lineHeight = 17;
const mostLetters = 120;

/** The legend in lines that fit below a chart. */
export function legendLines(legend: readonly string[]): string[] {
  const lines: string[] = [];
  for (const item of legend) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + item.length + 3 <= mostLetters)
      lines[lines.length - 1] = `${last} · ${item}`;
    else lines.push(item);
  }
  return lines;
}

const escaped = (text: string) =>
  text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
