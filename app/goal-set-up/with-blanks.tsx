/** A wording in which each blank stands out. */
export function WithBlanks({ text }: { text: string }) {
  return (
    <>
      {text.split(/(\{[^{}\n]{1,40}\})/).map((piece, index) =>
        index % 2 === 1 ? (
          <span key={index} className="blank">
            {piece.slice(1, -1)}
          </span>
        ) : (
          piece
        ),
      )}
    </>
  );
}
