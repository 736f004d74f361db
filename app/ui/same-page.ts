import type { ShouldRevalidateFunctionArgs } from "react-router";

/**
 * For a page whose data does not depend on what stands behind the question mark of its address: where only that changes, the
 * server is not asked again. What a form saved, and what others saved meanwhile, is still read anew.
 */
export function notForTheQuery({
  currentUrl,
  nextUrl,
  formMethod,
  defaultShouldRevalidate,
}: ShouldRevalidateFunctionArgs): boolean {
  const onlyQuery = currentUrl.pathname === nextUrl.pathname && currentUrl.search !== nextUrl.search;
  return onlyQuery && (formMethod === undefined || formMethod === "GET") ? false : defaultShouldRevalidate;
}
