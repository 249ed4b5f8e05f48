import { getPaymentFile } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const result = await getPaymentFile(await actionCaller(), {
    id: Number(new URL(request.url).searchParams.get("id")) || 0,
  });
  return result.ok
    ? new Response(result.value.content, {
        headers: {
          "Content-Type": "application/xml; charset=utf-8",
          "Content-Disposition": `attachment; filename="${result.value.name}"`,
          "Cache-Control": "no-store",
        },
      })
    : refusal(result.problems);
}
