import { actionCaller } from "@/app/lib/session";
import { readText } from "@/app/lib/readBody";
import { sameSite } from "@/app/lib/sameSite";

/** A form with a few short fields. */
const MOST_BYTES = 10_000;

/**
 * The form of a page of ours by which something is printed: by POST, because each time is counted.
 * What is not sent from our pages, or is too large, is answered here.
 */
export async function postedForm(request: Request) {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const caller = await actionCaller();
  const text = caller.person ? await readText(request, MOST_BYTES) : "";
  if (text === null) return new Response(null, { status: 413 });
  return { caller, form: new URLSearchParams(text) };
}
