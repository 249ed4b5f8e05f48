import { getOrderPdf } from "@/server/purchasing";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

export async function GET(request: Request): Promise<Response> {
  const result = await getOrderPdf(await actionCaller(), {
    id: Number(new URL(request.url).searchParams.get("id")) || 0,
  });
  return result.ok ? pdfFile(result.value.file, result.value.name) : refusal(result.problems);
}
