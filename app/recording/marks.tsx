import { Link } from "react-router";

/** The marks so far in their order, and the places left of what was planned. For the eye: the count is said in words. */
export function Marks({ marks, planned }: { marks: string; planned: number }) {
  const boxes = Array.from({ length: Math.max(planned, marks.length) }, (_, index) => marks[index]);
  return (
    <ol className="flex flex-wrap gap-1.5" aria-hidden="true">
      {boxes.map((mark, index) => (
        <li
          key={index}
          className={`grid size-7 place-items-center rounded-lg border text-sm font-bold ${mark === "1" ? "border-data bg-data text-base-100" : mark === "0" ? "border-base-content bg-raised" : "border-base-300"}`}
        >
          {mark === "1" ? "✓" : mark === "0" ? "–" : ""}
        </li>
      ))}
    </ol>
  );
}

/** The same sheet was saved with something else on it: nothing was changed, and both ways on are here. */
export function Conflict({
  conflict,
  onKeepAsNew,
  studentId,
}: {
  conflict: { figure: string | null; entryId: string | null };
  onKeepAsNew?: string;
  studentId: string;
}) {
  return (
    <div role="alert" className="mt-4 rounded-lg border border-warning px-4 py-3">
      <p className="font-bold text-warning">
        {conflict.figure
          ? `This sheet was already saved, as ${conflict.figure}.`
          : "This sheet’s number is taken by another entry."}{" "}
        What you have here is different and was not saved.
      </p>
      <p className="mt-2 flex flex-wrap gap-2">
        {onKeepAsNew ? (
          <button className="btn btn-primary btn-sm" name="entryId" value={onKeepAsNew}>
            Save this as one more entry
          </button>
        ) : null}
        {conflict.entryId ? (
          <Link className="btn btn-plain btn-sm" to={`/students/${studentId}/entries/${conflict.entryId}`}>
            Open the saved one
          </Link>
        ) : null}
      </p>
    </div>
  );
}
