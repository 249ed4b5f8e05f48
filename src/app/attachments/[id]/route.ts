import { getAttachment } from "@/server/documents";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "@/app/export/lib";

/** A paper, as a download and never as a page of ours. */
export async function GET(
  _request: Request,
  { params }: { params: Promise<{ id: string }> },
): Promise<Response> {
  const result = await getAttachment(await actionCaller(), { id: Number((await params).id) || 0 });
  if (!result.ok) return refusal(result.problems);
  const { name, type, content } = result.value;
  return new Response(new Uint8Array(content), {
    headers: {
      "Content-Type": type,
      "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      "Content-Security-Policy": "sandbox",
      "Cache-Control": "no-store",
    },
  });
}
