import { sql } from "drizzle-orm";
import { nextBankDay } from "@/core/banks";
import { expectedDays, type CashFlow, type PayingHabit } from "@/core/cash";
import { conversionOn, convertBy, type Conversion } from "@/core/rates";
import { addDays, dateText, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { inPaymentRuns, instalments, recurringToCome } from "../payables";
import { ordersToPay } from "../purchasing";
import { newestRates } from "../rates";
import { monthlyToPay } from "./monthlyPayments";
import { taxesToPay } from "./taxesToPay";

/** Money that is expected, with what it is and where it stands. */
export interface ExpectedFlow extends CashFlow {
  company: string;
  partner: string;
  partnerName: string;
  /** Its number, or what people know it by. */
  what: string;
  /** The document behind it; null where it is what stands on an account. */
  document: { id: number; kind: string } | null;
  /** The ledger account on which it stands, where no document is behind it. */
  account?: string;
  /** As it is owed: minor units of its own currency, signed like the flow. */
  owed: Minor;
  currency: string;
  why: string;
}

export interface CompanyOfCash {
  id: number;
  code: string;
  currency: string;
}

interface ItemRow {
  id: bigint;
  area: string;
  partner: string;
  partnerName: string;
  reference: string;
  documentId: bigint;
  documentKind: string;
  number: string | null;
  due: string;
  left: bigint;
  currency: string;
  held: boolean;
}

/**
 * Everything that is expected of a company up to a day, in one currency: open items, what is under
 * way, orders, recurring invoices, taxes, what is paid monthly. What is held back is not expected.
 * `missing` are the currencies of what no rate is known for; it is left out. Nothing moves on a day on
 * which banks do not pay.
 */
export async function expectedFlows(
  context: Context,
  company: CompanyOfCash,
  into: string,
  upTo: CalendarDate,
): Promise<{ flows: ExpectedFlow[]; missing: string[] }> {
  const { today } = context;
  const habits = await payingHabits(context, company.id);
  const inRuns = await inPaymentRuns(context, company.id);
  const items = (await openItems(context, company.id)).filter((i) => !i.held);
  const found: Omit<ExpectedFlow, "amount">[] = items.map((i) => ({
    ...ofItem(i, habits.get(i.partner), inRuns.get(Number(i.id)), today),
    company: company.code,
    partner: i.partner,
    partnerName: i.partnerName,
    // What is under way is known by its payment, not by the run that made several.
    what: (i.area === "transit" ? i.reference : i.number) || (i.number ?? i.reference),
    document: { id: Number(i.documentId), kind: i.documentKind },
    // Receivables are positive and payables negative; so is what is under way to the payee.
    owed: minor(i.left),
    currency: i.currency,
  }));
  for (const o of await ordersToPay(context, company.id))
    for (const part of instalments(o.terms, later(o.date, today), o.amount))
      found.push({
        ...on(later(part.due, addDays(today, 1))),
        source: "orders",
        why: `Ordered, expected ${dateText(o.date)}, and to be paid by the supplier's terms`,
        company: company.code,
        partner: o.partner,
        partnerName: "",
        what: o.number,
        document: { id: o.id, kind: "order" },
        owed: minor(-part.amount),
        currency: o.currency,
      });
  for (const r of await recurringToCome(context, company.id, upTo))
    found.push({
      ...on(later(r.due, addDays(today, 1))),
      source: "recurring invoices",
      why: "As much as last time, to be paid by the supplier's terms",
      company: company.code,
      partner: r.partner,
      partnerName: "",
      what: r.what,
      document: r.document,
      owed: minor(-r.amount),
      currency: r.currency,
    });
  found.push(...(await taxesToPay(context, company, upTo)));
  found.push(...(await monthlyToPay(context, company, upTo)));
  return inOneCurrency(context, found, into, await namesOf(context, found));
}

const on = (day: CalendarDate) => ({ early: day, usual: day, late: day });
const later = (a: CalendarDate, b: CalendarDate): CalendarDate => (a > b ? a : b);

/** When an open item is expected, and why then. */
function ofItem(
  item: ItemRow,
  habit: PayingHabit | undefined,
  run: { date: CalendarDate; run: string } | undefined,
  today: CalendarDate,
): Pick<ExpectedFlow, "source" | "early" | "usual" | "late" | "why"> {
  const next = addDays(today, 1);
  if (item.area === "transit")
    return {
      source: "under way",
      ...on(later(item.due, next)),
      why:
        item.due > next
          ? `A bill or note that is due ${dateText(item.due)}`
          : item.left > 0n
            ? "It is on its way to us, and no statement has it yet"
            : "It has left us, and no statement has it yet",
    };
  if (item.left > 0n && item.area === "receivables") {
    const { why, ...days } = expectedDays(item.due, habit, today);
    return { source: "receivables", ...days, why };
  }
  if (run)
    return {
      source: "payment runs",
      ...on(later(run.date, next)),
      why: `In the preview of ${run.run}, which pays on ${dateText(run.date)}`,
    };
  return {
    source: item.area === "receivables" ? "receivables" : "payables",
    ...on(later(item.due, next)),
    why: `Due ${dateText(item.due)}${item.due < next ? ": as soon as possible" : ""}`,
  };
}

const openItems = ({ tx }: Context, companyId: number): Promise<ItemRow[]> =>
  rows<ItemRow>(
    tx,
    sql`select i.id, i.area, i.partner, coalesce(p.name, '') as "partnerName", i.reference,
        d.id as "documentId", d.kind as "documentKind", d.number, i.due_date as due,
        i.left_amount as "left", i.currency,
        i.area = 'payables' and (i.hold <> '' or coalesce(p.hold, '') <> '') as held
      from open_item i join document d on d.id = i.document_id
        left join partner p on p.code = i.partner
      where i.company_id = ${companyId} and i.left_amount <> 0
        and i.area in ('payables', 'receivables', 'transit') order by i.id`,
  );

/** How late each customer of a company has settled its items in the last year. */
async function payingHabits(
  { tx, today }: Context,
  companyId: number,
): Promise<Map<string, PayingHabit>> {
  const found = await rows<{ partner: string; settled: number; days: number[] }>(
    tx,
    sql`select x.partner, count(*)::int as settled, to_jsonb(percentile_disc(
        array[0.25, 0.5, 0.75]) within group (order by x.days)) as days
      from (select i.partner, max(a.date) - i.due_date as days
        from open_item i join allocation_line l on l.item_id = i.id
          join allocation a on a.id = l.allocation_id
            and not exists (select 1 from allocation u where u.undoes_id = a.id)
        where i.company_id = ${companyId} and i.area = 'receivables' and i.amount > 0
          and i.left_amount = 0 and a.undoes_id is null and a.date > ${today}::date - 366
        group by i.id, i.partner, i.due_date) x
      group by x.partner`,
  );
  return new Map(
    found.map(({ partner, settled, days: [early = 0, usual = 0, late = 0] }) => [
      partner,
      { settled, early, usual, late },
    ]),
  );
}

async function namesOf(
  { tx }: Context,
  found: readonly { partner: string; partnerName: string }[],
): Promise<Map<string, string>> {
  if (!found.some((f) => f.partnerName === "" && f.partner !== "")) return new Map();
  const names = await rows<{ code: string; name: string }>(tx, sql`select code, name from partner`);
  return new Map(names.map((n) => [n.code, n.name]));
}

async function inOneCurrency(
  { tx, today }: Context,
  found: readonly Omit<ExpectedFlow, "amount">[],
  into: string,
  names: ReadonlyMap<string, string>,
): Promise<{ flows: ExpectedFlow[]; missing: string[] }> {
  const rates = await newestRates(tx, [today]);
  const known = new Map<string, Conversion | null>();
  const rateOf = (currency: string): Conversion | null => {
    if (!known.has(currency))
      known.set(currency, conversionOn(rates, "spot", currency, into, today));
    return known.get(currency)!;
  };
  const missing = new Set<string>();
  const flows: ExpectedFlow[] = [];
  for (const f of found) {
    const rate = rateOf(f.currency);
    if (rate === null) missing.add(f.currency);
    else
      flows.push({
        ...f,
        early: nextBankDay(f.early, f.currency),
        usual: nextBankDay(f.usual, f.currency),
        late: nextBankDay(f.late, f.currency),
        partnerName: f.partnerName || (names.get(f.partner) ?? ""),
        amount: convertBy(f.owed, f.currency, into, rate),
      });
  }
  return { flows, missing: [...missing].sort() };
}
