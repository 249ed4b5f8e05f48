import { ok, type Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { addRemark, papersOf } from "@/server/documents";
import { customerConversation, sayOfCustomer } from "@/server/receivables";
import { answerResponse, refusedAnswer } from "@/app/lib/answerResponse";
import { readText } from "@/app/lib/readBody";
import { sameSite } from "@/app/lib/sameSite";
import { actionCaller } from "@/app/lib/session";

/** A line of a conversation, whatever it hangs on. */
interface Line {
  key: string;
  at: string;
  kind: string;
  by: string;
  text: string;
}

const MOST_BYTES = 64 * 1024;
const MOST_LINES = 20;

/** What was said of a document, or with a customer of a company, the newest first. */
async function said(caller: Caller, about: URLSearchParams): Promise<Result<Line[]>> {
  const document = about.get("document");
  if (document !== null) {
    const papers = await papersOf(caller, { id: Number(document) || 0 });
    return papers.ok
      ? ok(
          papers.value.remarks
            .map(({ id, at, by, text, kind }) => ({ key: `remark ${id}`, at, kind, by, text }))
            .reverse(),
        )
      : papers;
  }
  return customerConversation(caller, {
    company: about.get("company") ?? "",
    partner: about.get("partner") ?? "",
  });
}

export async function GET(request: Request): Promise<Response> {
  const found = await said(await actionCaller(), new URL(request.url).searchParams);
  return answerResponse(found.ok ? ok(found.value.slice(0, MOST_LINES)) : found);
}

/** Notes something there; what is wrong with it is said. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  if (!caller.person) return new Response(null, { status: 401 });
  const about = new URL(request.url).searchParams;
  const text = await readText(request, MOST_BYTES);
  if (text === null) return refusedAnswer("This is too long for a note");
  const document = about.get("document");
  return answerResponse(
    document === null
      ? await sayOfCustomer(caller, {
          company: about.get("company") ?? "",
          partner: about.get("partner") ?? "",
          text,
        })
      : await addRemark(caller, { id: Number(document) || 0, text }),
  );
}
