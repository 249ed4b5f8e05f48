import { reconciliationPdf } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** The paper of a closed reconciliation. */
export async function GET(request: Request): Promise<Response> {
  const id = Number(new URL(request.url).searchParams.get("id")) || 0;
  const result = await reconciliationPdf(await actionCaller(), { id });
  if (!result.ok) return refusal(result.problems);
  return pdfFile(result.value.content, result.value.name);
}
