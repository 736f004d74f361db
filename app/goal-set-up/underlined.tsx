import type { Span } from "#core/goal-wording/working-text.ts";

/** A wording with the words that were read from it underlined. */
export function Underlined({ text, spans }: { text: string; spans: readonly Span[] }) {
  const pieces: { text: string; read: boolean }[] = [];
  let at = 0;
  for (const [from, to] of [...spans].sort((a, b) => a[0] - b[0])) {
    if (from < at || to > text.length) continue;
    pieces.push({ text: text.slice(at, from), read: false }, { text: text.slice(from, to), read: true });
    at = to;
  }
  pieces.push({ text: text.slice(at), read: false });
  return (
    <>
      {pieces.map((piece, index) =>
        piece.read ? (
          <span key={index} className="read-words">
            {piece.text}
          </span>
        ) : (
          piece.text
        ),
      )}
    </>
  );
}
