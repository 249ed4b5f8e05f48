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
import { itemStates, nearly } from "../desk/deskFacts";
import { readLateRates } from "./lateRates";
import type { LettersParams, LettersPlace } from "./letterPlace";
import { REMINDERS } from "./procedures";
import { remindedItems } from "./reminded";

interface Customer {
  code: string;
  name: string;
  group: string;
  blocked: string;
}

/** An open item with what was reminded of it. */
interface OpenItem extends RemindableItem {
  reference: string;
}

/** What few items have, with amounts as text. */
interface Told {
  disputed: string;
  promised: string;
  promisedFor: CalendarDate | null;
  level: number | null;
  remindedOn: CalendarDate | null;
  interestTo: CalendarDate | null;
  charge: boolean | null;
}

interface Owing {
  customer: Customer;
  items: OpenItem[];
}

/** What an item of a run of letters keeps for its letter; amounts as text, in minor units. */
export type LetterDetail = { partner: string } & (
  | { item: number; level: number; amount: string; interest: string }
  | { charge: "fee" | "interest"; invoiced: boolean }
);

/** What these customers owe, in their order. What few items have comes in one piece, or not at all. */
async function owedBy(
  tx: Db,
  { company, on }: LettersPlace,
  what: LettersParams["what"],
  customers: readonly string[],
): Promise<Owing[]> {
  const found = await rows<{
    id: bigint;
    partner: string;
    reference: string;
    due: CalendarDate;
    left: bigint;
    functional: bigint | null;
    told: string | null;
  }>(
    tx,
    sql`select i.id, i.partner, i.reference, i.due_date as due, i.left_amount as "left",
        nullif(i.left_functional, i.left_amount) as functional,
        case when i.disputed > 0 or i.promised > 0 or r.item_id is not null or c.charge
          then jsonb_build_object('disputed', i.disputed::text, 'promised', i.promised::text,
            'promisedFor', case when i.promised > 0 then i.promised_for end, 'level', r.level,
            'remindedOn', r.on, 'interestTo', r.interest_to, 'charge', c.charge)::text
          end as told
      from (${itemStates(company.id, on, customers)}
          ${what === "reminder" ? sql`and (i.due_date < ${on} or i.left_amount < 0)` : sql``}) i
        left join (${remindedItems(company.id, customers)}) r on r.item_id = i.id
        left join (select distinct sale_id, true as charge from customer_letter
            where company_id = ${company.id} and ${nearly(sql`partner`, customers)}
              and sale_id is not null) c
          on c.sale_id = i.document_id
      order by i.due_date, i.id`,
  );
  const partners = await rows<Customer>(
    tx,
    sql`select p.code, p.name, p.customer_group as "group", case when p.blocks ? 'reminders' then
        'blocked for reminders' || case when p.block_reason = '' then '' else ': ' || p.block_reason end
        else '' end as blocked
      from partner p where p.code = any(${arrayOf(customers)}::text[])`,
  );
  const byCode = new Map(partners.map((customer) => [customer.code, customer]));
  const own = new Map(
    customers.map((code): [string, Owing] => [code, { customer: byCode.get(code)!, items: [] }]),
  );
  for (const f of found) {
    const told = f.told === null ? null : (JSON.parse(f.told) as Told);
    own.get(f.partner)!.items.push({
      id: Number(f.id),
      reference: f.reference,
      due: f.due,
      left: minor(f.left),
      functional: minor(f.functional ?? f.left),
      disputed: minor(BigInt(told?.disputed ?? 0)),
      promised: minor(BigInt(told?.promised ?? 0)),
      promisedFor: told?.promisedFor ?? null,
      level: told?.level ?? 0,
      remindedOn: told?.remindedOn ?? null,
      interestTo: told?.interestTo ?? null,
      charge: told?.charge ?? false,
    });
  }
  return [...own.values()];
}

/** The items that a run of letters has of these customers, in their order. */
export async function letterItems(
  { tx }: Context,
  place: LettersPlace,
  params: LettersParams,
  customers: readonly string[],
  dropped: ReadonlySet<string>,
): Promise<RunItem[]> {
  const owing = await owedBy(tx, place, params.what, customers);
  if (params.what === "statement")
    return owing.flatMap(({ customer, items }) => items.map((i) => stated(customer, i, place.on)));
  const procedureOf = await REMINDERS.byGroup(tx);
  const rates = await readLateRates(tx);
  return owing.flatMap((of) => {
    const procedure = procedureOf(of.customer.group);
    return reminded(of, place, { procedure, rates, dropped });
  });
}

const groupOf = ({ code, name }: Customer): string => `${code} ${name}`;

function stated(customer: Customer, item: OpenItem, on: CalendarDate): RunItem {
  const days = daysBetween(item.due, on);
  const detail: LetterDetail = {
    partner: customer.code,
    item: item.id,
    level: 0,
    amount: String(item.left),
    interest: "0",
  };
  return {
    key: `${item.id}|statement`,
    takes: false,
    label: item.reference,
    group: groupOf(customer),
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

function reminded({ customer, items }: Owing, place: LettersPlace, of: Reminding): RunItem[] {
  const { currency } = place.company;
  const { procedure, rates, dropped } = of;
  const group = groupOf(customer);
  const keyOf = (i: OpenItem) => `${i.id}|${i.left > 0n ? i.level + 1 : 0}`;
  const reminder = remind(items, {
    on: place.on,
    currency,
    procedure,
    rates,
    blocked: customer.blocked,
    dropped: new Set(
      dropped.size === 0 ? [] : items.filter((i) => dropped.has(keyOf(i))).map((i) => i.id),
    ),
    minimum: procedureAmount(procedure.minimum, currency),
    fees: procedure.levels.map((l) => procedureAmount(l.fee, currency)),
  });
  return [
    ...reminder.items.map((r, n): RunItem => {
      const item = items[n]!;
      const detail: LetterDetail = {
        partner: customer.code,
        item: r.id,
        level: r.level,
        amount: String(r.amount),
        interest: String(r.interest),
      };
      return {
        key: keyOf(item),
        ...(item.left > 0n ? {} : { takes: false as const }),
        label: item.reference,
        group,
        amount: r.functional,
        why: r.why,
        droppable: true,
        ...(r.leftOut === null ? {} : { leftOut: r.leftOut }),
        detail,
      };
    }),
    ...charges(customer, reminder, procedure.invoiced),
  ];
}

/** Fee and interest of a letter, which can be left out by hand. */
function charges(of: Customer, reminder: Reminder, invoiced: boolean): RunItem[] {
  const { level, fee, interest, rateMissing } = reminder;
  const one = (charge: "fee" | "interest", label: string, amount: Minor): RunItem => {
    const detail: LetterDetail = { partner: of.code, charge, invoiced };
    return {
      key: `${charge} ${of.code}`,
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
