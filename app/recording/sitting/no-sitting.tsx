import type { ReactNode } from "react";
import { Link } from "react-router";
import { PageTitle } from "#app/ui/page-title.tsx";

const toStart = (
  <Link to="/record" className="btn btn-primary h-11 justify-self-start">
    Start a sitting
  </Link>
);
const toSignIn = (
  <Link to="/sign-in?to=/record" reloadDocument className="btn btn-primary h-11 justify-self-start">
    Sign in
  </Link>
);

const said = {
  elsewhere: [
    "This sitting is open in another tab",
    "Go on there, or close that tab and open the sitting here again.",
    toStart,
  ],
  "not here": [
    "This sitting is not open here",
    "It was saved or thrown away, or it is on another device.",
    toStart,
  ],
  "signed out": [
    "Nobody records on this device yet",
    "Please sign in. After that this page works without a network too.",
    toSignIn,
  ],
  "no connection": [
    "Nobody records on this device yet",
    "There is no connection. Sign in here once while there is one; after that this page works without.",
    toSignIn,
  ],
  "keeps nothing": [
    "This browser saves nothing",
    "A sitting is saved on the device first, and this browser offers no storage for it. Close private browsing, allow storage for this site, or type single observations from a goal’s page.",
    <Link to="/caseload" className="btn btn-plain h-11 justify-self-start">
      Caseload
    </Link>,
  ],
} satisfies Record<string, [title: string, words: string, next: ReactNode]>;

/** Why there is no sitting on this screen, and the way on. */
export function NoSitting({ why }: { why: keyof typeof said }) {
  const [title, words, next] = said[why];
  return (
    <div className="mx-auto mt-10 grid max-w-xl gap-3">
      <PageTitle title={title} />
      <p>{words}</p>
      {next}
    </div>
  );
}
