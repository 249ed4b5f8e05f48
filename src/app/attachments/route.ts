import { refusedUnread } from "@/server/access";
import { addAttachment, addSaidFile } from "@/server/documents";
import { MAX_ATTACHMENT } from "@/core/files";
import { readBody } from "@/app/lib/readBody";
import { answerResponse, refusedAnswer } from "@/app/lib/answerResponse";
import { actionCaller } from "@/app/lib/session";
import { sameSite } from "@/app/lib/sameSite";

/** Takes a paper in: of a document, or a file that came with what was said. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  if (!caller.person) return new Response(null, { status: 401 });
  const query = new URL(request.url).searchParams;
  const remark = query.get("remark");
  const refused = refusedUnread(remark === null ? addAttachment : addSaidFile, caller.person);
  if (refused) return answerResponse(refused);
  const bytes = await readBody(request, MAX_ATTACHMENT);
  if (bytes === null)
    return refusedAnswer(`The file is larger than ${MAX_ATTACHMENT / 1_048_576} MB`);
  const file = { name: query.get("name") ?? "", content: Buffer.from(bytes).toString("base64") };
  return answerResponse(
    remark === null
      ? await addAttachment(caller, { id: Number(query.get("document")) || 0, ...file })
      : await addSaidFile(caller, { remark: Number(remark) || 0, ...file }),
  );
}
