import { sql } from "drizzle-orm";
import { quantityText } from "@/core/ledger";
import { readOrder } from "@/core/purchasing";
import { letterText, orderLetter, type Addressee, type LetterLanguage } from "@/core/letters";
import { rateOn, taxOf } from "@/core/taxes";
import { amountText, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { approversOf } from "../approvals";
import { drawLetter, sendMails, senderOf } from "../letters";
import { readTaxCodes } from "../taxes";
import { idSchema } from "./masters";
import { readPaperOrder, readStoredOrder } from "./orderKind";

/** An order as a paper for the supplier. */
async function orderPdf(
  context: Context,
  id: number,
): Promise<
  Result<{
    name: string;
    file: Uint8Array;
    email: string;
    company: string;
    companyId: number;
    supplier: string;
    number: string;
  }>
> {
  const stored = await readStoredOrder(context, id);
  if (!stored || stored.kind !== "order" || stored.number === null)
    return fail({ code: "NOT_FOUND", what: "order in force" });
  if (!context.may("read.payables", stored.company))
    return fail({ code: "FORBIDDEN", what: `see orders of ${stored.company}` });
  const reading: Result<ReturnType<typeof readOrder>> = await readPaperOrder(
    context,
    "order",
    stored.content,
  );
  if (!reading.ok) return reading;
  const { currency, lines, net, date } = reading.value;
  const [partner] = await rows<Supplier>(
    context.tx,
    sql`select code, email, name, street, postcode, city, country, language
      from partner where code = ${stored.content.supplier}`,
  );
  if (!partner) return fail({ code: "PARTNER_UNKNOWN", partner: stored.content.supplier });
  const { language } = partner;
  const sender = await senderOf(context.tx, stored.companyId, language);
  const letter = orderLetter({
    language,
    number: stored.number,
    date,
    currency,
    company: sender.company,
    supplier: partner,
    contact: sender.contact,
    terms: await termsOf(context, stored.content.terms || partner.code),
    deliverTo: sender.deliverTo,
    lines: lines.map((l) => ({
      no: l.no,
      description: l.description,
      deliveries: l.deliveries.map((d) => ({ date: d.date, quantity: quantityText(d.quantity) })),
      quantity: quantityText(l.quantity),
      unit: l.unit,
      price: l.price,
      net: l.net,
    })),
    net,
    taxes: await chargedTaxes(context, reading.value),
    approvedBy: await approversOf(context.tx, id),
    opening: letterText(sender.layout, "order", language, "opening"),
    closing: letterText(sender.layout, "order", language, "closing"),
  });
  const file = await drawLetter(letter, sender);
  return ok({
    name: `${stored.number}.pdf`,
    file,
    email: partner.email,
    company: stored.company,
    companyId: stored.companyId,
    supplier: partner.name,
    number: stored.number,
  });
}

interface Supplier extends Addressee {
  code: string;
  email: string;
  language: LetterLanguage;
}

/** The terms of an order by their name: its own, or those of its supplier. */
async function termsOf({ tx }: Context, own: string): Promise<string> {
  const [found] = await rows<{ name: string }>(
    tx,
    sql`select t.name from payment_terms t
      where t.code = ${own} or t.code = (select p.terms from partner p where p.code = ${own})
      order by (t.code = ${own}) desc limit 1`,
  );
  return found?.name ?? "";
}

/** What the supplier will charge on top, by code: what we owe ourselves is not on its invoice. */
async function chargedTaxes(
  { tx }: Context,
  { lines, date }: ReturnType<typeof readOrder>,
): Promise<{ name: string; percent: string; tax: Minor }[]> {
  const codes = await readTaxCodes(tx, "purchase");
  return codes.flatMap((code) => {
    const nets = lines.filter((l) => l.taxCode === code.code).map((l) => l.net);
    const rate = date === "" ? null : rateOn(code, date);
    if (nets.length === 0 || code.kind !== "standard" || !rate) return [];
    const taxed = taxOf(nets, rate.percent, "100", "line");
    const tax = minor(taxed.reduce((sum, l) => sum + l.tax, 0n));
    return [{ name: code.name, percent: rate.percent, tax }];
  });
}

export const getOrderPdf = defineUseCase({
  name: "getOrderPdf",
  kind: "read",
  rights: ["read.payables"],
  what: "see orders",
  of: "checked",
  schema: idSchema,
  run: (context, input) => orderPdf(context, input.id),
});

/** Sends an order to its supplier: into the simulated mailbox. */
export const sendOrder = defineUseCase({
  name: "sendOrder",
  kind: "write",
  rights: ["prepare.payables"],
  what: "send orders",
  of: "checked",
  schema: idSchema,
  run: async (context, input): Promise<Result<{ to: string }>> => {
    const made = await orderPdf(context, input.id);
    if (!made.ok) return made;
    const { value } = made;
    if (!context.may("prepare.payables", value.company))
      return fail({ code: "FORBIDDEN", what: `send orders of ${value.company}` });
    if (value.email === "")
      return fail({
        code: "INVALID",
        what: `${value.supplier} has no e-mail address; enter one, or download the PDF`,
      });
    const { tx, now } = context;
    const reading = await rows<{ amount: bigint; currency: string }>(
      tx,
      sql`select amount, currency from document where id = ${input.id}`,
    );
    const { amount, currency } = reading[0]!;
    await sendMails(context, [
      {
        documentId: input.id,
        companyId: value.companyId,
        to: value.email,
        subject: `Order ${value.number}`,
        body: `Please deliver as in the attached order of ${amountText(minor(amount), currency)} ${currency}, net.`,
        files: [{ name: value.name, content: value.file }],
      },
    ]);
    await tx.execute(
      sql`update purchase_order set sent_at = ${now.toISOString()} where document_id = ${input.id}`,
    );
    await context.audit({
      action: "sent",
      kind: "order",
      recordId: input.id,
      label: value.number,
      companyId: value.companyId,
      after: { to: value.email },
    });
    return ok({ to: value.email });
  },
});
