/**
 * Where a sign-in leads: a path of our own, as a browser would read it (it leaves out tabs and line breaks, and takes a backslash for a
 * slash). Anything else leads to the caseload.
 */
export function ownPath(to: string | undefined | null): string {
  const here = "http://here.invalid";
  if (!to?.startsWith("/") || /[\p{Cc}\\]/u.test(to) || !URL.canParse(to, here)) return "/caseload";
  const { origin, pathname, search, hash } = new URL(to, here);
  const ours = origin === here && !pathname.startsWith("//") && !pathname.startsWith("/sign-");
  return ours ? pathname + search + hash : "/caseload";
}

/** The page after signing in: the one that was asked for, or first the choice of a school where the account is in several. */
export function afterSignIn({ schools }: { schools: number }, to?: string | null): string {
  const path = ownPath(to);
  if (schools < 2) return path;
  return path === "/caseload" ? "/schools" : `/schools?to=${encodeURIComponent(path)}`;
}
