import { Link } from "react-router";

export interface EntryConflict {
  /** The entry that was saved, and its figure; null where the number belongs to somebody else's. */
  entryId: string | null;
  figure: string | null;
  /** The number that what is here would get as an entry of its own. */
  freshId: string;
}

/** Says that the same sheet was saved with other content: nothing was changed. Offers to save it as a new entry or to leave it. */
export function ConflictNotice({ conflict, studentId }: { conflict: EntryConflict; studentId: string }) {
  return (
    <div role="alert" className="mt-4 rounded-lg border border-warning px-4 py-3">
      <p className="font-bold text-warning">
        {conflict.figure
          ? `This sheet was already saved, as ${conflict.figure}.`
          : "This sheet’s number is taken by another entry."}{" "}
        What you have here is different and was not saved.
      </p>
      <p className="mt-2 flex flex-wrap gap-2">
        <button className="btn btn-primary btn-sm" name="entryId" value={conflict.freshId}>
          Save this as one more entry
        </button>
        {conflict.entryId ? (
          <Link className="btn btn-plain btn-sm" to={`/students/${studentId}/entries/${conflict.entryId}`}>
            Open the saved one
          </Link>
        ) : null}
      </p>
    </div>
  );
}
