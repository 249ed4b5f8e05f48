import { getMessageFile } from "@/server/letters";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const result = await getMessageFile(await actionCaller(), {
    id: Number(new URL(request.url).searchParams.get("id")) || 0,
  });
  return result.ok
    ? new Response(new Uint8Array(result.value.content), {
        headers: {
          "Content-Type": "application/pdf",
          "Content-Disposition": `attachment; filename="${result.value.name}"`,
          "Content-Security-Policy": "sandbox",
          "Cache-Control": "no-store",
        },
      })
    : refusal(result.problems);
}
