/** A bar as long as its share of the longest, 0 to 1. */
export function Bar({ share }: { share: number }) {
  return (
    <svg viewBox="0 0 100 4" preserveAspectRatio="none" className="mt-0.5 h-1.5 w-full" aria-hidden="true">
      <rect width={100 * share} height="4" className="fill-data" />
    </svg>
  );
}
