/** Names that a text seems to have, and the tick with which it goes out all the same. */
export function NamesLookedAt({ problem }: { problem: string | undefined }) {
  if (!problem) return null;
  return (
    <div role="alert" className="rounded-lg border border-error px-4 py-2">
      <p className="font-bold text-error" dir="auto">
        {problem}
      </p>
      <label className="flex min-h-11 cursor-pointer items-center gap-2">
        <input type="checkbox" name="namesLookedAt" value="yes" />I have looked at it, and it may be sent so.
      </label>
    </div>
  );
}
