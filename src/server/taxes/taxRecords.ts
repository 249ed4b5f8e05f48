import { inArray, sql } from "drizzle-orm";
import { taxAccounts, type TaxDirection } from "@/core/taxes";
import type { CalendarDate, Minor } from "@/core/shared";
import { arrayOf, insertAll, schema, type Db } from "../db";
import type { WhenReversed } from "../ledger";

/** A tax of a paper, by code: what it was computed from, in minor units of its currency. */
export interface TaxToRecord {
  code: string;
  percent: string;
  /** The day from which the rate holds. */
  from: CalendarDate;
  base: Minor;
  tax: Minor;
  /** What of it can be recovered; nil on sales. */
  recoverable: Minor;
  returnLine: string;
}

export interface TaxedDocument {
  id: number;
  companyId: number;
  direction: TaxDirection;
  /** The journal that books its taxes. */
  journal: { id: number; seq: bigint };
  date: CalendarDate;
  /** A chosen day of the period in which it is reported; null for the first that takes it. */
  reportedOn: CalendarDate | null;
  currency: string;
  /** −1 for credit notes. */
  sign: 1n | -1n;
  /** An amount of the document in functional currency. */
  functional: (amount: Minor) => Minor;
}

/**
 * Keeps what the taxes of documents were computed from: code, rate, the day by which that was
 * chosen, and the accounts on which it is booked, whatever becomes of the code.
 */
export async function recordTaxes(
  tx: Db,
  taxed: readonly { document: TaxedDocument; taxes: readonly TaxToRecord[] }[],
): Promise<void> {
  const wanted = [...new Set(taxed.flatMap((t) => t.taxes.map((x) => x.code)))];
  if (wanted.length === 0) return;
  const codes = await tx.select().from(schema.taxCode).where(inArray(schema.taxCode.code, wanted));
  const accounts = new Map(codes.map((c) => [c.code, c]));
  await insertAll(
    tx,
    schema.taxRecord,
    taxed.flatMap(({ document, taxes }) =>
      taxes.map((t) => recordOf(document, t, accounts.get(t.code)!)),
    ),
  );
}

function recordOf(
  {
    id,
    companyId,
    direction,
    journal,
    date,
    reportedOn,
    currency,
    sign,
    functional,
  }: TaxedDocument,
  t: TaxToRecord,
  code: typeof schema.taxCode.$inferSelect,
) {
  const { kind, account: deducted, owedAccount: owed } = code;
  const { account, owedAccount } = taxAccounts({
    direction,
    kind,
    account: deducted,
    owedAccount: owed,
  });
  return {
    companyId,
    documentId: id,
    journalId: journal.id,
    seq: journal.seq,
    direction,
    taxCode: t.code,
    percent: t.percent,
    rateFrom: t.from,
    taxDate: date,
    // Where none is chosen, the database finds the first period that takes it.
    reportedOn: reportedOn as CalendarDate,
    returnLine: t.returnLine,
    account,
    owedAccount,
    currency,
    base: sign * t.base,
    tax: sign * t.tax,
    recoverable: sign * t.recoverable,
    functionalBase: sign * functional(t.base),
    functionalTax: sign * functional(t.tax),
  };
}

const COPIED = sql`company_id, document_id, journal_id, seq, direction, tax_code, percent, rate_from,
  tax_date, return_line, account, owed_account, currency, base, tax, recoverable, functional_base,
  functional_tax`;

/**
 * Takes back the taxes of journals that are reversed: each record by one with the opposite amounts,
 * of the journal that reverses it.
 */
export const takeBackTaxes: WhenReversed = ({ tx }, reversals) =>
  tx.execute(sql`insert into tax_record (${COPIED})
    select r.company_id, r.document_id, v.id, v.seq, r.direction, r.tax_code, r.percent, r.rate_from,
      v.date, r.return_line, r.account, r.owed_account, r.currency, -r.base, -r.tax, -r.recoverable,
      -r.functional_base, -r.functional_tax
    from journal v join tax_record r on r.journal_id = v.reverses_id
    where v.id = any(${arrayOf(reversals)}::bigint[])`);

/** A part of a tax that a discount takes back: of which item and code, and how much. */
export interface TaxTakenBackOf {
  item: number;
  code: string;
  base: Minor;
  tax: Minor;
  recoverable: Minor;
  functionalBase: Minor;
  functionalTax: Minor;
  /** The payment with which it is taken back, and its journal. */
  payment: number;
  journal: { id: number; seq: bigint; date: CalendarDate };
}

/** Takes back parts of taxes with the payments that take discounts, at the rate of their records. */
export async function takeBackParts(
  tx: Db,
  companyId: number,
  parts: readonly TaxTakenBackOf[],
): Promise<void> {
  if (parts.length === 0) return;
  const column = <T extends string | number | bigint>(pick: (t: TaxTakenBackOf) => T) =>
    arrayOf(parts.map(pick));
  await tx.execute(sql`
    insert into tax_record (${COPIED})
    select ${companyId}, x.payment, x.journal, x.seq, r.direction, r.tax_code, r.percent,
      r.rate_from, x.day, r.return_line, r.account, r.owed_account, r.currency, x.base, x.tax,
      x.recoverable, x.functional_base, x.functional_tax
    from unnest(${column((t) => t.payment)}::bigint[], ${column((t) => t.journal.id)}::bigint[],
      ${column((t) => t.journal.seq)}::bigint[], ${column((t) => t.journal.date)}::date[],
      ${column((t) => t.item)}::bigint[], ${column((t) => t.code)}::text[],
      ${column((t) => -t.base)}::bigint[], ${column((t) => -t.tax)}::bigint[],
      ${column((t) => -t.recoverable)}::bigint[], ${column((t) => -t.functionalBase)}::bigint[],
      ${column((t) => -t.functionalTax)}::bigint[]) as x(payment, journal, seq, day, item, code,
        base, tax, recoverable, functional_base, functional_tax)
    join lateral (select t.* from tax_record t join open_item i on i.document_id = t.document_id
      where i.id = x.item and t.tax_code = x.code order by t.id limit 1) r on true`);
}
