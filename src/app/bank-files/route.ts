import { refusedUnread } from "@/server/access";
import {
  importStatements,
  lookAtBankTable,
  MAX_STATEMENT_FILE,
  statementFileContent,
} from "@/server/banks";
import { refusal } from "@/app/export/lib";
import { readBody } from "@/app/lib/readBody";
import { answerResponse, refusedAnswer } from "@/app/lib/answerResponse";
import { actionCaller } from "@/app/lib/session";
import { sameSite } from "@/app/lib/sameSite";

/** Takes a bank's file of statements in; a table with how it is read, or to be looked at first. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  if (!caller.person) return new Response(null, { status: 401 });
  const query = new URL(request.url).searchParams;
  const isLook = query.get("look") !== null;
  const refused = refusedUnread(isLook ? lookAtBankTable : importStatements, caller.person);
  if (refused) return answerResponse(refused);
  const bytes = await readBody(request, MAX_STATEMENT_FILE);
  if (bytes === null) return refusedAnswer("The file is larger than 50 MB");
  const file = {
    name: query.get("name") ?? "",
    content: Buffer.from(bytes).toString("base64"),
  };
  if (isLook) return answerResponse(await lookAtBankTable(caller, file));
  const reading = readingOf(query.get("reading"));
  if (reading === undefined) return refusedAnswer("How the table is read cannot be understood");
  return answerResponse(
    await importStatements(caller, {
      ...file,
      reading,
      bank: query.get("bank") ?? "",
      opening: query.get("opening") ?? "",
    }),
  );
}

/** What stands in the address; undefined where it is no JSON. */
function readingOf(text: string | null): unknown {
  try {
    return text === null ? null : (JSON.parse(text) as unknown);
  } catch {
    return undefined;
  }
}

/** A file as it came. */
export async function GET(request: Request): Promise<Response> {
  const id = Number(new URL(request.url).searchParams.get("id")) || 0;
  const result = await statementFileContent(await actionCaller(), { id });
  if (!result.ok) return refusal(result.problems);
  return new Response(Buffer.from(result.value.content, "base64"), {
    headers: {
      "Content-Type": "application/octet-stream",
      "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(result.value.name)}`,
      "Cache-Control": "no-store",
    },
  });
}
