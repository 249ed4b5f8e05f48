import { draftPdf } from "@/server/banks";
import { pdfFile, refusal } from "../lib";
import { postedForm } from "../postedForm";

/** A bill or note as a PDF; from the second time on it is a copy. */
export async function POST(request: Request): Promise<Response> {
  const posted = await postedForm(request);
  if (posted instanceof Response) return posted;
  const { caller, form } = posted;
  const result = await draftPdf(caller, {
    id: Number(form.get("id")) || 0,
    no: Number(form.get("no")) || 0,
  });
  return result.ok ? pdfFile(result.value.content, result.value.name) : refusal(result.problems);
}
