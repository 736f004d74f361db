import { Link } from "react-router";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";

/** Says that a student needs a case manager, and leads to where one is marked. */
export function NoCaseManager() {
  return (
    <EmptyState title="Nobody carries a caseload yet">
      <p>Each student is on the caseload of a case manager. Mark one under Staff first; that may be you.</p>
      <p className="font-sans">
        <Link className="btn btn-primary" to="/school/staff">
          Staff
        </Link>
      </p>
    </EmptyState>
  );
}

/** In place of a form that nobody could save: a student needs a case manager, and there is none. */
export function NobodyYet({ title }: { title: string }) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <PageTitle title={title} />
      <NoCaseManager />
    </main>
  );
}
