import { encodeJson } from "@/core/shared";
import { deleteDraft, postDraft, saveDraft, submitDraft } from "@/server/ledger";
import { deleteInvoice, postInvoice, saveInvoice, submitInvoice } from "@/server/payables";
import { deleteOrder, placeOrder, saveOrder, submitOrder } from "@/server/purchasing";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

const WORK = {
  save: saveDraft,
  post: postDraft,
  delete: deleteDraft,
  submit: submitDraft,
  "order-save": saveOrder,
  "order-post": placeOrder,
  "order-delete": deleteOrder,
  "order-submit": submitOrder,
  "invoice-save": saveInvoice,
  "invoice-post": postInvoice,
  "invoice-delete": deleteInvoice,
  "invoice-submit": submitInvoice,
} as const;

/**
 * Keeping and posting drafts. A plain address and not a server action: the router drops actions
 * under way when the address changes,
 * and a save must never be dropped. The cookie goes along from anywhere on the site only, and the
 * origin is checked besides.
 */
export async function POST(request: Request): Promise<Response> {
  const origin = request.headers.get("origin");
  if (origin && new URL(origin).host !== request.headers.get("host"))
    return new Response(null, { status: 403 });
  const work = WORK[new URL(request.url).searchParams.get("work") as keyof typeof WORK];
  if (!work) return new Response(null, { status: 404 });
  let input: unknown;
  try {
    input = await request.json();
  } catch {
    return new Response(null, { status: 400 });
  }
  const caller = await actionCaller();
  // The session has ended: the page asks for the password in place and sends the same again.
  if (!caller.person) return new Response(null, { status: 401 });
  return new Response(encodeJson(answer<unknown>(await work(caller, input))), {
    headers: { "Content-Type": "application/json", "Cache-Control": "no-store" },
  });
}
