import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import {
  DISCOUNT_ON_PART,
  GAINS_TO,
  payForAnother,
  journalOfPayment,
  proposePayments,
  taxTakenBack,
  transferRemarks,
  type GainsTo,
  type PaymentAccounts,
  type PlannedPayment,
  type TaxTakenBack,
} from "@/core/payables";
import { conversionOn, convertBy, rateProblem, type Conversion } from "@/core/rates";
import {
  amountText,
  dateText,
  fail,
  isCalendarDate,
  isCurrency,
  minor,
  ok,
  readAmount,
  type Found,
  type Result,
} from "@/core/shared";
import { arrayOf, rows, readSetting } from "../db";
import type { Context } from "../access";
import { readBankAccount, type BankAccount } from "../banks";
import { documentLinks, takeNumbers } from "../documents";
import type { PostedJournal } from "../ledger";
import { releaseItems, settleTogether } from "../openItems";
import { loadPeriods } from "../organisation";
import { ratesFor } from "../rates";
import { defineRunKind, type RunKind } from "../runs";
import { againstBank } from "./againstBank";
import { payableItems, payableSuppliers } from "./paymentFacts";

const METHODS = ["", "transfer", "cheque", "manual"] as const;
const date = (what: string) => string().required(`${what} is missing`);

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

/** A payment of a proposal, with the places of its journals and what it takes back of taxes. */
export interface RunPayment extends PlannedPayment {
  drafts: number[];
  taxes: TaxTakenBack[];
}
export interface PaymentRunDetail {
  bank: string;
  payments: RunPayment[];
  /** Whether they are made outside: no cheque is printed and no file made. */
  outside?: boolean;
}

/** Which company has discounts and exchange differences where one pays for another. */
export async function gainsSetting({
  tx,
}: Context): Promise<{ discountTo: GainsTo; differenceTo: GainsTo }> {
  const set = await readSetting<{ discountTo?: GainsTo; differenceTo?: GainsTo }>(
    tx,
    "payments.forAnother",
  );
  const read = (v: GainsTo | undefined): GainsTo => (v && GAINS_TO.includes(v) ? v : "owing");
  return { discountTo: read(set?.discountTo), differenceTo: read(set?.differenceTo) };
}

interface Place {
  company: { id: number; code: string; name: string; currency: string };
  bank: BankAccount;
  yearId: number;
  accounts: PaymentAccounts;
  rateIn(functional: string): (currency: string) => Conversion | null;
  /** Why there is no rate from one currency to another. */
  missingRate(from: string, to: string): Found;
}

/**
 * Bank account, period, accounts and rates of payments on a day; what is missing of them is said.
 */
export async function paymentPlace(
  context: Context,
  input: { company: string; bank: string; date: string; currencies?: readonly string[] },
): Promise<Result<Place>> {
  const { tx, masters } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const bank = await readBankAccount(tx, { code: input.bank });
  if (!bank) return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
  if (!isCalendarDate(input.date))
    return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
  const problems: Found[] = [];
  if (bank.companyId !== company.id && !masters.pair(company.code, bank.company))
    problems.push({
      code: "PAIR_MISSING",
      company: company.name,
      other: bank.companyName,
      field: "bank",
    });
  if (bank.companyId !== company.id && !context.may("post.payables", bank.company))
    problems.push({ code: "FORBIDDEN", what: `pay from ${bank.companyName}`, field: "bank" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= input.date && input.date <= p.end,
  );
  if (!period)
    problems.push({
      code: "PERIOD_MISSING",
      date: dateText(input.date),
      company: company.name,
      field: "date",
    });
  const purposes = {
    discountReceived: "discounts received",
    exchangeGain: "exchange gains",
    exchangeLoss: "exchange losses",
  } as const;
  for (const [purpose, words] of Object.entries(purposes))
    if (!masters.purposes[purpose as keyof typeof purposes])
      problems.push({ code: "PURPOSE_MISSING", purpose: words });
  if (problems.length > 0) return fail(...problems);
  const known = await ratesFor(
    tx,
    masters,
    [...(input.currencies ?? []), bank.currency].map((currency) => ({
      companies: [company.code, bank.company],
      currency,
      date: input.date,
    })),
  );
  const accounts: PaymentAccounts = {
    company: company.code,
    functional: company.currency,
    underWay: bank.underWayAccount,
    discount: masters.purposes.discountReceived!,
    exchangeGain: masters.purposes.exchangeGain!,
    exchangeLoss: masters.purposes.exchangeLoss!,
  };
  return ok({
    company,
    bank,
    yearId: period!.yearId,
    accounts,
    rateIn: (functional) => (currency) =>
      conversionOn(known, "spot", currency, functional, input.date),
    missingRate: (from, to) => rateProblem(known, "spot", from, to, input.date),
  });
}

/**
 * Why payments cannot simply be reversed: a cheque of theirs is out, and its bank account wants a
 * second person to look before it is cancelled. Null where nothing stands against it.
 */
export async function chequeToReview(
  { tx }: Context,
  payments: readonly number[],
): Promise<string | null> {
  const [cheque] = await rows<{ number: bigint; bank: string }>(
    tx,
    sql`select q.number, b.name as bank from cheque q
      join bank_account b on b.id = q.bank_account_id
      where q.payment_id = any(${arrayOf(payments)}::bigint[]) and q.state in ('printed',
      'cancelling') and b.cheque_cancelling = 'review' order by q.number limit 1`,
  );
  return cheque
    ? `Cheque ${cheque.number} is printed, and ${cheque.bank} wants a second person to look before one is cancelled; cancel the cheque first`
    : null;
}

/** What undoing a run means that has made payments. */
export const UNDO_PAYMENTS: Pick<RunKind, "reversing" | "reversed"> = {
  async reversing(context, { id, dayOf }) {
    const made = await rows<{
      id: bigint;
      number: string;
      status: string;
      journalId: bigint;
      date: string;
    }>(
      context.tx,
      sql`select d.id, d.number, d.status, p.journal_id as "journalId", j.date from payment p
        join document d on d.id = p.document_id join journal j on j.id = p.journal_id
        where p.run_id = ${id} order by d.id`,
    );
    const sent = made.find((m) => m.status === "sent" || m.status === "cleared");
    if (sent)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what:
          sent.status === "sent"
            ? `${sent.number} has gone to the bank; say there that it was rejected or recalled`
            : `${sent.number} is on a bank statement`,
      });
    const standing = made.filter((m) => m.status === "posted");
    const cheque = await chequeToReview(
      context,
      standing.map((m) => Number(m.id)),
    );
    if (cheque) return fail({ code: "RUN_STANDS_IN_WAY", what: cheque });
    await releaseItems(
      context,
      standing.map((m) => ({ id: Number(m.journalId), date: dayOf(Number(m.journalId)) })),
    );
    return ok({});
  },
  async reversed(context, { id, reason }) {
    const made = await rows<{ id: bigint }>(
      context.tx,
      sql`select d.id from payment p join document d on d.id = p.document_id
        where p.run_id = ${id} and d.status = 'posted'`,
    );
    await undonePayments(
      context,
      made.map((m) => Number(m.id)),
      "reversed",
      reason,
    );
  },
};

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
      const own = journalOfPayment(payment, params.date, taxes, accounts);
      const places = [drafts.length];
      if (bank.companyId === company.id) drafts.push(own);
      else {
        const pair = masters.pair(company.code, bank.company)!;
        const functional = payer.currency;
        const both = payForAnother(
          own,
          payment,
          {
            company: bank.company,
            functional,
            // What has no rate is left out of the plan.
            rate: rateIn(functional)(payment.currency)!,
            underWay: bank.underWayAccount,
            dueTo: pair.dueTo,
            dueFrom: pair.otherDueFrom,
          },
          accounts,
          gains.discountTo,
          gains.differenceTo,
        );
        places.push(drafts.length + 1);
        together.push(places);
        drafts.push(...both);
      }
      return { ...payment, drafts: places, taxes };
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
      blocks: [...blocks, ...transfers.blocks],
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
  posted: (context, run) =>
    postedPayments(
      context,
      run.id,
      run.proposal.detail as PaymentRunDetail,
      run.params.company,
      run.journals,
      run.approved,
    ),
  ...UNDO_PAYMENTS,
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

/**
 * What posting makes beyond the journals: payments with numbers, settled items, taxes taken back.
 */
export async function postedPayments(
  context: Context,
  runId: number | null,
  detail: PaymentRunDetail,
  payer: string,
  journals: readonly PostedJournal[],
  approved: boolean,
): Promise<Result<{ id: number; number: string }[]>> {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(payer)!;
  const bank = (await readBankAccount(tx, { code: detail.bank }, true))!;
  const { payments } = detail;
  if (payments.length === 0)
    return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to pay" });
  if (approved) {
    const [own] = await rows<{ name: string }>(
      tx,
      sql`select p.name from partner_bank b join partner p on p.id = b.partner_id
        where b.changed_by = ${person.id} and b.state = 'confirmed'
        and b.id = any(${arrayOf(payments.flatMap((p) => p.bankId ?? []))}::int[]) limit 1`,
    );
    if (own)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `You entered the bank account of ${own.name}, which this run pays to; somebody else has to approve it`,
      });
  }
  const cheques = new Map(
    runId === null
      ? []
      : (
          await rows<{ id: bigint; key: string; amount: bigint }>(
            tx,
            sql`select id, payment_key as key, amount from cheque
              where run_id = ${runId} and state = 'printed'`,
          )
        ).map((c) => [c.key, c]),
  );
  // What a second person has released gets its cheques afterwards: none carries a signature before.
  const unprinted =
    detail.outside || approved
      ? []
      : payments.filter((p) => p.method === "cheque" && cheques.get(p.key)?.amount !== p.amount);
  if (runId !== null && unprinted.length > 0)
    return fail({
      code: "RUN_STANDS_IN_WAY",
      what: `${unprinted.length === 1 ? `The cheque to ${unprinted[0]!.payee} is` : `${unprinted.length} cheques are`} not printed yet; print first, so that what is posted is what left the house`,
    });
  const heads = journals.filter((_, i) => payments.some((p) => p.drafts[0] === i));
  const info = new Map(
    (
      await rows<{ id: bigint; date: string; year: { id: number; name: string }; seq: bigint }>(
        tx,
        sql`select j.id, j.date, j.seq, json_build_object('id', y.id, 'name', y.name) as year
          from journal j join fiscal_year y on y.id = j.year_id
          where j.id = any(${arrayOf(heads.map((h) => h.id))}::bigint[])`,
      )
    ).map((i) => [Number(i.id), i]),
  );
  const journalOf = (p: RunPayment) => journals[p.drafts[0]!]!;
  const numbers = await takeNumbers(
    tx,
    payments.map((p) => ({ series: "payment", company, year: info.get(journalOf(p).id)!.year })),
  );
  const column = <T extends string | number | bigint | null>(
    pick: (p: RunPayment, i: number) => T,
  ) => arrayOf(payments.map(pick));
  const made = await rows<{ id: bigint; number: string }>(
    tx,
    sql`insert into document (kind, type, number, company_id, date, amount, currency, title, search,
      created_by, created_at, status)
        select 'payment', x.method, x.number, ${company.id}, x.date, x.amount, x.currency, x.title,
          lower(x.number || ' ' || x.title || ' ' || x.method), ${person.id}, ${now.toISOString()},
          'posted'
        from unnest(${column((_, i) => numbers[i]!.number)}::text[],
          ${column((p) => p.method)}::text[],
          ${column((p) => info.get(journalOf(p).id)!.date)}::date[],
          ${column((p) => p.amount)}::bigint[], ${column((p) => p.currency)}::char(3)[],
          ${column((p) => `Payment to ${p.payee}`.slice(0, 200))}::text[]) as x(number, method,
          date, amount, currency, title)
        returning id, number`,
  );
  const idOf = new Map(made.map((m) => [m.number, Number(m.id)]));
  const ids = payments.map((_, i) => idOf.get(numbers[i]!.number)!);
  await tx.execute(sql`
    insert into payment (document_id, run_id, bank_account_id, partner, payee, method, discount,
      iban, bic, account_number, routing, bank_country, holder, journal_id)
    select x.id, ${runId}::bigint, ${bank.id}, x.partner, x.payee, x.method, x.discount, x.iban,
      x.bic, x.number, x.routing, x.country, x.holder, x.journal
    from unnest(${arrayOf(ids)}::bigint[], ${column((p) => p.partner)}::text[],
      ${column((p) => p.payee)}::text[], ${column((p) => p.method)}::text[],
      ${column((p) => p.discount)}::bigint[], ${column((p) => p.iban)}::text[],
      ${column((p) => p.bic)}::text[], ${column((p) => p.number)}::text[],
      ${column((p) => p.routing)}::text[], ${column((p) => p.country)}::text[],
      ${column((p) => p.holder)}::text[], ${column((p) => journalOf(p).id)}::bigint[])
      as x(id, partner, payee, method, discount, iban, bic, number, routing, country, holder,
        journal)`);
  const taken = payments.flatMap((p, i) => p.items.map((t) => ({ ...t, payment: ids[i]! })));
  await tx.execute(sql`
    insert into payment_item (payment_id, item_id, taken, functional, discount, lost)
    select * from unnest(${arrayOf(taken.map((t) => t.payment))}::bigint[],
      ${arrayOf(taken.map((t) => t.item))}::bigint[],
      ${arrayOf(taken.map((t) => t.taken))}::bigint[],
      ${arrayOf(taken.map((t) => t.functional))}::bigint[],
      ${arrayOf(taken.map((t) => t.discount))}::bigint[],
      ${arrayOf(taken.map((t) => t.lost))}::bigint[])`);
  const left = await rows<{ id: bigint; journalId: bigint; left: bigint; leftFunctional: bigint }>(
    tx,
    sql`select id, journal_id as "journalId", left_amount as "left",
      left_functional as "leftFunctional" from open_item
      where journal_id = any(${arrayOf(heads.map((h) => h.id))}::bigint[]) and area = 'payables'
      and kind = 'payment'`,
  );
  const leftOf = new Map<number, typeof left>();
  for (const l of left)
    leftOf.set(Number(l.journalId), [...(leftOf.get(Number(l.journalId)) ?? []), l]);
  await settleTogether(
    context,
    "payment",
    payments
      .filter((p) => p.items.length > 0)
      .map((p) => {
        const head = journalOf(p);
        const own = leftOf.get(head.id) ?? [];
        return {
          companyId: company.id,
          date: info.get(head.id)!.date,
          journalId: head.id,
          lines: [
            ...p.items.map((t) => ({ item: t.item, amount: t.taken, functional: t.functional })),
            ...own.map((l) => ({
              item: Number(l.id),
              amount: minor(l.left),
              functional: minor(l.leftFunctional),
            })),
          ],
        };
      }),
  );
  await takeTaxesBack(
    context,
    company.id,
    payments.map((p, i) => ({
      id: ids[i]!,
      journal: {
        id: journalOf(p).id,
        seq: info.get(journalOf(p).id)!.seq,
        date: info.get(journalOf(p).id)!.date,
      },
      payment: p,
    })),
  );
  await documentLinks(
    tx,
    "made",
    payments.flatMap((p, i) => p.drafts.map((d) => [ids[i]!, journals[d]!.id] as const)),
  );
  if (runId !== null)
    await documentLinks(
      tx,
      "made",
      ids.map((id) => [runId, id] as const),
    );
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind) select distinct i.document_id,
      t.payment_id, 'paid' from payment_item t join open_item i on i.id = t.item_id
      where t.payment_id = any(${arrayOf(ids)}::bigint[]) on conflict do nothing`,
  );
  const printed = payments.flatMap((p, i) => {
    const c = p.method === "cheque" ? cheques.get(p.key) : undefined;
    return c ? [{ cheque: c.id, payment: ids[i]! }] : [];
  });
  if (printed.length > 0)
    await tx.execute(
      sql`update cheque c set payment_id = x.payment
        from unnest(${arrayOf(printed.map((p) => p.cheque))}::bigint[],
        ${arrayOf(printed.map((p) => p.payment))}::bigint[]) as x(id, payment) where c.id = x.id`,
    );
  // From here on what is left of the items keeps them apart; a part that stays can be paid by
  // another run.
  if (runId !== null) await tx.execute(sql`delete from run_reservation where run_id = ${runId}`);
  return ok(payments.map((_, i) => ({ id: ids[i]!, number: numbers[i]!.number })));
}

/**
 * Records what discounts took back of taxes, negative beside those of the invoices: one query,
 * whatever their number.
 */
async function takeTaxesBack(
  { tx }: Context,
  companyId: number,
  made: readonly {
    id: number;
    journal: { id: number; seq: bigint; date: string };
    payment: RunPayment;
  }[],
): Promise<void> {
  const taken = made.flatMap(({ id, journal, payment }) =>
    payment.taxes.map((t) => ({
      id,
      journal,
      tax: t,
      base: -t.functionalBase,
      amount: -t.functionalTax,
    })),
  );
  if (taken.length === 0) return;
  const column = <T extends string | number | bigint>(pick: (t: (typeof taken)[number]) => T) =>
    arrayOf(taken.map(pick));
  await tx.execute(sql`
    insert into tax_record (company_id, document_id, journal_id, seq, tax_code, percent, rate_from,
      tax_date, return_line, account, owed_account, currency, base, tax, recoverable,
      functional_base, functional_tax)
    select ${companyId}, x.payment, x.journal, x.seq, r.tax_code, r.percent, r.rate_from, x.day,
      r.return_line, r.account, r.owed_account, r.currency, x.base, x.tax, x.recoverable,
      x.functional_base, x.functional_tax
    from unnest(${column((t) => t.id)}::bigint[], ${column((t) => t.journal.id)}::bigint[],
      ${column((t) => t.journal.seq)}::bigint[], ${column((t) => t.journal.date)}::date[],
      ${column((t) => t.tax.item)}::bigint[], ${column((t) => t.tax.code)}::text[],
        ${column((t) => -t.tax.base)}::bigint[], ${column((t) => -t.tax.tax)}::bigint[],
          ${column((t) => -t.tax.recoverable)}::bigint[], ${column((t) => t.base)}::bigint[],
          ${column((t) => t.amount)}::bigint[]) as x(payment, journal, seq, day, item, code, base,
          tax, recoverable, functional_base, functional_tax)
      join lateral (select t.* from tax_record t join open_item i on i.document_id = t.document_id
        where i.id = x.item and t.tax_code = x.code order by t.id limit 1) r on true`);
}

/**
 * What undoing payments means beyond their journals, which are reversed before: their state,
 * cheques that are worth nothing any more, taxes that count again.
 */
export async function undonePayments(
  { tx, person, now }: Context,
  ids: readonly number[],
  status: "reversed" | "rejected" | "recalled" | "cancelled",
  reason: string,
): Promise<void> {
  const list = arrayOf(ids);
  await tx.execute(sql`update document set status = ${status} where id = any(${list}::bigint[])`);
  await tx.execute(
    sql`update payment set reason = ${reason} where document_id = any(${list}::bigint[])`,
  );
  await tx.execute(
    sql`update cheque set state = 'cancelled', reason = ${reason}, decided_by = ${person.id},
      decided_at = ${now.toISOString()} where payment_id = any(${list}::bigint[])
      and state in ('printed', 'cancelling')`,
  );
  await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code,
    percent, rate_from, tax_date, return_line, account, owed_account, currency, base, tax,
    recoverable, functional_base, functional_tax)
    select r.company_id, r.document_id, v.id, v.seq, r.tax_code, r.percent, r.rate_from, v.date,
      r.return_line, r.account, r.owed_account, r.currency, -r.base, -r.tax, -r.recoverable,
      -r.functional_base, -r.functional_tax
    from tax_record r join journal v on v.reverses_id = r.journal_id
      where r.document_id = any(${list}::bigint[])`);
}
