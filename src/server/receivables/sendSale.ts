import { sql } from "drizzle-orm";
import { object } from "yup";
import { amountText, dateText, describeFound, fail, idField, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";
import { sendMails, type Mail } from "../letters";
import { postedSale, salePdf, saleUbl, type PostedPaper } from "./salePapers";

/** The mail that takes an invoice to its customer, and why it holds no e-invoice; empty if it does. */
async function mailOf(
  context: Context,
  posted: PostedPaper,
  to: string,
): Promise<{ mail: Mail; noEInvoice: string }> {
  const { stored, figures, companyId } = posted;
  const { content, number } = stored;
  const amount = `${amountText(figures.gross, figures.currency)} ${figures.currency}`;
  const due = figures.instalments[0]?.due;
  const isInvoice = content.kind === "invoice";
  const pdf = { name: `${number}.pdf`, content: await salePdf(context, posted) };
  const ubl = await saleUbl(context, posted);
  const mail = {
    documentId: posted.id,
    companyId,
    to,
    subject: `${isInvoice ? "Invoice" : "Credit note"} ${number}`,
    body: isInvoice
      ? `Please find attached our invoice of ${amount}${due ? `, due on ${dateText(due)}` : ""}.`
      : `Please find attached our credit note of ${amount}.`,
    files: ubl.ok
      ? [pdf, { name: `${number}.xml`, content: new TextEncoder().encode(ubl.value) }]
      : [pdf],
  };
  return { mail, noEInvoice: ubl.ok ? "" : describeFound(ubl.problems[0]!) };
}

/**
 * Sends a posted invoice to its customer, on paper and as an e-invoice where the standard has nothing
 * against it: into the simulated mailbox. It can go out again.
 */
export const sendSale = defineUseCase({
  name: "sendSale",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "send sales invoices",
  of: "checked",
  schema: object({ id: idField().required() }),
  run: async (context, { id }): Promise<Result<{ to: string; noEInvoice: string }>> => {
    const posted = await postedSale(context, id);
    if (!posted.ok) return posted;
    const { stored, figures, companyId } = posted.value;
    if (!context.may("prepare.receivables", stored.company))
      return fail({ code: "FORBIDDEN", what: `send sales invoices of ${stored.company}` });
    // The address of today: one that is entered later is as good as one that stood at posting.
    const [customer] = await rows<{ email: string }>(
      context.tx,
      sql`select coalesce(c.email, '') as email from sale s left join partner c on c.id = s.partner_id
        where s.document_id = ${id}::bigint for update of s`,
    );
    const to = customer?.email || figures.buyer.email;
    if (to === "")
      return fail({
        code: "INVALID",
        what: `${figures.buyer.name} has no e-mail address; enter one with the customer, or download the PDF`,
      });
    const { mail, noEInvoice } = await mailOf(context, posted.value, to);
    await sendMails(context, [mail]);
    await context.tx.execute(
      sql`update sale set sent_at = ${context.now.toISOString()} where document_id = ${id}::bigint`,
    );
    await context.audit({
      action: "sent",
      kind: "sale",
      recordId: id,
      label: stored.number,
      companyId,
      after: { to, eInvoice: noEInvoice === "" },
    });
    return ok({ to, noEInvoice });
  },
});
