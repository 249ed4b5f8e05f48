import { samplePaper } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** A sample of a cheque, bill or note of a bank account, to be looked at or laid on the form. */
export async function GET(request: Request): Promise<Response> {
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const result = await samplePaper(await actionCaller(), query);
  return result.ok ? pdfFile(result.value.content, "sample.pdf") : refusal(result.problems);
}
