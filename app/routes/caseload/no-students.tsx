import { Link } from "react-router";
import { listed } from "#core/words/lists.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { NoCaseManager } from "../student/nobody-yet.tsx";

/** What the page of a person without students needs to know. */
export interface Beginning {
  role: "case manager" | "administrator" | "staff";
  /** Who carries a caseload, by name. */
  managers: string[];
}

/** What a caseload without students says, and the next step of each role. */
export function NoStudents({ role, managers }: Beginning) {
  if (role === "case manager")
    return (
      <EmptyState title="No students yet">
        <p>
          Begin with one student: a given name is enough. Then set up the first goal from the words of the
          IEP, and record the first point.
        </p>
        <p className="flex flex-wrap gap-2 font-sans">
          <Link className="btn btn-primary" to="/students/new">
            Add the first student
          </Link>
          <Link className="btn btn-plain" to="/students/several">
            Add several from a list
          </Link>
        </p>
      </EmptyState>
    );
  if (role === "administrator" && managers.length === 0) return <NoCaseManager />;
  if (role === "administrator")
    return (
      <EmptyState title="No students on your screen">
        <p>
          You see students whose circle you belong to. You can add a student to the caseload of{" "}
          {listed(managers)}.
        </p>
        <p className="flex flex-wrap gap-2 font-sans">
          <Link className="btn btn-primary" to="/students/new">
            Add a student
          </Link>
          <Link className="btn btn-plain" to="/school/circles">
            Circles of the school
          </Link>
        </p>
      </EmptyState>
    );
  return (
    <EmptyState title="No students yet">
      <p>
        You see students whose circle you belong to.{" "}
        {managers.length > 0
          ? `A case manager brings you in: ${listed(managers)}.`
          : "A case manager brings you in; the school has none yet."}
      </p>
      <p className="font-sans">
        <Link className="btn btn-plain" to="/school/staff">
          Staff
        </Link>
      </p>
    </EmptyState>
  );
}
