import { reconciliationPdf } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { refusal } from "../lib";

/** The paper of a closed reconciliation. */
export async function GET(request: Request): Promise<Response> {
  const id = Number(new URL(request.url).searchParams.get("id")) || 0;
  const result = await reconciliationPdf(await actionCaller(), { id });
  if (!result.ok) return refusal(result.problems);
  return new Response(result.value.content as BodyInit, {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `attachment; filename="${result.value.name}"`,
      "Cache-Control": "no-store",
    },
  });
}
