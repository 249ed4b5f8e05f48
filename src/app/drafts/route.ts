import { deleteDraft, loadJournals, postDraft, saveDraft, submitDraft } from "@/server/ledger";
import { deleteInvoice, postInvoice, saveInvoice, submitInvoice } from "@/server/payables";
import { deleteSale, postSale, saveSale, submitSale } from "@/server/receivables";
import { deleteOrder, placeOrder, saveOrder, submitOrder } from "@/server/purchasing";
import { refusedUnread } from "@/server/access";
import { answerResponse, refusedAnswer } from "@/app/lib/answerResponse";
import { readText } from "@/app/lib/readBody";
import { actionCaller } from "@/app/lib/session";
import { sameSite } from "@/app/lib/sameSite";

/** A draft of ten thousand lines fits, and a load of a hundred thousand. */
const MOST_BYTES = 64 * 1_048_576;

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
  "sale-save": saveSale,
  "sale-post": postSale,
  "sale-delete": deleteSale,
  "sale-submit": submitSale,
  load: loadJournals,
} as const;

/**
 * Keeping and posting drafts. A plain address and not a server action: the router drops actions
 * under way when the address changes,
 * and a save must never be dropped. The cookie goes along from anywhere on the site only, and the
 * origin is checked besides.
 */
export async function POST(request: Request): Promise<Response> {
  if (!sameSite(request)) return new Response(null, { status: 403 });
  const name = new URL(request.url).searchParams.get("work") ?? "";
  if (!Object.hasOwn(WORK, name)) return new Response(null, { status: 404 });
  const work = WORK[name as keyof typeof WORK];
  const caller = await actionCaller();
  // The session has ended: the page asks for the password in place and sends the same again.
  if (!caller.person) return new Response(null, { status: 401 });
  const refused = refusedUnread(work, caller.person);
  if (refused) return answerResponse(refused);
  const text = await readText(request, MOST_BYTES);
  if (text === null)
    return refusedAnswer(`This is larger than ${MOST_BYTES / 1_048_576} MB. Take it in in parts`);
  let input: unknown;
  try {
    input = JSON.parse(text);
  } catch {
    return new Response(null, { status: 400 });
  }
  return answerResponse(await work(caller, input));
}
