import { getOrderPdf } from "@/server/purchasing";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const result = await getOrderPdf(await actionCaller(), {
    id: Number(new URL(request.url).searchParams.get("id")) || 0,
  });
  return result.ok
    ? new Response(result.value.file as BodyInit, {
        headers: {
          "Content-Type": "application/pdf",
          "Content-Disposition": `attachment; filename="${result.value.name}"`,
          "Cache-Control": "no-store",
        },
      })
    : refusal(result.problems);
}
