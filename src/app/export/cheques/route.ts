import { chequesPdf } from "@/server/banks";
import { actionCaller } from "@/app/lib/session";
import { readText } from "@/app/lib/readBody";
import { sameSite } from "@/app/lib/sameSite";
import { pdfFile, refusal } from "../lib";

/** A form with three fields. */
const MOST_BYTES = 10_000;

/**
 * Cheques as a PDF. By POST, because each time is counted: from the second time on they are copies.
 */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  const text = caller.person ? await readText(request, MOST_BYTES) : "";
  if (text === null) return new Response(null, { status: 413 });
  const form = new URLSearchParams(text);
  const result = await chequesPdf(caller, {
    run: Number(form.get("run")) || 0,
    ...(form.has("fresh") ? { fresh: form.get("fresh") === "1" } : {}),
    ...(form.get("cheque") ? { cheque: Number(form.get("cheque")) } : {}),
  });
  if (!result.ok) return refusal(result.problems);
  return pdfFile(result.value.content, result.value.name);
}
