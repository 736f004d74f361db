/** Data are due: a dot on the spine and on a goal. */
export function DueDot() {
  return (
    <svg width="8" height="8" viewBox="0 0 8 8" className="shrink-0" role="img" aria-label="data due today">
      <circle cx="4" cy="4" r="3.5" className="fill-accent" />
    </svg>
  );
}
