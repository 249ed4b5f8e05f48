import { draftPdf } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { readText } from "@/app/lib/readBody";
import { sameSite } from "@/app/lib/sameSite";
import { pdfFile, refusal } from "../lib";

/** A form with two fields. */
const MOST_BYTES = 10_000;

/** A bill or note as a PDF. By POST, because each time is counted. */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  const text = caller.person ? await readText(request, MOST_BYTES) : "";
  if (text === null) return new Response(null, { status: 413 });
  const form = new URLSearchParams(text);
  const result = await draftPdf(caller, {
    id: Number(form.get("id")) || 0,
    no: Number(form.get("no")) || 0,
  });
  return result.ok ? pdfFile(result.value.content, result.value.name) : refusal(result.problems);
}
