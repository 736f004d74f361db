/** Says that a form continues what this tab had left unsaved, and lets its person begin anew. */
export function Continued({ startOver }: { startOver: () => void }) {
  return (
    <p
      role="status"
      className="mt-2 mb-3 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-1 text-[0.9375rem]"
    >
      What you typed here before is not saved yet.
      <button type="button" className="link min-h-11 font-bold" onClick={startOver}>
        Start over
      </button>
    </p>
  );
}
