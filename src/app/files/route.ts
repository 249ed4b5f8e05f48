import { MAX_FILE } from "@/server/files";
import { answer } from "@/app/lib/answer";
import { readBody } from "@/app/lib/readBody";
import { sameSite } from "@/app/lib/sameSite";
import { actionCaller } from "@/app/lib/session";
import { WORKS } from "./works";

/**
 * A file from outside. The right is asked before a byte of it is read; what arrives is counted and
 * cut, and read on a thread of its own.
 */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const query = new URL(request.url).searchParams;
  const name = query.get("work") ?? "";
  if (!Object.hasOwn(WORKS, name)) return new Response(null, { status: 404 });
  const work = WORKS[name as keyof typeof WORKS];
  const caller = await actionCaller();
  if (!caller.person) return new Response(null, { status: 401 });
  if (!work.may(caller.person, query))
    return said(JSON.stringify(answer({ ok: false, problems: [FORBIDDEN] })));
  const bytes = await readBody(request, MAX_FILE);
  if (bytes === null) return said(JSON.stringify(answer({ ok: false, problems: [TOO_LARGE] })));
  if (bytes.length === 0) return said(JSON.stringify(answer({ ok: false, problems: [EMPTY] })));
  return said(await work.take(caller, { name: query.get("name") ?? "", bytes, query }));
}

const FORBIDDEN = { code: "FORBIDDEN", what: "load files" } as const;
const EMPTY = { code: "INVALID", what: "The file is empty" } as const;
const TOO_LARGE = {
  code: "INVALID",
  what: `The file is larger than ${MAX_FILE / 1_048_576} MB`,
} as const;

const said = (body: string | Uint8Array): Response =>
  new Response(body as BodyInit, {
    headers: { "Content-Type": "application/json", "Cache-Control": "no-store" },
  });
