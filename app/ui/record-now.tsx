import { Link } from "react-router";

/** The two things that cannot wait, in view on the pages where a day begins. On a phone they are in the strip. */
export function RecordNow() {
  return (
    <span className="no-print flex gap-2 max-sm:hidden">
      <Link to="/record" className="btn btn-primary btn-sm h-11">
        Record
      </Link>
      <Link to="/record?incident" className="btn btn-plain btn-sm h-11">
        Incident
      </Link>
    </span>
  );
}
