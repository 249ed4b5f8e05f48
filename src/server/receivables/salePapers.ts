import { creditorReference } from "@/core/banks";
import { letterText, saleLetter, type SalePaper } from "@/core/letters";
import { outgoingInvoice, paymentCode, reasonOf } from "@/core/receivables";
import { decodeJson, fail, idField, minor, ok, type Result } from "@/core/shared";
import { writeEInvoice, type EInvoiceParty } from "@/core/trade/eInvoice/write";
import { object } from "yup";
import { defineUseCase, type Context } from "../access";
import { drawLetter, senderOf } from "../letters";
import { bankFor } from "./bankFor";
import { readStoredSale, type Buyer, type SaleFigures, type StoredSale } from "./checkSale";

const idSchema = object({ id: idField().required() });

/** A sale that has its number, as it was posted. */
export interface PostedPaper {
  id: number;
  stored: StoredSale & { number: string };
  figures: SaleFigures & { buyer: Buyer };
  companyId: number;
}

/** Only what is posted goes out. */
export async function postedSale(context: Context, id: number): Promise<Result<PostedPaper>> {
  const stored = await readStoredSale(context, id, false);
  if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
  if (!context.may("read.receivables", stored.company))
    return fail({ code: "FORBIDDEN", what: `see sales invoices of ${stored.company}` });
  if (stored.status !== "posted" || stored.number === null)
    return fail({ code: "INVALID", what: "Only an invoice that is posted goes out" });
  return ok({
    id,
    stored: { ...stored, number: stored.number },
    figures: decodeJson<SaleFigures & { buyer: Buyer }>(stored.figures!),
    companyId: context.masters.companyByCode.get(stored.company)!.id,
  });
}

export async function salePdf(
  context: Context,
  { stored, figures, companyId }: PostedPaper,
): Promise<Uint8Array> {
  const { content, number } = stored;
  const { buyer, currency } = figures;
  const { language } = buyer;
  const sender = await senderOf(context.tx, companyId, language);
  const bank = await bankFor(context, companyId, currency);
  const reference = creditorReference(number);
  const first = figures.instalments[0];
  const letter = saleLetter({
    kind: content.kind,
    prepayment: content.prepayment,
    language,
    number,
    date: stored.date!,
    currency,
    company: sender.company,
    customer: buyer,
    contact: sender.contact,
    deliveredOn: figures.suppliedOn ?? "",
    deliveredTo: buyer.delivery
      ? { ...buyer.delivery, name: buyer.delivery.name || buyer.name }
      : null,
    reference: content.reference,
    corrects: content.corrects.trim().toUpperCase(),
    terms: figures.terms,
    lines: linesOf(content, figures),
    discount: {
      percent: content.discount.replace(/\s*%$/, ""),
      amount: minor(figures.values.reduce((t, v) => t + v.allowance, 0n)),
    },
    gross: content.gross,
    net: figures.net,
    taxes: figures.taxes.map((t) => ({
      name: figures.words.find((w) => w.code === t.code)?.name ?? t.code,
      percent: t.percent,
      base: t.base,
      tax: t.withheld ? minor(-t.tax) : t.tax,
      reverse: t.reverse,
    })),
    total: figures.gross,
    reasons: figures.words.map(reasonOf).filter((r) => r !== ""),
    instalments: figures.instalments,
    bank: {
      ...bank,
      reference,
      square:
        currency === "EUR" && first
          ? paymentCode({ ...bank, holder: sender.name, amount: first.amount, reference })
          : "",
    },
    opening: letterText(sender.layout, "sale", language, "opening"),
    closing: letterText(sender.layout, "sale", language, "closing"),
  });
  return drawLetter(letter, sender);
}

const linesOf = (content: StoredSale["content"], { values }: SaleFigures): SalePaper["lines"] =>
  values.map((v) => {
    const line = content.lines[v.line - 1]!;
    const { quantity, price, discount, value } = v;
    const description = line.description || content.description || line.account;
    return { description, unit: line.unit, quantity, price, discount, value };
  });

export const getSalePdf = defineUseCase({
  name: "getSalePdf",
  kind: "read",
  rights: ["read.receivables"],
  what: "see sales invoices",
  of: "checked",
  schema: idSchema,
  run: async (context, { id }): Promise<Result<{ name: string; file: Uint8Array }>> => {
    const posted = await postedSale(context, id);
    if (!posted.ok) return posted;
    const file = await salePdf(context, posted.value);
    return ok({ name: `${posted.value.stored.number}.pdf`, file });
  },
});

/** A posted invoice in UBL 2.1 by EN 16931; or what the standard has against it. */
export async function saleUbl(
  context: Context,
  { stored, figures, companyId }: PostedPaper,
): Promise<Result<string>> {
  const { content, number } = stored;
  const sender = await senderOf(context.tx, companyId, "en");
  const bank = await bankFor(context, companyId, figures.currency);
  return writeEInvoice(
    outgoingInvoice({
      content,
      number,
      date: stored.date!,
      figures,
      words: figures.words,
      terms: figures.terms,
      seller: partyOf({ ...sender.company, taxNumber: sender.taxNumber }),
      buyer: partyOf(figures.buyer),
      deliveredOn: figures.suppliedOn ?? stored.date!,
      deliveredTo: figures.buyer.delivery ?? null,
      bank: { ...bank, holder: sender.name, reference: creditorReference(number) },
    }),
  );
}

export const getSaleUbl = defineUseCase({
  name: "getSaleUbl",
  kind: "read",
  rights: ["read.receivables"],
  what: "see sales invoices",
  of: "checked",
  schema: idSchema,
  run: async (context, { id }): Promise<Result<{ name: string; text: string }>> => {
    const posted = await postedSale(context, id);
    if (!posted.ok) return posted;
    const text = await saleUbl(context, posted.value);
    return text.ok ? ok({ name: `${posted.value.stored.number}.xml`, text: text.value }) : text;
  },
});

const partyOf = (
  p: Pick<EInvoiceParty, "name" | "street" | "city" | "postcode" | "country" | "taxNumber">,
): EInvoiceParty => ({
  name: p.name,
  street: p.street,
  city: p.city,
  postcode: p.postcode,
  country: p.country,
  taxNumber: p.taxNumber,
  registerNumber: "",
  endpoint: null,
});
