import { chequesPdf } from "@/server/banks";
import { pdfFile, refusal } from "../lib";
import { postedForm } from "../postedForm";

/** Cheques as a PDF; from the second time on they are copies. */
export async function POST(request: Request): Promise<Response> {
  const posted = await postedForm(request);
  if (posted instanceof Response) return posted;
  const { caller, form } = posted;
  const result = await chequesPdf(caller, {
    run: Number(form.get("run")) || 0,
    ...(form.has("fresh") ? { fresh: form.get("fresh") === "1" } : {}),
    ...(form.get("cheque") ? { cheque: Number(form.get("cheque")) } : {}),
  });
  return result.ok ? pdfFile(result.value.content, result.value.name) : refusal(result.problems);
}
