import { useOutletContext } from "react-router";
import { PageTitle } from "#app/ui/page-title.tsx";

/** The name of a view of one student: what it shows, and of whom. Seen only where the page has no line that says it already. */
export function StudentTitle({
  title,
  className = "sr-only",
}: {
  title: string;
  className?: string | undefined;
}) {
  return <PageTitle title={title} of={useOutletContext<string>()} className={className} />;
}
