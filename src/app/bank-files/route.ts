import { refusedUnread } from "@/server/access";
import { importStatements, MAX_STATEMENT_FILE } from "@/server/banks";
import { readBody } from "@/app/lib/readBody";
import { answerResponse, refusedAnswer } from "@/app/lib/answerResponse";
import { actionCaller } from "@/app/lib/session";
import { sameSite } from "@/app/lib/sameSite";

/** Takes a bank's file of statements in. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  if (!caller.person) return new Response(null, { status: 401 });
  const refused = refusedUnread(importStatements, caller.person);
  if (refused) return answerResponse(refused);
  const bytes = await readBody(request, MAX_STATEMENT_FILE);
  if (bytes === null) return refusedAnswer("The file is larger than 50 MB");
  return answerResponse(
    await importStatements(caller, {
      name: new URL(request.url).searchParams.get("name") ?? "",
      content: Buffer.from(bytes).toString("base64"),
    }),
  );
}
