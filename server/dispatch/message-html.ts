import { createElement as h, Fragment } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import { paragraphsOf } from "#core/dispatch/template.ts";

const styles = {
  page: {
    ...{ maxWidth: "36em", padding: 24, background: "#fbfaf6", color: "#1f2a44" },
    font: "16px/1.5 Georgia, serif",
  },
  paragraph: { margin: "0 0 16px" },
  link: { color: "#1f5b3f" },
  footer: { margin: "24px 0 0", fontSize: 13, color: "#55605f" },
};

/** A text with its addresses as links. */
const linked = (text: string) =>
  text
    .split(/(https?:\/\/\S+)/)
    .map((piece, key) =>
      key % 2 === 1 ? h("a", { key, href: piece, style: styles.link }, piece) : h(Fragment, { key }, piece),
    );

/**
 * A message as HTML: its paragraphs, and below them a line that says why it came. React escapes every text. Each paragraph has the direction of
 * its own first letters, as right to left for Arabic (`dir="auto"`, HTML Standard).
 */
export function messageHtml({
  text,
  footer,
  language,
}: {
  text: string;
  footer: string | null;
  language: string;
}): string {
  const paragraphs = paragraphsOf(text).map((lines, key) =>
    h(
      "p",
      { key, dir: "auto", style: styles.paragraph },
      lines.map((line, place) => h(Fragment, { key: place }, place > 0 ? h("br") : null, linked(line))),
    ),
  );
  const body = h(
    "html",
    { lang: language },
    h("head", null, h("meta", { charSet: "utf-8" })),
    h(
      "body",
      null,
      h(
        "div",
        { style: styles.page },
        paragraphs,
        footer ? h("p", { dir: "auto", style: styles.footer }, linked(footer)) : null,
      ),
    ),
  );
  return `<!doctype html>${renderToStaticMarkup(body)}`;
}
