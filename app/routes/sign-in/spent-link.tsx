import { Link } from "react-router";
import { TitlePage } from "#app/ui/title-page.tsx";

/** A link that opens nothing, with what to do about it. */
export function SpentLink({ children }: { children: string }) {
  return (
    <TitlePage
      title="This link is no longer good"
      lead="Each link is for one person, once, for a short time."
    >
      <p className="leading-relaxed">{children}</p>
      <p className="mt-6">
        <Link className="btn btn-primary" to="/sign-in">
          Sign in
        </Link>
      </p>
    </TitlePage>
  );
}
