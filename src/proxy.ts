import { NextResponse, type NextRequest } from "next/server";

/**
 * Every page gets a content security policy with a nonce of its own: no script runs that the
 * application did not send.
 */
export function proxy(request: NextRequest) {
  const nonce = Buffer.from(crypto.randomUUID()).toString("base64");
  const development = process.env.NODE_ENV === "development";
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${development ? " 'unsafe-eval'" : ""}`,
    // Widths and positions computed by the page are style attributes; they carry no script.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "font-src 'self'",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  // A page that finds nobody signed in sends them back here afterwards.
  headers.set("x-place", `${request.nextUrl.pathname}${request.nextUrl.search}`);
  headers.set("Content-Security-Policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("Content-Security-Policy", policy);
  return response;
}

// Not for addresses that take bodies: a body that passes here is cut at 10 MB without a word.
export const config = {
  matcher: [
    {
      source:
        "/((?!api|attachments|drafts|export|files|_next/static|_next/image|favicon.ico|icon.svg).*)",
      missing: [{ type: "header", key: "next-router-prefetch" }],
    },
  ],
};
