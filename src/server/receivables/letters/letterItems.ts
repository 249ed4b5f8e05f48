import { sql } from "drizzle-orm";
import {
  procedureAmount,
  remind,
  type LateRate,
  type RemindableItem,
  type Reminder,
  type ReminderProcedure,
} from "@/core/receivables";
import type { RunItem } from "@/core/runs";
import { daysBetween, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows, type Db } from "../../db";
import { itemStates } from "../desk/deskFacts";
import { readLateRates } from "./lateRates";
import type { LettersParams, LettersPlace } from "./letterPlace";
import { REMINDERS } from "./procedures";
import { remindedItems } from "./reminded";

interface Customer {
  name: string;
  group: string;
  blocked: string;
}

/** An open item, with its customer and what was reminded of it. */
interface Found extends Customer {
  id: bigint;
  document: bigint;
  partner: string;
  reference: string;
  currency: string;
  due: CalendarDate;
  left: bigint;
  functional: bigint;
  disputed: bigint;
  promised: bigint;
  promisedFor: CalendarDate | null;
  level: number;
  remindedOn: CalendarDate | null;
  interestTo: CalendarDate | null;
  /** Whether it is a fee or interest itself. */
  charge: boolean;
}

/** What an item of a run of letters keeps for its letter; amounts as text, in minor units. */
export type LetterDetail = { partner: string } & (
  | { item: number; document: number; level: number; amount: string; interest: string }
  | { charge: "fee" | "interest"; invoiced: boolean }
);

async function itemsOf(
  tx: Db,
  { company, on }: LettersPlace,
  what: LettersParams["what"],
  customers: readonly string[],
): Promise<Found[]> {
  const found = await rows<Omit<Found, keyof Customer>>(
    tx,
    sql`select i.id, i.document_id as document, i.partner, i.reference, i.currency,
        i.due_date as due, i.left_amount as "left", i.left_functional as functional,
        i.disputed::bigint as disputed, i.promised, i.promised_for as "promisedFor",
        coalesce(r.level, 0) as level, r.on as "remindedOn", r.interest_to as "interestTo",
        c.sale_id is not null as charge
      from (${itemStates(company.id, on, customers)}
          ${what === "reminder" ? sql`and (i.due_date < ${on} or i.left_amount < 0)` : sql``}) i
        left join (${remindedItems(company.id, customers)}) r on r.item_id = i.id
        left join (select distinct sale_id from customer_letter where company_id = ${company.id}
            and partner = any(${arrayOf(customers)}::text[]) and sale_id is not null) c
          on c.sale_id = i.document_id
      order by i.due_date, i.id`,
  );
  const partners = await rows<Customer & { code: string }>(
    tx,
    sql`select p.code, p.name, p.customer_group as "group", case when p.blocks ? 'reminders' then
        'blocked for reminders' || case when p.block_reason = '' then '' else ': ' || p.block_reason end
        else '' end as blocked
      from partner p where p.code = any(${arrayOf(customers)}::text[])`,
  );
  const byCode = new Map(partners.map(({ code, ...of }) => [code, of]));
  const own = new Map<string, Found[]>(customers.map((code) => [code, []]));
  for (const f of found) own.get(f.partner)!.push({ ...f, ...byCode.get(f.partner)! });
  return [...own.values()].flat();
}

/** The items that a run of letters has of these customers, in their order. */
export async function letterItems(
  { tx }: Context,
  place: LettersPlace,
  params: LettersParams,
  customers: readonly string[],
  dropped: ReadonlySet<string>,
): Promise<RunItem[]> {
  const found = await itemsOf(tx, place, params.what, customers);
  if (params.what === "statement") return found.map((i) => stated(i, place.on));
  const procedureOf = await REMINDERS.byGroup(tx);
  const rates = await readLateRates(tx);
  const own = new Map<string, Found[]>();
  for (const item of found) {
    const before = own.get(item.partner);
    if (before) before.push(item);
    else own.set(item.partner, [item]);
  }
  return [...own.values()].flatMap((items) => {
    const procedure = procedureOf(items[0]!.group);
    return reminded(items, place, { procedure, rates, dropped });
  });
}

const groupOf = ({ partner, name }: Found): string => `${partner} ${name}`;

function stated(item: Found, on: CalendarDate): RunItem {
  const days = daysBetween(item.due, on);
  const detail: LetterDetail = {
    partner: item.partner,
    item: Number(item.id),
    document: Number(item.document),
    level: 0,
    amount: String(item.left),
    interest: "0",
  };
  return {
    key: `${item.id}|statement`,
    takes: false,
    label: item.reference,
    group: groupOf(item),
    amount: item.functional,
    why: days > 0 ? `${days} ${days === 1 ? "day" : "days"} overdue` : "not due yet",
    droppable: true,
    detail,
  };
}

interface Reminding {
  procedure: ReminderProcedure;
  rates: readonly LateRate[];
  dropped: ReadonlySet<string>;
}

function reminded(items: readonly Found[], place: LettersPlace, of: Reminding): RunItem[] {
  const { currency } = place.company;
  const { procedure, rates, dropped } = of;
  const keyOf = (i: Found) => `${i.id}|${i.left > 0n ? i.level + 1 : 0}`;
  const reminder = remind(items.map(remindable), {
    on: place.on,
    currency,
    procedure,
    rates,
    blocked: items[0]!.blocked,
    dropped: new Set(items.filter((i) => dropped.has(keyOf(i))).map((i) => Number(i.id))),
    minimum: procedureAmount(procedure.minimum, currency),
    fees: procedure.levels.map((l) => procedureAmount(l.fee, currency)),
  });
  return [
    ...reminder.items.map((r, n): RunItem => {
      const item = items[n]!;
      const detail: LetterDetail = {
        partner: item.partner,
        item: r.id,
        document: Number(item.document),
        level: r.level,
        amount: String(r.amount),
        interest: String(r.interest),
      };
      return {
        key: keyOf(item),
        ...(item.left > 0n ? {} : { takes: false as const }),
        label: item.reference,
        group: groupOf(item),
        amount: r.functional,
        why: r.why,
        droppable: true,
        ...(r.leftOut === null ? {} : { leftOut: r.leftOut }),
        detail,
      };
    }),
    ...charges(items[0]!, reminder, procedure.invoiced),
  ];
}

/** Fee and interest of a letter, which can be left out by hand. */
function charges(of: Found, reminder: Reminder, invoiced: boolean): RunItem[] {
  const { level, fee, interest, rateMissing } = reminder;
  const one = (charge: "fee" | "interest", label: string, amount: Minor): RunItem => {
    const detail: LetterDetail = { partner: of.partner, charge, invoiced };
    return {
      key: `${charge} ${of.partner}`,
      takes: false,
      label,
      group: groupOf(of),
      amount,
      why: `Level ${level}${invoiced ? ", posted as an invoice" : ""}`,
      droppable: true,
      detail,
    };
  };
  return [
    ...(fee > 0n ? [one("fee", "Reminder fee", fee)] : []),
    ...(interest > 0n ? [one("interest", "Interest on late payment", interest)] : []),
    ...(rateMissing
      ? [
          {
            ...one("interest", "Interest on late payment", minor(0n)),
            leftOut: "the rate of some of these days is not known",
          },
        ]
      : []),
  ];
}

const remindable = (i: Found): RemindableItem => ({
  id: Number(i.id),
  due: i.due,
  left: minor(i.left),
  functional: minor(i.functional),
  disputed: minor(i.disputed),
  promised: minor(i.promised),
  promisedFor: i.promised > 0n ? i.promisedFor : null,
  level: i.level,
  remindedOn: i.remindedOn,
  interestTo: i.interestTo,
  charge: i.charge,
});
