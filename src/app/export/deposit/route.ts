import { depositPdf } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** The slip of a deposit, to go to the bank with it. */
export async function GET(request: Request): Promise<Response> {
  const id = Number(new URL(request.url).searchParams.get("id")) || 0;
  const result = await depositPdf(await actionCaller(), { id });
  return result.ok ? pdfFile(result.value.content, result.value.name) : refusal(result.problems);
}
