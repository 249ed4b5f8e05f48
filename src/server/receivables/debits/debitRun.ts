import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import { bankDayBefore, bankHoliday, receiptJournal, type SettledItem } from "@/core/banks";
import { controlAccountOf } from "@/core/ledger";
import { convertBy } from "@/core/rates";
import { proposeDebits, type DebitedItem, type PlannedDebit } from "@/core/receivables";
import type { RunItem } from "@/core/runs";
import { dateText, fail, isCalendarDate, minor, ok, type Minor } from "@/core/shared";
import type { TaxTakenBack } from "@/core/taxes";
import type { Context } from "../../access";
import { moneyPlace, readBankAccount } from "../../banks";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { documentLinks, takeNumbers } from "../../documents";
import { loadPeriods, readCompanies } from "../../organisation";
import { releaseItems as openAgain } from "../../openItems";
import { defineRunKind, releaseItems } from "../../runs";
import { taxesOfItems } from "../../taxes";
import type { LetterDetail } from "../letters/letterItems";
import { keepReceipts } from "../receipts/keepReceipts";
import { itemsToDebit, keyOf } from "./debitItems";
import { mandatesOf } from "./mandateFacts";

/** A direct debit of a proposal, with what posting it needs. */
export interface RunDebit extends Omit<PlannedDebit, "takes"> {
  name: string;
  /** The reference of its mandate. */
  reference: string;
  items: number;
  /** The place of its journal. */
  draft: number;
  settles: SettledItem[];
  settling: number;
  taxes: TaxTakenBack[];
}

export interface DebitRunDetail {
  bank: string;
  debits: RunDebit[];
}

/**
 * Debits customers by their mandates for what is due: a receipt each, whose money is under way until
 * the bank's line takes it. Customers are told and the file is made once it is posted.
 */
export const debitRun = defineRunKind({
  id: "direct-debit",
  right: "post.receivables",
  approved: "by rules",
  schema: object({
    company: string().required(),
    bank: string().required("Choose the bank account"),
    date: string().required("The day is missing"),
    upTo: string().required("Say up to which due date"),
    customers: array(string().required()).max(5000).default([]),
  }),
  async propose(context, params, overrides, run) {
    const { tx, masters, today } = context;
    const place = await moneyPlace(context, params, "a direct debit");
    if (!place.ok) return place;
    const { company, bank, date, rate, accounts } = place.value;
    const against = await againstPlace(context, params);
    if (against) return fail(against);
    const fileBy = bankDayBefore(date, "EUR");
    const all = await mandatesOf(tx, company.id, date);
    const mandates = all.filter(
      (m) => params.customers.length === 0 || params.customers.includes(m.partner),
    );
    const found = await itemsToDebit(tx, {
      companyId: company.id,
      payers: mandates.map((m) => m.partner),
      holders: new Set(all.map((m) => m.partner)),
      on: date,
      run,
    });
    const dropped = new Set(overrides.dropped.map((key) => Number(key.split("|")[1])));
    const plan = proposeDebits(
      found.map((f) => f.plan),
      mandates,
      { on: date, upTo: params.upTo, today, dropped },
    );
    if (plan.items.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `item of a customer with a mandate that is due by ${dateText(params.upTo)}`,
        field: "upTo",
      });
    const items = new Map(found.map((f) => [f.item.id, f.item]));
    const mandateOf = new Map(mandates.map((m) => [m.partner, m]));
    const taxes = await taxesOfItems(
      tx,
      plan.debits.flatMap((d) => d.takes.flatMap((t) => (t.discount > 0n ? [t.item] : []))),
    );
    const planned = plan.debits.map((debit) => {
      const { name, reference } = mandateOf.get(debit.payer)!;
      return receiptJournal(
        {
          reference,
          title: `Direct debit from ${name}`,
          date,
          partner: debit.payer,
          payer: name,
          amount: debit.amount,
          currency: bank.currency,
          rate,
          takes: debit.takes.map(({ item, amount, discount }) => ({
            item: items.get(item)!,
            amount,
            discount,
            writtenOff: minor(0n),
            taxes: taxes.get(item),
          })),
          reason: "",
        },
        { ...accounts, receivables: controlAccountOf(masters, "receivables"), writeOff: "" },
      );
    });
    const debits = plan.debits.map(({ takes, ...debit }, i): RunDebit => {
      const { name, reference } = mandateOf.get(debit.payer)!;
      const { settles, settling, taxes: back } = planned[i]!;
      return {
        ...debit,
        name,
        reference,
        items: takes.length,
        draft: i,
        settles,
        settling,
        taxes: back,
      };
    });
    const draftOf = new Map(debits.map((d) => [d.payer, d.draft]));
    const own = (amount: Minor) => convertBy(amount, bank.currency, company.currency, rate);
    const total = minor(debits.reduce((t, d) => t + d.amount, 0n));
    return ok({
      company: company.code,
      yearId: place.value.year.id,
      date,
      title: `Direct debits of ${dateText(date)} to ${bank.name}, ${company.name}`.slice(0, 200),
      items: plan.items.map((i): RunItem => {
        const item = items.get(i.item)!;
        const { name, partner } = mandateOf.get(i.payer)!;
        const draft = draftOf.get(i.payer);
        return {
          key: keyOf(i.item),
          label:
            item.partner === partner ? item.reference : `${item.reference}, ${item.partnerName}`,
          group: `${partner} ${name}`,
          amount: own(minor(i.amount - i.discount)),
          why: i.why,
          droppable: true,
          detail: {
            partner,
            item: i.item,
            level: 0,
            amount: String(i.amount - i.discount),
            interest: "0",
          } satisfies LetterDetail,
          ...(i.leftOut === null ? {} : { leftOut: i.leftOut }),
          ...(draft === undefined || !isIn(i, dropped) ? {} : { drafts: [draft] }),
        };
      }),
      drafts: planned.map((p) => p.draft),
      warnings: [
        `The file has to be with the bank on ${dateText(fileBy)}: nothing is debited without it.`,
      ],
      figures: [{ label: "To debit", amount: own(total) }],
      detail: { bank: bank.code, debits } satisfies DebitRunDetail,
    });
  },
  async posted(context, { id, params, proposal, journals }) {
    const { tx, masters } = context;
    const { debits } = proposal.detail as DebitRunDetail;
    if (debits.length === 0)
      return fail({ code: "RUN_STANDS_IN_WAY", what: "Nobody is left in it to debit" });
    const company = masters.companyByCode.get(params.company)!;
    const bank = (await readBankAccount(tx, { code: params.bank }))!;
    const year = (await loadPeriods(tx, [company.id])).find(
      (p) => !p.adjustment && p.start <= params.date && params.date <= p.end,
    )!;
    const numbers = await takeNumbers(
      tx,
      debits.map(() => ({
        series: "receipt",
        company,
        year: { id: year.yearId, name: year.yearName },
      })),
    );
    const receipts = await keepReceipts(
      context,
      { company, bank, date: params.date },
      debits.map((d, i) => ({
        partner: d.payer,
        payer: d.name,
        amount: d.amount,
        number: numbers[i]!.number,
        title: `Direct debit from ${d.name}`,
        journal: journals[d.draft]!,
        settles: d.settles,
        settling: d.settling,
        taxes: d.taxes,
      })),
    );
    await insertAll(
      tx,
      schema.directDebit,
      debits.map((d, i) => ({
        receiptId: receipts[i]!,
        mandateId: d.mandate,
        runId: id,
        sequence: d.sequence,
      })),
    );
    await announce(context, id, company, debits);
    await documentLinks(
      tx,
      "made",
      receipts.map((receipt) => [id, receipt] as const),
    );
    // What is left of items keeps them apart from here on; a part that stays can be debited again.
    await releaseItems(tx, id);
    return ok({});
  },
  async reversing(context, { id, dayOf }) {
    const made = await rows<{ number: string; status: string; journal: bigint }>(
      context.tx,
      sql`select d.number, d.status, r.journal_id as journal
        from direct_debit x join receipt r on r.document_id = x.receipt_id
          join document d on d.id = x.receipt_id where x.run_id = ${id} order by d.id for update of d`,
    );
    const gone = made.find((m) => !["posted", "reversed"].includes(m.status));
    if (gone)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${gone.number} has gone to the bank: undo those that it does not carry out one by one`,
      });
    await openAgain(
      context,
      made
        .filter((m) => m.status === "posted")
        .map((m) => ({ id: Number(m.journal), date: dayOf(Number(m.journal)) })),
    );
    return ok({});
  },
  async reversed({ tx }, { id, reason }) {
    await tx.execute(sql`delete from customer_letter where run_id = ${id} and sent_at is null`);
    await tx.execute(
      sql`update direct_debit set reason = ${reason} where run_id = ${id} and reason = ''`,
    );
  },
});

/** The letters that tell customers of it: they wait to be sent. */
async function announce(
  { tx, today }: Context,
  run: number,
  company: { id: number; currency: string },
  debits: readonly RunDebit[],
): Promise<void> {
  await tx.execute(
    sql`insert into customer_letter (run_id, company_id, partner, kind, date, language, amount)
      select ${run}, ${company.id}, p.code, 'debit', ${today}, p.language,
        (select coalesce(sum(i.amount), 0) from run_item i where i.run_id = ${run}
          and i.state = 'in' and i.detail->>'partner' = p.code)
      from partner p where p.code = any(${arrayOf(debits.map((d) => d.payer))}::text[])`,
  );
}

const isIn = (i: DebitedItem, dropped: ReadonlySet<number>): boolean =>
  i.leftOut === null && !dropped.has(i.item);

/** What stands against debiting on a day, by an account; null where nothing does. */
async function againstPlace(
  { tx, today }: Context,
  params: { company: string; bank: string; date: string; upTo: string },
) {
  const against = (what: string, field: string) => ({ code: "INVALID" as const, what, field });
  if (!isCalendarDate(params.upTo))
    return { code: "DATE_INVALID" as const, text: params.upTo, field: "upTo" };
  const bank = (await readBankAccount(tx, { code: params.bank }))!;
  if (bank.currency !== "EUR" || bank.iban === "")
    return against("Direct debits are in euro: choose an account in euro with an IBAN", "bank");
  const closed = bankHoliday(params.date, "EUR");
  if (closed !== null) return against(`Banks do not debit on ${closed}`, "date");
  const fileBy = bankDayBefore(params.date, "EUR");
  if (fileBy < today)
    return against(`The file would have had to be with the bank on ${dateText(fileBy)}`, "date");
  const [creditor] = await readCompanies(tx, params.company);
  return creditor!.creditorId === ""
    ? against(`${creditor!.name} has no creditor identifier; enter it in Setup, Companies`, "bank")
    : null;
}
