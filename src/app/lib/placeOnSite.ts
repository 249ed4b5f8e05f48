/**
 * A place of this application to go back to after signing in; null for anything that could lead
 * elsewhere: another host, a scheme, marks that browsers read as slashes.
 */
export function placeOnSite(to: string): string | null {
  if (!/^\/[^/\\]/.test(to) || /[\\\u0000-\u001f]/.test(to) || to.length > 2000) return null;
  const url = new URL(to, "http://here.invalid");
  return url.host === "here.invalid" && !url.pathname.startsWith("/sign-in")
    ? `${url.pathname}${url.search}`
    : null;
}
