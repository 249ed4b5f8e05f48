/**
 * Whether a request that changes something comes from our own pages. The cookie goes along from
 * anywhere on the site only; the origin is checked besides.
 */
export function sameSite(request: Request): boolean {
  const origin = request.headers.get("origin");
  if (!origin) return true;
  // Frames without an origin of their own send "null".
  return URL.canParse(origin) && new URL(origin).host === request.headers.get("host");
}
