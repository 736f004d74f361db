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
