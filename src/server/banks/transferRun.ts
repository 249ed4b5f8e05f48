import { array, object, string, type InferType } from "yup";
import {
  againstUse,
  bankAddressKey,
  isAtBank,
  transferJournals,
  transferRemarks,
  type OwnTransferOrder,
} from "@/core/banks";
import type { JournalDraft } from "@/core/ledger";
import type { RunItem } from "@/core/runs";
import { conversionOn, convertBy, rateProblem, type Rate } from "@/core/rates";
import {
  dateText,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Result,
} from "@/core/shared";
import type { Context } from "../access";
import { ratesFor } from "../rates";
import { defineRunKind, type Proposed } from "../runs";
import { againstBank } from "./againstBank";
import { bankAccountsByCode, type BankAccount } from "./bankAccounts";
import { moneyAccounts } from "./moneyAccounts";
import { paymentPlace } from "./paymentPlace";
import type { PaymentRunDetail, RunPayment } from "./postedPayments";
import { RUNS_THAT_PAY } from "./runsThatPay";

const schema = object({
  company: string().required(),
  bank: string().required("The bank account is missing"),
  date: string().required("The date is missing"),
  transfers: array(
    object({
      to: string().trim().required("Choose where it goes"),
      amount: string().trim().required("An amount is needed"),
      text: string().trim().max(140).default(""),
    }),
  )
    .min(1, "Say at least one transfer")
    .max(100)
    .required("Say at least one transfer"),
});
type Params = InferType<typeof schema>;

/**
 * Moves money from a bank account to others of our own, of the company or of others of the group:
 * each a payment that goes out in a file, and that both banks' lines clear.
 */
export const transferRun = defineRunKind({
  id: "transfer",
  right: "post.banks",
  approved: "as one",
  schema,
  async propose(context, params, overrides): Promise<Result<Proposed>> {
    const found = await paymentPlace(context, params);
    if (!found.ok) return found;
    const { bank, company, yearId, rateIn } = found.value;
    if (bank.companyId !== company.id)
      return fail({
        code: "INVALID",
        what: `${bank.code} belongs to ${bank.companyName}: transfers from it are made there`,
        field: "bank",
      });
    const orders = await readOrders(context, bank, params);
    if (!orders.ok) return orders;
    const drafts: JournalDraft[] = [];
    const together: number[][] = [];
    const payments: RunPayment[] = [];
    const items = orders.value.map(({ order, target }, place): RunItem => {
      const key = `transfer ${place + 1}`;
      const own = convertBy(order.amount, order.currency, company.currency, order.from.rate);
      const item: RunItem = {
        key,
        takes: false,
        label: `${target.code} ${target.name}`,
        group: target.companyName,
        amount: own,
        why: order.text || (order.facing ? `due from ${target.companyName}` : "own account"),
        droppable: true,
      };
      if (overrides.dropped.includes(key)) return item;
      const made = transferJournals(order);
      const places = made.map((_, i) => drafts.length + i);
      if (places.length > 1) together.push(places);
      drafts.push(...made);
      payments.push({
        key,
        partner: "",
        payee: target.companyName,
        method: "transfer",
        currency: order.currency,
        rate: order.from.rate,
        amount: order.amount,
        functional: own,
        discount: minor(0n),
        iban: target.iban,
        bic: target.bic,
        number: target.number,
        routing: target.routing,
        country: target.country,
        bankId: null,
        holder: "",
        items: [],
        drafts: places,
        taxes: [],
        toBank: target.id,
        text: order.text,
      });
      return { ...item, drafts: places };
    });
    const { warnings, blocks, left } = await againstBank(
      context,
      bank,
      company,
      params.date,
      payments,
      rateIn,
    );
    const remarks = transferRemarks(
      // Our own companies are known to the bank: no town is asked for.
      payments.map((p) => ({ ...p, holder: p.payee, town: "", references: [] })),
      params.date,
      bank,
    );
    return ok({
      company: company.code,
      yearId,
      date: params.date,
      title: `Transfers of ${dateText(params.date)} from ${bank.name}, ${company.name}`,
      items,
      drafts,
      ...(together.length > 0 ? { together } : {}),
      warnings: [...warnings, ...remarks.warnings],
      blocks: [...blocks, ...remarks.blocks],
      figures: [
        { label: "To move", amount: minor(payments.reduce((t, p) => t + p.functional, 0n)) },
        ...(left === null
          ? []
          : [{ label: `${bank.code} after it`, amount: left, currency: bank.currency }]),
      ],
      detail: { bank: bank.code, payments } satisfies PaymentRunDetail,
    });
  },
  ...RUNS_THAT_PAY,
});

/** What is asked for, with both ends of each transfer; or what stands against it, at its row. */
async function readOrders(
  context: Context,
  bank: BankAccount,
  params: Params,
): Promise<Result<{ order: OwnTransferOrder; target: BankAccount }[]>> {
  const { tx, masters } = context;
  const problems: Found[] = [];
  const targets = await bankAccountsByCode(
    tx,
    params.transfers.map((t) => t.to),
  );
  const companies = [bank.company, ...[...targets.values()].map((t) => t.company)];
  const rates = await ratesFor(tx, masters, [
    { companies, currency: bank.currency, date: params.date },
  ]);
  const end = (of: BankAccount) => endOf(context, of, rates, params.date);
  const from = end(bank);
  if (!from.ok) return from;
  const orders: { order: OwnTransferOrder; target: BankAccount }[] = [];
  for (const [place, t] of params.transfers.entries()) {
    const at = (name: string) => `transfers.${place}.${name}`;
    const target = targets.get(t.to);
    if (!target) {
      problems.push({ code: "NOT_FOUND", what: `bank account ${t.to}`, field: at("to") });
      continue;
    }
    const fault = againstTarget(context, bank, target, params.date);
    if (fault !== null) {
      problems.push({ code: "INVALID", what: fault, field: at("to") });
      continue;
    }
    const read = readAmount(t.amount, bank.currency);
    if (!read.ok || read.amount <= 0n) {
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: t.amount, field: at("amount") });
      continue;
    }
    const to = end(target);
    if (!to.ok) return to;
    const pair = masters.pair(bank.company, target.company);
    const facing =
      target.companyId === bank.companyId
        ? null
        : { dueFrom: pair!.dueFrom, dueTo: pair!.otherDueTo };
    orders.push({
      target,
      order: {
        from: from.value,
        to: to.value,
        currency: bank.currency,
        amount: read.amount,
        date: params.date,
        text: t.text,
        facing,
      },
    });
  }
  return problems.length > 0 ? fail(...(problems as [Found, ...Found[]])) : ok(orders);
}

/** Why money cannot be moved to an account; null where it can. */
function againstTarget(
  { masters, may }: Context,
  bank: BankAccount,
  target: BankAccount,
  date: string,
): string | null {
  if (target.id === bank.id) return `${target.code} is where it comes from`;
  if (!isAtBank(target)) return `${target.code} is a cash box: that goes through its cash book`;
  const unused = againstUse(target, date);
  if (unused !== null) return unused;
  if (target.currency !== bank.currency)
    return `${target.code} is kept in ${target.currency}, and ${bank.code} in ${bank.currency}`;
  if (bankAddressKey(target) === "") return `${target.code} has neither an IBAN nor a number`;
  if (target.companyId === bank.companyId) return null;
  if (!masters.pair(bank.company, target.company))
    return `${bank.companyName} and ${target.companyName} have no accounts due from and due to each other`;
  return may("post.banks", target.company)
    ? null
    : `You may not post bank movements of ${target.companyName}`;
}

/** One end of a transfer: the accounts and the rate of its company. */
function endOf(
  context: Context,
  bank: BankAccount,
  rates: readonly Rate[],
  date: CalendarDate,
): Result<OwnTransferOrder["from"]> {
  const company = context.masters.companyByCode.get(bank.company)!;
  const accounts = moneyAccounts(context, company);
  if (!accounts.ok) return accounts;
  const rate = conversionOn(rates, "spot", bank.currency, company.currency, date);
  if (rate === null)
    return fail({
      ...rateProblem(rates, "spot", bank.currency, company.currency, date),
      field: "date",
    });
  return ok({
    code: bank.code,
    company: company.code,
    companyName: company.name,
    underWay: bank.underWayAccount,
    accounts: accounts.value,
    rate,
  });
}
