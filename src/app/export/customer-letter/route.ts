import { getLetterPdf } from "@/server/receivables";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** A letter of a run, as it is or will be sent. */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const result = await getLetterPdf(await actionCaller(), {
    run: query.get("run") ?? "",
    customer: query.get("customer") ?? "",
  });
  return result.ok ? pdfFile(result.value.file, result.value.name) : refusal(result.problems);
}
