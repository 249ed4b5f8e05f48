import Decimal from "decimal.js";
import { postedInvoice } from "./corrections";
import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import { safeName } from "@/core/files";
import { namesAlike, plainTaxNumber } from "@/core/partners";
import { readIban } from "@/core/banks";
import { invoiceInput, type InvoiceInput } from "@/core/payables";
import { rateOn } from "@/core/taxes";
import type { EInvoice } from "@/core/trade/eInvoice/read";
import { doubtsOfBuyer, doubtsOfPaper, doubtsOfTaxThere } from "@/core/trade/eInvoice/doubts";
import { MAX_E_INVOICE, quantityText, wordsOfPaper } from "@/core/trade/eInvoice/words";
import { conversionOn, convertBy } from "@/core/rates";
import {
  amountText,
  dateText,
  decimalText,
  fail,
  isCurrency,
  ok,
  readAmount,
  readDate,
  tableRow,
  type Found,
  type Result,
} from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { attach } from "../documents";
import { readOutside } from "../files";
import { showProblem, type ShownProblem } from "../ledger";
import { readCompanies } from "../organisation";
import { ratesFor } from "../rates";
import { cellOf, dimensionsIn } from "../trade";
import { readTaxCodes } from "../taxes";
import { prepare, prepareAll } from "./checkInvoice";
import { keepAll, keepOne } from "../keptDocuments";
import { INVOICES } from "./keepInvoices";

interface Seller {
  code: string;
  name: string;
  taxNumber: string;
  taxCode: string;
  account: string;
  dimensions: Record<string, string>;
  ibans: string[] | null;
}

/**
 * The supplier that an e-invoice comes from: by tax number, else by bank account, else by a name
 * that only one has.
 */
export async function sellerOf(
  { tx }: Context,
  e: EInvoice,
): Promise<{ seller: Seller; doubts: string[] } | undefined> {
  const all = await rows<Seller>(
    tx,
    sql`select code, name, tax_number as "taxNumber", tax_code as "taxCode", account, dimensions,
      (select jsonb_agg(b.iban) from partner_bank b
      where b.partner_id = p.id and b.state <> 'refused') as ibans from partner p
      where supplier and not blocked`,
  );
  const iban = readIban(e.seller.iban);
  const taxNumber = plainTaxNumber(e.seller.taxNumber);
  const alike = all.filter((s) => namesAlike(s.name, e.seller.name));
  const byNumber = all.filter(
    (s) => taxNumber !== "" && s.taxNumber !== "" && plainTaxNumber(s.taxNumber) === taxNumber,
  );
  const byAccount = iban ? all.filter((s) => s.ibans?.includes(iban)) : [];
  const known = byNumber.length > 0 ? byNumber : byAccount;
  if (known[0]) return { seller: known[0], doubts: known.length > 1 ? [sharedBy(known)] : [] };
  if (alike.length !== 1) return undefined;
  return { seller: alike[0]!, doubts: [byNameAlone(alike[0]!, e)] };
}

const sharedBy = (suppliers: readonly Seller[]): string =>
  `${suppliers.map((s) => s.name).join(" and ")} have the tax number or bank account of this paper in common. Which of them sent it?`;

const byNameAlone = ({ name }: Seller, e: EInvoice): string =>
  `${name} was recognised by its name alone: ${e.seller.taxNumber === "" ? "the paper has no tax number" : `tax number ${e.seller.taxNumber} is not on file`}.`;

export interface LoadedEInvoice {
  id: number;
  supplier: string;
  problems: ShownProblem[];
  copies: number;
  /** What the paper contradicts itself in, or is strange about: it will be held for that. */
  doubts: string[];
}

/**
 * Takes an e-invoice in (UBL 2.1, EN 16931): it fills a draft with everything that it says and that
 * is known of its supplier and order.
 */
export const loadEInvoice = defineUseCase({
  name: "loadEInvoice",
  kind: "write",
  rights: ["prepare.payables"],
  what: "load invoices",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    /** The bytes as the supplier sent them, in base 64. */
    content: string()
      .required("The file is empty")
      .max(MAX_E_INVOICE * 6),
  }),
  prepare: (input) => readOutside("eInvoice", "", Buffer.from(input.content, "base64")),
  run: (context, input, e): Promise<Result<LoadedEInvoice>> =>
    takeIn(context, input.company, e, Buffer.from(input.content, "base64")),
});

/** Makes a draft of an e-invoice, with the file beside it. */
export async function takeIn(
  context: Context,
  code: string,
  e: EInvoice,
  file: Buffer,
): Promise<Result<LoadedEInvoice>> {
  const { tx, masters } = context;
  const company = masters.companyByCode.get(code);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: code, field: "company" });
  if (!isCurrency(e.currency)) return fail({ code: "CURRENCY_UNKNOWN", currency: e.currency });
  const found = await sellerOf(context, e);
  const seller = found?.seller;
  const codes = (await readTaxCodes(tx, "purchase")).filter(
    (t) => !t.blocked && t.kind !== "withheld",
  );
  const taxOfLine = (category: string, percent: string, ordered: string): string => {
    const kind =
      category === "AE" || category === "K" || category === "G"
        ? "reverse"
        : category === "S" || category === ""
          ? "standard"
          : "none";
    const fitting = codes.filter(
      (t) =>
        t.kind === kind &&
        (kind === "reverse" ||
          Number(rateOn(t, e.date)?.percent ?? "-1") === Number(percent || "0")),
    );
    // As it was ordered, else as the supplier usually is; otherwise only where one code alone
    // recovers all of it: which part can be recovered is nothing that a paper says.
    const whole = fitting.filter((t) => kind === "none" || t.recoverable === "100");
    const known = [ordered, seller?.taxCode].map((c) => fitting.find((t) => t.code === c));
    return (
      known.find(Boolean)?.code ??
      (whole.length === 1 ? whole[0]!.code : category === "" ? (seller?.taxCode ?? "") : "")
    );
  };
  const ordered = new Map(
    (
      await rows<{
        no: number;
        account: string;
        dimensions: Record<string, string>;
        taxCode: string;
      }>(
        tx,
        sql`select l.no, l.account, l.dimensions, l.tax_code as "taxCode" from order_line l
            join document d on d.id = l.order_id where d.number = ${e.order.toUpperCase()}
            and d.company_id = ${company.id}`,
      )
    ).map((l) => [String(l.no), l]),
  );
  const only =
    ordered.size === 1 && e.lines.filter((l) => l.quantity !== "").length === 1
      ? [...ordered.keys()][0]!
      : "";
  const money = (written: string): string => {
    const a = readAmount(written, e.currency);
    return a.ok ? amountText(a.amount, e.currency) : written;
  };
  const corrects =
    e.kind === "credit note" && e.corrects !== "" && seller
      ? await postedInvoice(context, company.id, seller.code, e.corrects)
      : null;
  const content: InvoiceInput = invoiceInput({
    company: company.code,
    corrects: corrects ?? "",
    supplier: seller?.code ?? "",
    kind: e.kind,
    number: e.number,
    date: dateText(e.date),
    dueDate: e.dueDate ? dateText(e.dueDate) : "",
    currency: e.currency === company.currency ? null : e.currency,
    total: money(totalOf(e)),
    rounding: "total",
    description: [
      e.note || (seller ? "" : e.seller.name),
      !corrects && e.corrects && `corrects ${e.corrects}`,
    ]
      .filter(Boolean)
      .join(", ")
      .slice(0, 200),
    lines: [...e.lines, ...roundingLine(e)].map((l) => {
      if ("rounding" in l)
        return {
          account: masters.purposes.rounding ?? "",
          description: l.description,
          net: money(l.net),
          taxCode: codes.find((t) => t.kind === "none")?.code ?? "",
        };
      const line = ordered.get(l.orderLine || (l.quantity === "" ? "" : only));
      return {
        account: line?.account ?? seller?.account ?? "",
        dimensions: line?.dimensions ?? seller?.dimensions ?? {},
        description: describe(l),
        net: money(l.net),
        taxCode: taxOfLine(l.category, l.percent, line?.taxCode ?? ""),
        ...(line ? { order: `${e.order.toUpperCase()}/${line.no}`, quantity: l.quantity } : {}),
      };
    }),
  });
  const ready = await prepare(context, content);
  if (!ready.ok) return ready;
  const kept = await keepOne(INVOICES, context, { content, prepared: ready.value });
  const [ours] = await readCompanies(tx, company.code);
  const doubts = [
    ...doubtsOfPaper(e),
    ...doubtsOfBuyer(e, ours!),
    ...doubtsOfTaxThere(e, await taxThereByUs(context, company.code, e)),
    ...(found?.doubts ?? []),
    ...(seller ? strangersIn(e, seller) : []),
  ];
  // A PDF within the file is what people look at beside the form.
  for (const inside of e.embedded) {
    const bytes = Buffer.from(inside.base64, "base64");
    const inner = await attach(context, { id: kept.id, kind: "invoice" }, inside.name, bytes);
    if (!inner.ok) doubts.push(`A paper within the file was left out: ${inside.name}`);
  }
  await tx.execute(
    sql`update invoice set paper_holds = ${JSON.stringify(doubts)}::jsonb
        where document_id = ${kept.id}`,
  );
  // What the supplier sent stays with the invoice, whatever is made of it.
  const paper = await attach(
    context,
    { id: kept.id, kind: "invoice" },
    `${safeName(e.number)}.xml`,
    file,
    wordsOfPaper(e),
  );
  if (!paper.ok) return paper;
  return ok({
    id: kept.id,
    supplier: seller?.name ?? "",
    problems: ready.value.problems.map(showProblem),
    copies: ready.value.copies.length,
    doubts,
  });
}

/** What the invoice comes to: the total with tax, and what the paper rounds it by. */
const totalOf = ({ sums }: EInvoice): string =>
  sums.rounding === "" || sums.taxInclusive === ""
    ? sums.taxInclusive
    : new Decimal(sums.taxInclusive).plus(sums.rounding).toFixed();

/** What the paper rounds the payable amount by is a line without tax, on the account of rounding. */
const roundingLine = ({ sums }: EInvoice): (EInvoice["lines"][number] & { rounding: true })[] =>
  sums.rounding === "" || Number(sums.rounding) === 0
    ? []
    : [
        {
          description: "Rounding of the amount payable",
          quantity: "",
          unit: "",
          net: sums.rounding,
          category: "O",
          percent: "",
          orderLine: "",
          ofDocument: true,
          rounding: true,
        },
      ];

/** What a line says, with its quantity where that has no field of its own. */
const describe = (l: EInvoice["lines"][number]): string => {
  const much = l.quantity === "1" ? "" : quantityText(l.quantity, l.unit);
  return much ? `${l.description}, ${much}` : l.description;
};

/** The paper's tax at our rate, in the currency of the tax office; null where no rate is known. */
async function taxThereByUs(
  { tx, masters }: Context,
  company: string,
  e: EInvoice,
): Promise<string | null> {
  const tax = e.taxThere && readAmount(e.sums.tax, e.currency);
  if (!tax?.ok || !e.taxThere || !isCurrency(e.taxThere.currency)) return null;
  const known = await ratesFor(tx, masters, [
    { companies: [company], currency: e.currency, date: e.date },
  ]);
  const { currency } = e.taxThere;
  const rate = conversionOn(known, "spot", e.currency, currency, e.date);
  return rate && decimalText(convertBy(tax.amount, e.currency, currency, rate), currency);
}

/** Signs that somebody else wants to be paid: another bank account, another name. */
function strangersIn(e: EInvoice, seller: Seller): string[] {
  const iban = readIban(e.seller.iban);
  return [
    ...(iban && seller.ibans && !seller.ibans.includes(iban)
      ? [
          `The paper asks to pay to ${iban}, which is no account of ${seller.name} here. Ask the supplier by a way known before.`,
        ]
      : []),
    ...(e.seller.name !== "" && !namesAlike(seller.name, e.seller.name)
      ? [`The paper is from “${e.seller.name}”, its tax number is that of ${seller.name}.`]
      : []),
  ];
}

/**
 * Takes invoices in from a table: rows that follow each other with the same supplier and number are
 * one invoice. All of them or, with one problem anywhere, none; they come as drafts.
 */
export const loadInvoices = defineUseCase({
  name: "loadInvoices",
  kind: "write",
  rights: ["prepare.payables"],
  what: "load invoices",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const groups: { first: number; content: InvoiceInput }[] = [];
    input.rows.forEach((row, i) => {
      const [supplier, number] = [cellOf(row, "supplier"), cellOf(row, "number", "invoice")];
      const dimensions = dimensionsIn(row, context.masters);
      const line = {
        account: cellOf(row, "account"),
        dimensions,
        description: cellOf(row, "description", "text"),
        net: cellOf(row, "net", "amount"),
        taxCode: cellOf(row, "tax", "tax code", "taxcode"),
        order: cellOf(row, "order"),
        quantity: cellOf(row, "quantity"),
        shares: cellOf(row, "shares"),
      };
      const last = groups.at(-1);
      if (
        last &&
        last.content.supplier === supplier &&
        last.content.number === number &&
        number !== ""
      )
        last.content.lines.push({ company: "", ...line });
      else
        groups.push({
          first: i + 2,
          content: invoiceInput({
            company: input.company,
            supplier,
            number,
            date: cellOf(row, "date"),
            total: cellOf(row, "total"),
            currency: cellOf(row, "currency").toUpperCase() || null,
            kind: cellOf(row, "kind") === "credit note" ? "credit note" : "invoice",
            description: cellOf(row, "description", "text"),
            lines: [line],
          }),
        });
    });
    const ready = await prepareAll(
      context,
      groups.map((g) => ({ input: g.content })),
    );
    if (!ready.ok) return ready;
    const problems: Found[] = [];
    const seen = new Set<string>();
    groups.forEach(({ first, content }, i) => {
      const key = `${content.supplier}|${content.number}`;
      if (seen.has(key))
        problems.push({
          code: "INVALID",
          what: `Row ${first}: number ${content.number} of ${content.supplier} stands in the file twice`,
          line: first,
        });
      seen.add(key);
      if (!readDate(content.date, context.today))
        problems.push({ code: "DATE_INVALID", text: content.date, line: first, field: "date" });
      for (const p of ready.value[i]!.problems)
        problems.push({ ...p, line: first + (p.line ?? 1) - 1 });
    });
    if (problems.length === 0 && input.take)
      await keepAll(
        INVOICES,
        context,
        groups.map((g, i) => ({ content: g.content, prepared: ready.value[i]! })),
      );
    problems.splice(50);
    return problems.length > 0
      ? fail(...(problems as [Found, ...Found[]]))
      : ok({ added: groups.length, changed: 0, same: 0 });
  },
});
