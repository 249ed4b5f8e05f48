import { MAX_FILE } from "@/server/files";
import { answerResponse, jsonResponse, refusedAnswer } from "@/app/lib/answerResponse";
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
  const refused = work.refused(caller.person, query);
  if (refused) return answerResponse(refused);
  const bytes = await readBody(request, MAX_FILE);
  if (bytes === null) return refusedAnswer(`The file is larger than ${MAX_FILE / 1_048_576} MB`);
  if (bytes.length === 0) return refusedAnswer("The file is empty");
  const taken = await work.take(caller, { name: query.get("name") ?? "", bytes, query });
  return taken instanceof Uint8Array ? jsonResponse(taken) : answerResponse(taken);
}
