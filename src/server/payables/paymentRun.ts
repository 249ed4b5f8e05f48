import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import { DISCOUNT_ON_PART, proposePayments } from "@/core/payables";
import { convertBy } from "@/core/rates";
import {
  amountText,
  dateText,
  fail,
  isCalendarDate,
  isCurrency,
  minor,
  ok,
  readAmount,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import { defineRunKind } from "../runs";
import {
  moneyForAnother,
  moneyJournal,
  PAID,
  isPurposeCode,
  purposeKey,
  purposesMissing,
  transferRemarks,
  type PlannedPayment,
} from "@/core/banks";
import { payableItems, payableSuppliers } from "./paymentFacts";
import { purposeCountries } from "./purposeCountries";
import {
  againstBank,
  paymentPlace,
  gainsSetting,
  type RunPayment,
  type PaymentRunDetail,
  RUNS_THAT_PAY,
} from "../banks";
import { taxTakenBack } from "@/core/taxes";

const METHODS = ["", "transfer", "cheque", "manual"] as const;

export const date = (what: string) => string().required(`${what} is missing`);

/** What a payment run is asked for. */
export const paymentRunSchema = object({
  company: string().required("The company is missing"),
  bank: string().required("The bank account is missing"),
  date: date("The payment date"),
  next: date("The date of the next run"),
  method: string().oneOf(METHODS).default(""),
  suppliers: array(string().required()).max(5000).default([]),
  currencies: array(string().required()).max(50).default([]),
  items: array(number().integer().required()).max(50_000).default([]),
  minimum: string().default(""),
  perInvoice: boolean().default(false),
  discountOnPart: string().oneOf(DISCOUNT_ON_PART).default("in proportion"),
});

export const paymentRunKind = defineRunKind({
  id: "payment",
  right: "post.payables",
  approved: "as one",
  schema: paymentRunSchema,
  async propose(context, params, overrides, run) {
    const { masters } = context;
    const known = masters.companyByCode.get(params.company);
    if (!known) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    if (!isCalendarDate(params.next))
      return fail({ code: "DATE_INVALID", text: params.next, field: "next" });
    if (params.next <= params.date)
      return fail({ code: "INVALID", what: "The next run lies after this one", field: "next" });
    const minimum =
      params.minimum.trim() === "" ? null : readAmount(params.minimum, known.currency);
    if (minimum && !minimum.ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: params.minimum, field: "minimum" });
    const currency = params.currencies.find((c) => !isCurrency(c));
    if (currency) return fail({ code: "CURRENCY_UNKNOWN", currency, field: "currencies" });
    const items = await payableItems(context, known.id, {
      run,
      only: params.items,
      suppliers: params.suppliers,
    });
    const found = await paymentPlace(context, {
      ...params,
      currencies: [...new Set(items.map((i) => i.currency))],
    });
    if (!found.ok) return found;
    const { company, bank, yearId, accounts, rateIn } = found.value;
    const payer = masters.companyByCode.get(bank.company)!;
    const suppliers = await payableSuppliers(
      context,
      items.map((i) => i.partner),
    );
    const plan = proposePayments(
      items,
      suppliers,
      {
        ...params,
        minimum: minimum?.amount ?? minor(0n),
        functional: company.currency,
        rateOf: rateIn(company.currency),
        ...(bank.companyId === company.id
          ? {}
          : { paying: { functional: payer.currency, rateOf: rateIn(payer.currency) } }),
      },
      overrides,
    );
    if (plan.items.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `item of ${company.name} that falls due before ${dateText(params.next)} or earns a discount by being paid on ${dateText(params.date)}`,
        field: "next",
      });
    const byId = new Map(items.map((i) => [i.id, i]));
    const drafts: JournalDraft[] = [];
    const together: number[][] = [];
    const gains = await gainsSetting(context);
    const payments = plan.payments.map((payment): RunPayment => {
      const taxes = payment.items.flatMap((i) => taxTakenBack(byId.get(i.item)!, i.discount));
      const own = moneyJournal(payment, params.date, taxes, accounts, PAID);
      const places = [drafts.length];
      if (bank.companyId === company.id) drafts.push(own);
      else {
        const pair = masters.pair(company.code, bank.company)!;
        const functional = payer.currency;
        const both = moneyForAnother(
          own,
          payment,
          {
            company: bank.company,
            functional,
            // What has no rate is left out of the plan.
            rate: rateIn(functional)(payment.currency)!,
            underWay: bank.underWayAccount,
            facing: { ofItems: pair.dueTo, ofBank: pair.otherDueFrom },
          },
          accounts,
          PAID,
          { discount: gains.discountTo, difference: gains.differenceTo },
        );
        places.push(drafts.length + 1);
        together.push(places);
        drafts.push(...both);
      }
      const purpose = overrides.amounts[purposeKey(payment.key)]?.toUpperCase();
      return { ...payment, drafts: places, taxes, ...(purpose ? { purpose } : {}) };
    });
    const total = minor(payments.reduce((t, p) => t + p.functional, 0n));
    const discount = minor(
      payments.reduce(
        (t, p) => t + convertBy(p.discount, p.currency, company.currency, p.rate),
        0n,
      ),
    );
    const { warnings, blocks, left } = await againstBank(
      context,
      bank,
      company,
      params.date,
      payments,
      rateIn,
    );
    const transfers = transferRemarks(
      payments
        .filter((p) => p.method === "transfer")
        .map((p) => ({
          ...p,
          town: suppliers.get(p.partner)?.town ?? "",
          references: p.items.map((i) => i.reference),
        })),
      params.date,
      bank,
    );
    return ok({
      company: company.code,
      yearId,
      date: params.date,
      title: `Payments of ${dateText(params.date)} from ${bank.name}, ${company.name}`,
      items: plan.items.map((i) => ({
        ...i,
        ...(i.drafts ? { drafts: i.drafts.flatMap((d) => payments[d]!.drafts) } : {}),
      })),
      drafts,
      ...(together.length > 0 ? { together } : {}),
      warnings: [
        ...warnings,
        ...(plan.payments.some((p) => p.items.some((i) => byId.get(i.item)!.discounts.length > 0))
          ? [
              `Where less is paid than settles an item, its discount ${params.discountOnPart === "none" ? "is not taken" : "is taken in proportion to the part that is settled"}.`,
            ]
          : []),
        ...transfers.warnings,
        ...(await recentBankChanges(context, payments)),
      ],
      blocks: [
        ...blocks,
        ...transfers.blocks,
        ...purposesMissing(
          payments
            .filter((p) => p.method === "transfer")
            .map((p) => ({
              ...p,
              ofPartner: p.purpose ?? suppliers.get(p.partner)?.purpose ?? "",
            })),
          await purposeCountries(context),
        ),
        ...payments.flatMap((p) =>
          p.purpose === undefined || isPurposeCode(p.purpose)
            ? []
            : [`${p.purpose} is no purpose of payment that banks know.`],
        ),
      ],
      figures: [
        { label: "To pay", amount: total },
        { label: "Discount", amount: discount },
        ...(left === null
          ? []
          : [{ label: `${bank.code} after it`, amount: left, currency: bank.currency }]),
      ],
      detail: { bank: bank.code, payments } satisfies PaymentRunDetail,
    });
  },
  async changing({ tx }, { id, next }) {
    const live = await rows<{
      number: bigint;
      payee: string;
      amount: bigint;
      key: string;
      currency: string;
    }>(
      tx,
      sql`select number, payee, amount, payment_key as key, currency from cheque
        where run_id = ${id} and state = 'printed' order by number`,
    );
    const detail = next?.detail as PaymentRunDetail | undefined;
    const moved = live.find(
      (c) => detail?.payments.find((p) => p.key === c.key)?.amount !== c.amount,
    );
    return moved
      ? fail({
          code: "RUN_STANDS_IN_WAY",
          what: `Cheque ${moved.number} to ${moved.payee} over ${amountText(moved.amount, moved.currency)} ${moved.currency} is printed; void it first`,
        })
      : ok({});
  },
  ...RUNS_THAT_PAY,
});

/** Bank accounts that were changed in the last two weeks: whoever looks at the run should know. */
async function recentBankChanges(
  { tx, today }: Context,
  payments: readonly PlannedPayment[],
): Promise<string[]> {
  const accounts = payments.flatMap((p) => p.bankId ?? []);
  if (accounts.length === 0) return [];
  const found = await rows<{ name: string; by: string; second: string | null }>(
    tx,
    sql`select p.name, c.name as by, d.name as second from partner_bank b
      join partner p on p.id = b.partner_id join person c on c.id = b.changed_by left
      join person d on d.id = b.decided_by
      where b.state = 'confirmed' and b.changed_at > ${today}::date - 14
      and b.id = any(${arrayOf(accounts)}::int[]) order by p.name`,
  );
  return found.map(
    (f) =>
      `The bank account of ${f.name} is new: entered by ${f.by}${f.second ? `, confirmed by ${f.second}` : ""}.`,
  );
}
