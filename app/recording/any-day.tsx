/** Asks whether an entry is really of a day without school, before it counts. */
export function AnyDay({ problem }: { problem: string | undefined }) {
  return problem ? (
    <div role="alert" className="col-span-full mt-3 rounded-lg bg-arrival px-3 py-2 text-[0.9375rem]">
      <p className="font-bold">{problem}</p>
      <label className="mt-1 flex min-h-11 items-center gap-2">
        <input type="checkbox" className="size-4.5 accent-primary" name="anyDay" value="yes" />
        The date is right. Count it.
      </label>
    </div>
  ) : null;
}
