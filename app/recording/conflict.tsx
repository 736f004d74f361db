import { Link } from "react-router";

/** Says that the same sheet was saved with other content: nothing was changed. Offers to save it as a new entry or to leave it. */
export function ConflictNotice({
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
