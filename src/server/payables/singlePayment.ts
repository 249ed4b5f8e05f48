import { array, number, object, string, type InferType } from "yup";
import {
  NO_BANK_ADDRESS,
  moneyJournal,
  PAID,
  type PlannedPayment,
  isDraft,
  MADE_BY,
} from "@/core/banks";
import { paymentItemKey, readSinglePayment, singlePaymentItems } from "@/core/payables";
import { convertBy } from "@/core/rates";
import {
  dateText,
  fail,
  isCalendarDate,
  isCurrency,
  minor,
  ok,
  textRecord,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { writtenAccountProblem } from "@/core/ledger";
import { defineUseCase, type Context, companiesOf, lockChains } from "../access";
import { postDrafts } from "../ledger";
import {
  againstBank,
  againstPromise,
  paymentPlace,
  postedPayments,
  type PaymentRunDetail,
  type RunPayment,
  RUNS_THAT_PAY,
} from "../banks";
import { aloneWith, approvalOfRun, keepProposal, defineRunKind, type Proposed } from "../runs";
import { payableItems, payableSuppliers } from "./paymentFacts";
import { taxTakenBack } from "@/core/taxes";

const schema = object({
  company: string().required(),
  bank: string().required("The bank account is missing"),
  date: string().required("The date is missing"),
  method: string().oneOf(MADE_BY).default("manual"),
  /** When a bill or note is to be paid. */
  dueDate: string()
    .trim()
    .default("")
    .when("method", {
      is: isDraft,
      then: (s) => s.required("The day on which it is due is missing"),
    }),
  supplier: string().trim().default(""),
  payee: string().trim().max(120).default(""),
  currency: string().nullable().default(null),
  description: string().trim().max(150).default(""),
  items: array(
    object({
      id: number().integer().required(),
      amount: string().default(""),
      discount: string().default(""),
    }),
  )
    .max(1000)
    .default([]),
  lines: array(
    object({
      account: string().trim().default(""),
      dimensions: textRecord(),
      description: string().trim().max(200).default(""),
      amount: string().trim().default(""),
    }),
  )
    .max(50)
    .default([]),
});

/** What one payment by itself would do: its journal, and what posting it makes. */
async function proposeSingle(
  context: Context,
  input: InferType<typeof schema>,
  run?: number,
): Promise<Result<Proposed>> {
  const { masters } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const currency = input.currency || company.currency;
  if (!isCurrency(currency)) return fail({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
  const found = await paymentPlace(context, { ...input, currencies: [currency] });
  if (!found.ok) return found;
  const { bank, rateIn, missingRate, yearId } = found.value;
  if (bank.companyId !== company.id)
    return fail({
      code: "INVALID",
      what: `${bank.code} belongs to ${bank.companyName}; one company pays for another in a payment run`,
      field: "bank",
    });
  const problems: Found[] = [];
  const refund = input.method === "refund";
  const draft = isDraft(input.method);
  const place = draft
    ? draftPlace(context, input)
    : ok({ underWay: bank.underWayAccount, due: undefined });
  if (!place.ok) problems.push(...place.problems);
  if (draft && bank.currency !== currency)
    problems.push({
      code: "INVALID",
      what: `${bank.code} pays in ${bank.currency}: a bill or note is of its currency`,
      field: "currency",
    });
  const chosen = new Map(
    input.items.length === 0
      ? []
      : (
          await payableItems(context, company.id, {
            run,
            only: input.items.map((i) => i.id),
            credits: true,
          })
        ).map((i) => [i.id, i]),
  );
  const [supplier] = [...(await payableSuppliers(context, [input.supplier])).values()];
  if (input.supplier !== "" && !supplier)
    problems.push({ code: "PARTNER_UNKNOWN", partner: input.supplier, field: "supplier" });
  if (input.supplier === "" && input.payee === "")
    problems.push({
      code: "REQUIRED",
      what: "A supplier or the name of the payee",
      field: "payee",
    });
  // What a supplier pays back is taken even where nothing may be paid to it.
  if (supplier && !refund && (supplier.blocked || supplier.hold !== ""))
    problems.push({
      code: "INVALID",
      what: supplier.blocked
        ? `${supplier.name} is blocked`
        : `${supplier.name} is on hold: ${supplier.hold}`,
      field: "supplier",
    });
  const known = rateIn(company.currency)(currency);
  if (known === null) problems.push({ ...missingRate(currency, company.currency), field: "date" });
  const rate = known ?? "same";
  const paid = readSinglePayment(
    { ...input, currency, refund },
    {
      items: chosen,
      isAdvance: (account) => isAdvance(masters, account),
      isTaxOwed: (account) => input.supplier === "" && isTaxOwed(masters, account),
    },
  );
  input.lines.forEach((l, i) => {
    if (isAdvance(masters, l.account)) return;
    if (input.supplier === "" && isTaxOwed(masters, l.account)) return;
    const fault = writtenAccountProblem(masters, l.account, { line: i + 1, field: "account" });
    if (fault) problems.push(fault);
  });
  problems.push(...paid.problems);
  if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
  const { amount } = paid;
  const own = (n: bigint): Minor => convertBy(minor(n), currency, company.currency, rate);
  const payee = supplier?.name ?? input.payee;
  const planned: PlannedPayment = {
    key: paymentItemKey(0),
    partner: supplier?.code ?? "",
    payee,
    method: input.method,
    currency,
    rate,
    amount,
    functional: own(amount),
    discount: minor(paid.items.reduce((t, i) => t + i.discount, 0n)),
    ...NO_BANK_ADDRESS,
    bankId: null,
    holder: "",
    items: paid.items,
    ...(place.ok && place.value.due ? { due: place.value.due } : {}),
  };
  const taxes = paid.items.flatMap((i) => taxTakenBack(chosen.get(i.item)!, i.discount));
  const accounts = place.ok
    ? { ...found.value.accounts, underWay: place.value.underWay }
    : found.value.accounts;
  const journal = moneyJournal(planned, input.date, taxes, accounts, PAID, paid.lines);
  const payment: RunPayment = {
    ...planned,
    amount: minor(amount < 0n ? -amount : amount),
    drafts: [0],
    taxes,
  };
  const items = singlePaymentItems(paid, { payee, refund, currency, own });
  const { warnings, blocks, left } = refund
    ? { warnings: [], blocks: [], left: null }
    : draft
      ? againstPromise(bank, [payment], rateIn)
      : await againstBank(context, bank, company, input.date, [payment], rateIn);
  return ok({
    company: company.code,
    yearId,
    date: input.date,
    title:
      `${refund ? "Refund from" : "Payment to"} ${payee}, ${dateText(input.date)}, ${company.name}`.slice(
        0,
        200,
      ),
    items,
    drafts: [{ ...journal, description: (input.description || journal.description).slice(0, 200) }],
    warnings,
    blocks,
    figures: [
      { label: refund ? "Comes in" : "To pay", amount: own(payment.amount) },
      ...(left === null
        ? []
        : [{ label: `${bank.code} after it`, amount: left, currency: bank.currency }]),
    ],
    detail: { bank: bank.code, payments: [payment], outside: true } satisfies PaymentRunDetail,
  });
}

/** Where what a bill or note promises stands until its day. */
function draftPlace(
  { masters }: Context,
  input: { date: string; dueDate: string },
): Result<{ underWay: string; due: string | undefined }> {
  const problems: Found[] = [];
  const { billsPayable } = masters.purposes;
  if (!billsPayable) problems.push({ code: "PURPOSE_MISSING", purpose: "bills and notes payable" });
  if (!isCalendarDate(input.dueDate))
    problems.push({ code: "DATE_INVALID", text: input.dueDate, field: "dueDate" });
  else if (input.dueDate < input.date)
    problems.push({
      code: "INVALID",
      what: "A bill or note is due on the day of its issue at the earliest",
      field: "dueDate",
    });
  return problems.length > 0
    ? { ok: false, problems }
    : ok({ underWay: billsPayable!, due: input.dueDate });
}

/** Advances stand on the suppliers' control accounts among the assets. */
const isAdvance = (masters: Context["masters"], number: string): boolean => {
  const account = masters.accountByNumber.get(number);
  return account?.control === "payables" && account.type === "asset";
};
/** What is owed to a tax office is paid from its own account, to nobody of the suppliers. */
const isTaxOwed = (masters: Context["masters"], number: string): boolean => {
  const account = masters.accountByNumber.get(number);
  return account?.control === "tax" && account.type === "liability";
};

/**
 * Single payments that a second person has to look at wait as runs of this kind; they take their
 * items from payment runs.
 */
const WAITING = {
  id: "single-payment",
  right: "post.payables",
  approved: "as one",
  takesAs: "payment",
} as const;
export const singlePaymentRun = defineRunKind({
  ...WAITING,
  schema,
  propose: (context, params, _overrides, run) => proposeSingle(context, params, run),
  ...RUNS_THAT_PAY,
});

/** A payment that was posted; or the run as which it waits for a second person, with why. */
export interface MadePayment {
  id: number;
  number: string;
  journal: string;
  run?: { id: number; number: string; why: string };
}

/**
 * One payment by itself: of open items of a supplier in full or in part, of a coding without any
 * supplier, or both; of what a customer has paid too much or is credited; or a refund that comes in for
 * what a supplier owes us.
 * It is made outside a run (by hand at the bank, by direct debit), so no file and no cheque come of
 * it. Where a rule asks for a second person, it waits as a run of its own.
 */
export const makePayment = defineUseCase({
  name: "makePayment",
  kind: "write",
  rights: ["post.payables"],
  what: "make payments",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], { company: input.company }),
  schema,
  run: async (context, input): Promise<Result<MadePayment>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    await lockChains(tx, [company.code]);
    await aloneWith(context, WAITING, input);
    const proposed = await proposeSingle(context, input);
    if (!proposed.ok) return proposed;
    const approval = await approvalOfRun(context, WAITING, proposed.value.drafts);
    if (approval) {
      const run = await keepProposal(context, WAITING, input, proposed.value);
      return run.ok
        ? ok({ id: 0, number: "", journal: "", run: { ...run.value, why: approval.why } })
        : run;
    }
    const [block] = proposed.value.blocks ?? [];
    if (block) return fail({ code: "RUN_STANDS_IN_WAY", what: block.replace(/\.$/, "") });
    const posted = await postDrafts(context, proposed.value.drafts);
    if (!posted.ok) return posted;
    const detail = proposed.value.detail as PaymentRunDetail;
    const made = await postedPayments(context, null, detail, company.code, posted.value, false);
    if (!made.ok) return made;
    const { payee, amount, currency } = detail.payments[0]!;
    await context.audit({
      action: input.method === "refund" ? "refund noted" : "paid",
      kind: "payment",
      recordId: made.value[0]!.id,
      label: made.value[0]!.number,
      companyId: company.id,
      after: { payee, amount: String(amount), currency },
    });
    return ok({ ...made.value[0]!, journal: posted.value[0]!.number });
  },
});
