import { credited } from "./credited";
import { sql, type SQL } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { ITEM_CONTROLS, type ItemControl } from "@/core/ledger";
import { AGED_FROM } from "@/core/openItems";
import {
  dayField,
  fail,
  isCalendarDate,
  minor,
  ok,
  readInstant,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadTurnover, seqAt } from "../ledger";
import { loadPeriods, loadYears } from "../organisation";

/** The areas whose items have an age: those of suppliers and customers. */
export type ItemArea = "payables" | "receivables";

/** The right to act on items of a kind: they belong to the area whose people work on them. */
export const rightOn = <Act extends "read" | "prepare" | "post">(
  act: Act,
  control: ItemControl,
): `${Act}.${(typeof ITEM_CONTROLS)[ItemControl]["area"]}` =>
  `${act}.${ITEM_CONTROLS[control].area}`;

export interface OpenItemRow {
  id: number;
  partner: string;
  partnerName: string;
  kind: string;
  documentId: number;
  documentKind: string;
  journalId: number;
  number: string;
  reference: string;
  date: CalendarDate;
  dueDate: CalendarDate;
  currency: string;
  /** Debit positive. */
  amount: Minor;
  left: Minor;
  leftFunctional: Minor;
  hold: string;
  /** What paying early earns: last day, per cent, and the amount of the whole item. */
  discounts: { until: CalendarDate; percent: string; amount: Minor }[];
  /** What open credit notes that correct it take off it; positive. */
  credited: Minor;
}

export interface AsOf {
  company: string;
  /** Items and allocations up to and including this day. */
  on: CalendarDate;
  /** Instant: what was known then. */
  asKnown?: string | undefined;
}

/** Items with what was left of them on a day, as known now or at an earlier instant. */
async function itemsOn(
  context: Context,
  area: ItemControl,
  companyId: number,
  { on, asKnown }: Pick<AsOf, "on" | "asKnown">,
  where: SQL,
  options: { settled: boolean; limit: number },
): Promise<OpenItemRow[]> {
  const seq = asKnown ? await seqAt(context.tx, companyId, readInstant(asKnown)!) : null;
  const taken = sql`(select coalesce(sum(l.amount), 0)::bigint as amount,
    coalesce(sum(l.functional), 0)::bigint as functional from allocation_line l
    join allocation a on a.id = l.allocation_id
    where l.item_id = i.id and a.date <= ${on} ${
      asKnown
        ? sql`and a.made_at <=
    ${readInstant(asKnown)!.toISOString()}`
        : sql``
    })`;
  const found = await rows<
    Omit<
      OpenItemRow,
      | "id"
      | "documentId"
      | "journalId"
      | "amount"
      | "left"
      | "leftFunctional"
      | "discounts"
      | "credited"
    > & {
      discounts: { until: CalendarDate; percent: string; amount: string }[];
      id: bigint;
      documentId: bigint;
      journalId: bigint;
      amount: bigint;
      left: bigint;
      leftFunctional: bigint;
      credited: bigint;
    }
  >(
    context.tx,
    sql`select * from (
          select i.id, i.partner, coalesce(p.name, i.partner) as "partnerName", i.kind,
            i.document_id as "documentId", d.kind as "documentKind", i.journal_id as "journalId", j.number, i.reference,
            i.date, i.due_date as "dueDate", i.currency, i.amount, i.amount - t.amount as "left",
            i.functional - t.functional as "leftFunctional", i.hold, i.discounts,
            ${credited} as credited
          from open_item i join journal j on j.id = i.journal_id
            join document d on d.id = i.document_id left join partner p on p.code = i.partner cross join lateral ${taken} t
          where i.company_id = ${companyId} and i.area = ${area}
            and i.date <= ${on} ${seq === null ? sql`` : sql`and i.seq <= ${seq}`} and ${where}) x
        ${options.settled ? sql`` : sql`where x."left" <> 0 or x."leftFunctional" <> 0`}
          order by x."dueDate", x.id limit ${options.limit}`,
  );
  return found.map((f) => ({
    ...f,
    id: Number(f.id),
    documentId: Number(f.documentId),
    journalId: Number(f.journalId),
    amount: minor(f.amount),
    left: minor(f.left),
    leftFunctional: minor(f.leftFunctional),
    credited: minor(f.credited),
    discounts: f.discounts.map((d) => ({ ...d, amount: minor(BigInt(d.amount)) })),
  }));
}

const MOST = 5000;
export const asOfSchema = {
  company: string().required(),
  area: string()
    .oneOf(["payables", "receivables"] as const)
    .required(),
  on: string().required(),
  asKnown: string(),
};

export function placeOf(
  context: Context,
  input: { company: string; area: ItemControl; on: string; asKnown?: string | undefined },
): Result<{ id: number; code: string; name: string; currency: string }> {
  const company = context.masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  if (!isCalendarDate(input.on)) return fail({ code: "DATE_INVALID", text: input.on, field: "on" });
  if (input.asKnown && !readInstant(input.asKnown))
    return fail({ code: "DATE_INVALID", text: input.asKnown, field: "asKnown" });
  return context.may(rightOn("read", input.area), company.code)
    ? ok(company)
    : fail({ code: "FORBIDDEN", what: `see ${input.area} of ${company.name}` });
}

/** Items of an area, those that are settled on wish, with what was left on a day. */
export const openItems = defineUseCase({
  name: "openItems",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.banks"],
  what: "see open items",
  company: (i) => i.company,
  schema: object({
    ...asOfSchema,
    area: string()
      .oneOf(Object.keys(ITEM_CONTROLS) as ItemControl[])
      .required(),
    partner: string(),
    /** Items that are due from this day on, and up to that; or of documents of such days. */
    dueFrom: dayField(),
    dueTo: dayField(),
    by: string().oneOf(AGED_FROM).default("due"),
    settled: boolean().default(false),
    limit: number().integer().min(1).max(MOST).default(MOST),
  }),
  run: async (context, input): Promise<Result<OpenItemRow[]>> => {
    const company = placeOf(context, input);
    if (!company.ok) return company;
    const day = input.by === "due" ? sql`i.due_date` : sql`i.date`;
    return ok(
      await itemsOn(
        context,
        input.area,
        company.value.id,
        input,
        sql`${input.partner === undefined ? sql`true` : sql`i.partner = ${input.partner}`}
          ${input.dueFrom ? sql`and ${day} >= ${input.dueFrom}` : sql``}
          ${input.dueTo ? sql`and ${day} <= ${input.dueTo}` : sql``}`,
        { settled: input.settled, limit: input.limit },
      ),
    );
  },
});

/** A day after all that is posted. */
export const EVER = "9999-12-31";

/**
 * What accounts stood at on a day in one currency: by the lines that leave items, for a line that
 * only carries a difference belongs to no currency. Debit positive.
 */
export async function foreignBalanceOn(
  { tx, masters }: Context,
  companyId: number,
  accountIds: readonly number[],
  currency: string,
  { on, asKnown }: Pick<AsOf, "on" | "asKnown">,
): Promise<bigint> {
  const seq = asKnown ? await seqAt(tx, companyId, readInstant(asKnown)!) : null;
  const [row] = await rows<{ net: bigint }>(
    tx,
    sql`select coalesce(sum(case when l.side = 'D' then l.foreign_amount
      else -l.foreign_amount end), 0)::bigint as net from journal_line l
        where l.company_id = ${companyId} and l.account_id = any(${arrayOf(accountIds)}::int[])
          and l.currency = ${currency} and l.date <= ${on} and l.book_id in (0,
          ${masters.mainBook!.id}) ${seq === null ? sql`` : sql`and l.seq <= ${seq}`}
          and exists (select 1 from open_item i
          where i.journal_id = l.journal_id and i.line_no = l.line_no)`,
  );
  return row!.net;
}

/**
 * What accounts stood at on a day: from the stored balances up to the last whole month, and the
 * lines since. Debit positive.
 */
export async function balanceOn(
  { tx, masters }: Context,
  companyId: number,
  accountIds: readonly number[],
  {
    on,
    asKnown,
    bookId = masters.mainBook!.id,
  }: Pick<AsOf, "on" | "asKnown"> & { /** The main one where none is said. */ bookId?: number },
): Promise<bigint> {
  const years = await loadYears(tx, [companyId]);
  const asKnownSeq = asKnown ? await seqAt(tx, companyId, readInstant(asKnown)!) : undefined;
  // With the adjustment periods: one lies on its year's last day, whole like any other.
  const periods = await loadPeriods(tx, [companyId], { areas: ["ledger"] });
  const whole = periods.filter((p) => p.end <= on).at(-1);
  const since = whole
    ? await loadTurnover(
        tx,
        {
          companyId,
          bookId,
          yearIds: [whole.yearId],
          upTo: { yearId: whole.yearId, no: whole.no },
          withClosing: true,
          accountIds,
          asKnownSeq,
        },
        masters,
        years,
      )
    : [];
  const [rest] = await rows<{ net: bigint }>(
    tx,
    sql`select coalesce(sum(case when l.side = 'D' then l.amount else -l.amount end),
      0)::bigint as net from journal_line l
        where l.company_id = ${companyId} and l.account_id = any(${arrayOf(accountIds)}::int[])
          and l.date <= ${on} ${whole ? sql`and l.date > ${whole.end}` : sql``} and l.book_id in (0, ${bookId}) ${
            asKnownSeq === undefined
              ? sql``
              : sql`and l.seq <=
          ${asKnownSeq}`
          }`,
  );
  return since.reduce((t, x) => t + x.debit - x.credit, 0n) + rest!.net;
}
