import { getSalePdf, getSaleUbl } from "@/server/receivables";
import { actionCaller } from "@/app/lib/session";
import { pdfFile, refusal } from "../lib";

/** A posted invoice to a customer: as a PDF, or as an e-invoice in UBL. */
export async function GET(request: Request): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const id = Number(query.get("id")) || 0;
  const caller = await actionCaller();
  if (query.get("format") !== "ubl") {
    const result = await getSalePdf(caller, { id });
    return result.ok ? pdfFile(result.value.file, result.value.name) : refusal(result.problems);
  }
  const result = await getSaleUbl(caller, { id });
  return result.ok
    ? new Response(result.value.text, {
        headers: {
          "Content-Type": "application/xml; charset=utf-8",
          "Content-Disposition": `attachment; filename="${result.value.name}"`,
          "Cache-Control": "no-store",
        },
      })
    : refusal(result.problems);
}
