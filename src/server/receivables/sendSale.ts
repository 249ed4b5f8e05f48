import { sql } from "drizzle-orm";
import { object } from "yup";
import { plainTaxNumber } from "@/core/partners";
import { amountText, dateText, describeFound, fail, idField, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";
import { sendMails, type Mail } from "../letters";
import { readCompanies } from "../organisation";
import { postedSale, salePdf, saleUbl, type PostedPaper } from "./salePapers";

/** An invoice on its way to another company of the group. */
export interface PaperWithinGroup {
  company: string;
  number: string;
  /** UBL 2.1 by EN 16931. */
  eInvoice: string;
  pdf: Uint8Array;
}
/** Makes a supplier's invoice of it there; not once more where it is there already. */
export type ArrivesInGroup = (
  context: Context,
  paper: PaperWithinGroup,
) => Promise<Result<{ isNew: boolean }>>;

/** The other company of the group that the tax number is of; null where it is none's. */
async function companyOf(
  { tx }: Context,
  taxNumber: string,
  seller: number,
): Promise<string | null> {
  const wanted = plainTaxNumber(taxNumber);
  if (wanted === "") return null;
  const buyer = (await readCompanies(tx)).find(
    (c) => c.id !== seller && plainTaxNumber(c.taxNumber) === wanted,
  );
  return buyer?.code ?? null;
}

interface Papers {
  pdf: Uint8Array;
  eInvoice: Result<string>;
}

/** The mail that takes an invoice to its customer. */
function mailOf(posted: PostedPaper, { pdf, eInvoice }: Papers, to: string): Mail {
  const { stored, figures, companyId } = posted;
  const { content, number } = stored;
  const amount = `${amountText(figures.gross, figures.currency)} ${figures.currency}`;
  const due = figures.instalments[0]?.due;
  const isInvoice = content.kind === "invoice";
  const files = [{ name: `${number}.pdf`, content: pdf }];
  if (eInvoice.ok)
    files.push({ name: `${number}.xml`, content: Uint8Array.from(Buffer.from(eInvoice.value)) });
  return {
    documentId: posted.id,
    companyId,
    to,
    subject: `${isInvoice ? "Invoice" : "Credit note"} ${number}`,
    body: isInvoice
      ? `Please find attached our invoice of ${amount}${due ? `, due on ${dateText(due)}` : ""}.`
      : `Please find attached our credit note of ${amount}.`,
    files,
  };
}

/** What became of an invoice that was sent. */
export interface SentSale {
  /** Where it went: an address, or a company of the group. */
  to: string;
  /** Within the group: whether it is new there; null for a mail. */
  isNewThere: boolean | null;
  /** Why there is no e-invoice of it; empty where there is. */
  noEInvoice: string;
}

/**
 * Sends a posted invoice to its customer, on paper and, where the standard has nothing against it,
 * as an e-invoice: into the simulated mailbox, or to another company of the group as a supplier's
 * invoice. It can go out again.
 */
export const sendSale = defineUseCase({
  name: "sendSale",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "send sales invoices",
  of: "checked",
  schema: object({ id: idField().required() }),
  run: async (context, { id }): Promise<Result<SentSale>> => {
    const posted = await postedSale(context, id);
    if (!posted.ok) return posted;
    const { stored, companyId } = posted.value;
    if (!context.may("prepare.receivables", stored.company))
      return fail({ code: "FORBIDDEN", what: `send sales invoices of ${stored.company}` });
    // Two who send at once do it one after the other.
    await context.tx.execute(sql`select 1 from sale where document_id = ${id}::bigint for update`);
    const eInvoice = await saleUbl(context, posted.value);
    const papers = { pdf: await salePdf(context, posted.value), eInvoice };
    const went =
      (await toGroup(context, posted.value, papers)) ??
      (await toMailbox(context, posted.value, papers));
    if (!went.ok) return went;
    await context.tx.execute(
      sql`update sale set sent_at = ${context.now.toISOString()} where document_id = ${id}::bigint`,
    );
    const noEInvoice = eInvoice.ok ? "" : describeFound(eInvoice.problems[0]!);
    await context.audit({
      action: "sent",
      kind: "sale",
      recordId: id,
      label: stored.number,
      companyId,
      after: { to: went.value.to, eInvoice: eInvoice.ok },
    });
    return ok({ ...went.value, noEInvoice });
  },
});

type Went = Result<Omit<SentSale, "noEInvoice">>;

/** Hands it to the company of the group that it goes to; null where it goes to none, or can't. */
async function toGroup(
  context: Context,
  { stored, figures, companyId }: PostedPaper,
  { pdf, eInvoice }: Papers,
): Promise<Went | null> {
  const to = await companyOf(context, figures.buyer.taxNumber, companyId);
  if (to === null || !eInvoice.ok) return null;
  const { ARRIVES_IN_GROUP } = await import("../kinds");
  const paper = { company: to, number: stored.number, eInvoice: eInvoice.value, pdf };
  const arrived = await ARRIVES_IN_GROUP(context, paper);
  return arrived.ok ? ok({ to, isNewThere: arrived.value.isNew }) : arrived;
}

async function toMailbox(context: Context, posted: PostedPaper, papers: Papers): Promise<Went> {
  const { buyer } = posted.figures;
  // The address of today: one that is entered later is as good as one that stood at posting.
  const [customer] = await rows<{ email: string }>(
    context.tx,
    sql`select c.email from sale s join partner c on c.id = s.partner_id
      where s.document_id = ${posted.id}::bigint`,
  );
  const to = customer?.email || buyer.email;
  if (to === "")
    return fail({
      code: "INVALID",
      what: `${buyer.name} has no e-mail address; enter one with the customer, or download the PDF`,
    });
  await sendMails(context, [mailOf(posted, papers, to)]);
  return ok({ to, isNewThere: null });
}
