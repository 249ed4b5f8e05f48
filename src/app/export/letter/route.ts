import { sampleLetter } from "@/server/letters";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** A sample of a company's letters, to be looked at. */
export async function GET(request: Request): Promise<Response> {
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const result = await sampleLetter(await actionCaller(), query);
  return result.ok ? pdfFile(result.value.file, "sample.pdf") : refusal(result.problems);
}
