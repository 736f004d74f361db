/** The classes of the drawing in the colors of the light theme: a file has no style sheet of ours beside it. */
const style = `
text{font-family:"Atkinson Hyperlegible Next",Verdana,sans-serif;fill:#1c2a44;paint-order:stroke;stroke:#fbf8f1;stroke-width:3px;stroke-linejoin:round}
.stroke-base-300{stroke:#dfd8ca}.stroke-base-content{stroke:#1c2a44}.stroke-data{stroke:#0072b2}.stroke-aim{stroke:#b55e00}
.stroke-other{stroke:#8f3f6b}.stroke-soft{stroke:#566073}.stroke-none{stroke:none}
.fill-data{fill:#0072b2}.fill-base-100{fill:#fbf8f1}.fill-soft{fill:#566073}.fill-none{fill:none}
.fill-aim\\!{fill:#b55e00}.fill-other\\!{fill:#8f3f6b}.fill-data\\!{fill:#0072b2}`;

/**
 * A drawing as a file of its own, on paper of the light theme.
 *
 * @param drawn the markup of the chart, its first element the svg
 */
export function chartFile(drawn: string): string {
  const [, size = "0 0 800 262"] = /viewBox="([^"]+)"/.exec(drawn) ?? [];
  const [, , width = "800", height = "262"] = size.split(" ");
  return drawn.replace(
    /^<svg([^>]*)>/,
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"$1><style>${style}</style><rect width="100%" height="100%" class="fill-base-100"/>`,
  );
}
