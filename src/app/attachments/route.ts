import { addAttachment } from "@/server/documents";
import { MAX_ATTACHMENT } from "@/core/files";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";
import { sameSite } from "@/app/export/lib";

/** Takes a paper in. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const query = new URL(request.url).searchParams;
  if (Number(request.headers.get("content-length") ?? 0) > MAX_ATTACHMENT)
    return Response.json(
      answer({
        ok: false,
        problems: [
          { code: "INVALID", what: `The file is larger than ${MAX_ATTACHMENT / 1_048_576} MB` },
        ],
      }),
    );
  const bytes = Buffer.from(await request.arrayBuffer());
  return Response.json(
    answer(
      await addAttachment(await actionCaller(), {
        id: Number(query.get("document")) || 0,
        name: query.get("name") ?? "",
        content: bytes.toString("base64"),
      }),
    ),
  );
}
