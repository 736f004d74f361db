/** A text as a square to be read by a phone, black on white whatever the colors of the page. */
export function QrSquare({
  qr,
  label,
  className,
}: {
  qr: { size: number; path: string };
  label: string;
  className: string;
}) {
  return (
    <svg
      viewBox={`-3 -3 ${qr.size + 6} ${qr.size + 6}`}
      className={`${className} rounded bg-white`}
      role="img"
      aria-label={label}
      shapeRendering="crispEdges"
    >
      <path d={qr.path} fill="#000" />
    </svg>
  );
}
