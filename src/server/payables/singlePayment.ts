import { sql } from "drizzle-orm";
import { array, number, object, string, type InferType } from "yup";
import { PAYMENT_METHODS } from "@/core/partners";
import { discountLost, paymentItemKey, paymentJournal, taxTakenBack, type CodedPart, type PaidItem, type PlannedPayment } from "@/core/payables";
import { part } from "@/core/openItems";
import { convert } from "@/core/rates";
import type { DraftLine } from "@/core/ledger";
import type { RunItem } from "@/core/runs";
import { amountText, dateText, fail, isCurrency, minor, ok, readAmount, textRecord, type Found, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { lockChains, postDrafts } from "../ledger";
import { settleTogether } from "../openItems";
import { approvalOfRun, keepProposal, registerRunKind, type Proposed } from "../runs";
import { payableItems, payableSuppliers } from "./paymentFacts";
import { againstBank, paymentPlace, postedPayments, UNDO_PAYMENTS, type PaymentRunDetail, type RunPayment } from "./paymentRun";

const METHODS = [...PAYMENT_METHODS, "refund"] as const;

const schema = object({
  company: string().required(), bank: string().required("The bank account is missing"), date: string().required("The date is missing"), method: string().oneOf(METHODS).default("manual"), supplier: string().trim().default(""), payee: string().trim().max(120).default(""), currency: string().nullable().default(null), description: string().trim().max(150).default(""),
  items: array(object({ id: number().integer().required(), amount: string().default(""), discount: string().default("") })).max(1000).default([]),
  lines: array(object({ account: string().trim().default(""), dimensions: textRecord(), description: string().trim().max(200).default(""), amount: string().trim().default("") })).max(50).default([]),
});

/** What one payment by itself would do: its journal, and what posting it makes. */
async function proposeSingle(context: Context, input: InferType<typeof schema>, run?: number): Promise<Result<Proposed>> {
  const { masters } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const currency = input.currency || company.currency;
  if (!isCurrency(currency)) return fail({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
  const found = await paymentPlace(context, { ...input, currencies: [currency] });
  if (!found.ok) return found;
  const { bank, accounts, rateIn, yearId } = found.value;
  if (bank.companyId !== company.id) return fail({ code: "INVALID", what: `${bank.code} belongs to ${bank.companyName}; one company pays for another in a payment run`, field: "bank" });
  const problems: Found[] = [];
  const refund = input.method === "refund";
  const chosen = new Map(input.items.length === 0 ? [] : (await payableItems(context, company.id, { run, only: input.items.map((i) => i.id) })).map((i) => [i.id, i]));
  const [supplier] = [...(await payableSuppliers(context, [input.supplier])).values()];
  if (input.supplier !== "" && !supplier) problems.push({ code: "PARTNER_UNKNOWN", partner: input.supplier, field: "supplier" });
  if (input.supplier === "" && input.payee === "") problems.push({ code: "REQUIRED", what: "A supplier or the name of the payee", field: "payee" });
  // What a supplier pays back is taken even where nothing may be paid to it.
  if (supplier && !refund && (supplier.blocked || supplier.hold !== "")) problems.push({ code: "INVALID", what: supplier.blocked ? `${supplier.name} is blocked` : `${supplier.name} is on hold: ${supplier.hold}`, field: "supplier" });
  const paid: PaidItem[] = [];
  input.items.forEach((wanted, i) => {
    const item = chosen.get(wanted.id);
    const at = (problem: Found) => problems.push({ ...problem, line: i + 1 });
    if (!item) return at({ code: "NOT_FOUND", what: "such open item" });
    if (paid.some((p) => p.item === item.id)) return at({ code: "INVALID", what: `${item.reference} is paid twice here; add the amounts` });
    if (item.partner !== input.supplier) return at({ code: "ITEM_OTHER_PARTNER" });
    if (item.currency !== currency) return at({ code: "ITEM_OTHER_CURRENCY", first: item.currency, second: currency });
    if (item.hold !== "") return at({ code: "IN_USE", what: `${item.reference} is on hold: ${item.hold}. Release it first` });
    if (item.date > input.date) return at({ code: "INVALID", what: `${item.reference} is booked on ${dateText(item.date)}, after this payment`, field: "date" });
    if (item.takenBy !== null) return at({ code: "IN_USE", what: `${item.takenBy} has taken ${item.reference}; post or discard that run first` });
    const size = item.left < 0n ? -item.left : item.left;
    const amount = wanted.amount.trim() === "" ? { ok: true as const, amount: minor(size) } : readAmount(wanted.amount, currency);
    const discount = wanted.discount.trim() === "" ? { ok: true as const, amount: minor(0n) } : readAmount(wanted.discount, currency);
    if (!amount.ok) return at({ code: "AMOUNT_NOT_NUMBER", text: wanted.amount });
    if (!discount.ok) return at({ code: "AMOUNT_NOT_NUMBER", text: wanted.discount });
    const taken = minor(amount.amount + discount.amount);
    if (amount.amount < 0n || discount.amount < 0n || taken === 0n || taken > size) return at({ code: "ITEM_OVERALLOCATED", wanted: taken, left: minor(size), currency });
    if (discount.amount > 0n && item.left > 0n) return at({ code: "INVALID", what: "A credit note has no discount" });
    const sign = item.left < 0n ? -1n : 1n;
    paid.push({ item: item.id, reference: item.reference, account: item.account, taken: minor(sign * taken), functional: part(item, taken).functional, discount: discount.amount, lost: discountLost(item, taken, discount.amount) });
  });
  const rate = currency === company.currency ? null : rateIn(company.currency)(currency);
  if (currency !== company.currency && rate === null) problems.push({ code: "RATE_MISSING", from: currency, to: company.currency, kind: "spot", date: input.date, field: "date" });
  const lines: CodedPart[] = [];
  input.lines.forEach((l, i) => {
    if (l.account === "" && l.amount === "") return;
    const read = readAmount(l.amount, currency);
    if (!read.ok || read.amount === 0n) problems.push({ code: "AMOUNT_NOT_NUMBER", text: l.amount, line: i + 1, field: "amount" });
    else {
      // An advance leaves an open item of its supplier, to be set against the invoice that comes later.
      const advance = masters.accountByNumber.get(l.account)?.control === "payables";
      if (advance && input.supplier === "") problems.push({ code: "PARTNER_REQUIRED", account: l.account, line: i + 1, field: "account" });
      lines.push({ line: { account: l.account, dimensions: l.dimensions, description: l.description || input.description, ...(advance ? { partner: input.supplier, dueDate: input.date, item: { kind: "prepayment" as const, reference: (input.description || `Advance ${input.date}`).slice(0, 60) } } : {}) }, amount: read.amount });
    }
  });
  const amount = minor(paid.reduce((t, i) => t - i.taken - i.discount, 0n) + lines.reduce((t, l) => t + l.amount, 0n));
  if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
  if (paid.length === 0 && lines.length === 0) return fail({ code: "REQUIRED", what: "What is paid: an item or a line" });
  if (refund ? amount >= 0n : amount <= 0n) return fail({ code: "INVALID", what: refund ? "A refund comes in: choose what the supplier owes us, or lines with a minus" : "Nothing would be paid: what is taken off is as much as what is owed. Settle it without a payment, or note a refund", field: "items" });
  const own = (n: bigint): Minor => (rate === null ? minor(n) : convert(minor(n), currency, company.currency, rate));
  const payee = supplier?.name ?? input.payee;
  const planned: PlannedPayment = { key: paymentItemKey(0), partner: supplier?.code ?? "", payee, method: "manual", currency, rate, amount, functional: own(amount), discount: minor(paid.reduce((t, i) => t + i.discount, 0n)), iban: "", bic: "", items: paid };
  const taxes = paid.flatMap((i) => taxTakenBack(chosen.get(i.item)!, i.discount));
  const journal = paymentJournal(planned, input.date, taxes, accounts, lines);
  const payment: RunPayment = { ...planned, amount: minor(amount < 0n ? -amount : amount), method: input.method as PlannedPayment["method"], drafts: [0], taxes };
  const money = (n: bigint): string => `${amountText(minor(n), currency)} ${currency}`;
  const shown = (key: string, label: string, n: bigint, more: RunItem["explanation"]["steps"] = []): RunItem => ({ key, group: payee, label, amount: own(n), why: refund ? "refund, entered by hand" : "entered by hand", drafts: [0], explanation: { title: label, steps: [...more, { label: n < 0n ? "Comes in" : "Paid", text: money(n), total: true }] } });
  const items = [
    ...paid.map((i) => shown(paymentItemKey(i.item), i.reference, -i.taken - i.discount, [{ label: "Settled", text: money(-i.taken) }, ...(i.discount > 0n ? [{ label: "Discount", text: money(-i.discount) }] : [])])),
    ...lines.map((l, i) => ({ ...shown(`line|${i + 1}`, `${l.line.account} ${l.line.description}`.trim(), l.amount), takes: false as const })),
  ];
  const { warnings, blocks, left } = refund ? { warnings: [], blocks: [], left: null } : await againstBank(context, bank, company, input.date, [payment], rateIn);
  return ok({
    company: company.code, yearId, date: input.date, title: `${refund ? "Refund from" : "Payment to"} ${payee}, ${dateText(input.date)}, ${company.name}`.slice(0, 200), items, drafts: [{ ...journal, description: (input.description || journal.description).slice(0, 200) }], warnings, blocks,
    figures: [{ label: refund ? "Comes in" : "To pay", amount: own(payment.amount) }, ...(left === null ? [] : [{ label: `${bank.code} after it`, amount: left }])], detail: { bank: bank.code, payments: [payment], outside: true } satisfies PaymentRunDetail,
  });
}

/** Single payments that a second person has to look at wait as runs of this kind; they take their items from payment runs. */
const WAITING = { id: "single-payment", name: "Single payment", right: "post.payables", approved: "as one", takesAs: "payment" } as const;
registerRunKind({
  ...WAITING, schema,
  propose: (context, params, _overrides, run) => proposeSingle(context, params, run),
  posted: (context, run) => postedPayments(context, run.id, run.proposal.detail as PaymentRunDetail, run.params.company, run.journals, run.approved),
  ...UNDO_PAYMENTS,
});

/** A payment that was posted; or the run as which it waits for a second person, with why. */
export interface MadePayment {
  id: number;
  number: string;
  journal: string;
  run?: { id: number; number: string; why: string };
}

/**
 * One payment by itself: of open items of a supplier in full or in part, of a coding without any supplier, or both; or a refund that comes in for what a supplier owes us.
 * It is made outside a run (by hand at the bank, by direct debit), so no file and no cheque come of it. Where a rule asks for a second person, it waits as a run of its own.
 */
export const makePayment = defineUseCase({
  name: "makePayment", kind: "write", rights: ["post.payables"], what: "make payments", company: (i) => i.company, schema,
  run: async (context, input): Promise<Result<MadePayment>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    await lockChains(tx, [company.code]);
    const proposed = await proposeSingle(context, input);
    if (!proposed.ok) return proposed;
    const approval = await approvalOfRun(context, WAITING, proposed.value);
    if (approval) {
      const run = await keepProposal(context, WAITING, input, proposed.value);
      return run.ok ? ok({ id: 0, number: "", journal: "", run: { ...run.value, why: approval.why } }) : run;
    }
    const [block] = proposed.value.blocks ?? [];
    if (block) return fail({ code: "RUN_STANDS_IN_WAY", what: block.replace(/\.$/, "") });
    const posted = await postDrafts(context, proposed.value.drafts);
    if (!posted.ok) return posted;
    const detail = proposed.value.detail as PaymentRunDetail;
    const made = await postedPayments(context, null, detail, company.code, posted.value, false);
    if (!made.ok) return made;
    const { payee, amount, currency } = detail.payments[0]!;
    await context.audit({ action: input.method === "refund" ? "refund noted" : "paid", kind: "payment", recordId: made.value[0]!.id, label: made.value[0]!.number, companyId: company.id, after: { payee, amount: String(amount), currency } });
    return ok({ ...made.value[0]!, journal: posted.value[0]!.number });
  },
});

/** Sets what we owe a partner against what it owes us, where it is both supplier and customer: the oldest first, in one currency, by a journal that settles both sides. */
export const netPartner = defineUseCase({
  name: "netPartner", kind: "write", rights: ["post.payables"], what: "net what is owed both ways", company: (i) => i.company, schema: object({ company: string().required(), partner: string().required(), currency: string().required(), date: string().required("The date is missing") }),
  run: async (context, input): Promise<Result<{ journal: string; amount: Minor }>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!context.may("post.receivables", company.code)) return fail({ code: "FORBIDDEN", what: `settle what customers of ${company.name} owe` });
    await lockChains(tx, [company.code]);
    const items = await rows<{ id: bigint; area: string; account: string; left: bigint; leftFunctional: bigint; reference: string; hold: string }>(
      tx,
      sql`select i.id, i.area, a.number as account, i.left_amount as "left", i.left_functional as "leftFunctional", i.reference, i.hold from open_item i join account a on a.id = i.account_id
          where i.company_id = ${company.id} and i.partner = ${input.partner} and i.currency = ${input.currency} and i.left_amount <> 0 and i.hold = '' and i.date <= ${input.date} and ((i.area = 'payables' and i.left_amount < 0) or (i.area = 'receivables' and i.left_amount > 0)) order by i.due_date, i.id for update of i`,
    );
    const side = (area: string) => items.filter((i) => i.area === area);
    const sum = (list: typeof items): bigint => list.reduce((t, i) => t + (i.left < 0n ? -i.left : i.left), 0n);
    const amount = [sum(side("payables")), sum(side("receivables"))].reduce((a, b) => (a < b ? a : b));
    if (amount === 0n) return fail({ code: "INVALID", what: "Nothing is owed both ways in this currency" });
    const takes = ["payables", "receivables"].flatMap((area) => {
      let open = amount;
      return side(area).flatMap((i) => {
        const size = i.left < 0n ? -i.left : i.left;
        const taken = size < open ? size : open;
        open -= taken;
        if (taken === 0n) return [];
        const { functional } = part({ id: Number(i.id), account: i.account, partner: input.partner, currency: input.currency, left: minor(i.left), leftFunctional: minor(i.leftFunctional) }, minor(taken));
        return [{ area, account: i.account, item: Number(i.id), amount: minor(i.left < 0n ? -taken : taken), functional }];
      });
    });
    const foreign = input.currency !== company.currency;
    const lines: DraftLine[] = [...new Set(takes.map((t) => `${t.area}|${t.account}`))].map((key) => {
      const own = takes.filter((t) => `${t.area}|${t.account}` === key);
      const [functional, inCurrency] = [own.reduce((t, x) => t + x.functional, 0n), own.reduce((t, x) => t + x.amount, 0n)];
      const size = (n: bigint): Minor => minor(n < 0n ? -n : n);
      return { account: own[0]!.account, dimensions: {}, description: "Netted", side: inCurrency < 0n ? "debit" : "credit", amount: size(functional), ...(foreign ? { foreignAmount: size(inCurrency) } : {}), partner: input.partner, dueDate: input.date, item: { kind: "payment", reference: "Netting" } };
    });
    const rest = lines.reduce((t, l) => t + (l.side === "debit" ? l.amount : -l.amount), 0n);
    const account = rest > 0n ? masters.purposes.exchangeGain : masters.purposes.exchangeLoss;
    if (rest !== 0n && !account) return fail({ code: "PURPOSE_MISSING", purpose: "exchange differences" });
    if (rest !== 0n) lines.push({ account: account!, dimensions: {}, description: "Exchange difference of settled items", side: rest > 0n ? "credit" : "debit", amount: minor(rest > 0n ? rest : -rest), foreignAmount: minor(0n) });
    const posted = await postDrafts(context, [{ company: company.code, type: "payment", book: null, date: input.date, ...(foreign ? { currency: input.currency } : {}), description: `Netting with ${input.partner}`, reference: "Netting", lines }]);
    if (!posted.ok) return posted;
    const journal = posted.value[0]!;
    const made = await rows<{ id: bigint; area: string; left: bigint; leftFunctional: bigint }>(tx, sql`select id, area, left_amount as "left", left_functional as "leftFunctional" from open_item where journal_id = any(${arrayOf([journal.id])}::bigint[])`);
    // Each side settles by itself: its items with what the journal left on its own account.
    await settleTogether(context, "netting", [{ companyId: company.id, date: input.date, journalId: journal.id, lines: [...takes.map(({ item, amount: a, functional }) => ({ item, amount: a, functional })), ...made.map((m) => ({ item: Number(m.id), amount: minor(m.left), functional: minor(m.leftFunctional) }))] }]);
    await context.audit({ action: "netted", kind: "open items", recordId: journal.id, label: journal.number, companyId: company.id, after: { partner: input.partner, amount: String(amount), currency: input.currency } });
    return ok({ journal: journal.number, amount: minor(amount) });
  },
});
