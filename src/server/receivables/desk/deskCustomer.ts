import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { whatLowers } from "@/core/receivables";
import {
  addDays,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { remindedOf } from "../letters/reminded";
import { contactsOf, type PartnerContact } from "../../partners";
import { conversationWith, type Said } from "./conversation";
import { customerOf } from "./customerOf";
import { itemStates } from "./deskFacts";
import { ranked, type DeskRow } from "./desk";
import { policiesByGroup } from "./policies";

/** An open item of a customer, with what stands in the way of collecting it. */
export interface DeskItem {
  id: number;
  reference: string;
  kind: string;
  documentId: number;
  documentKind: string;
  date: CalendarDate;
  due: CalendarDate;
  currency: string;
  amount: Minor;
  left: Minor;
  leftFunctional: Minor;
  disputed: Minor;
  dispute: { id: number; reason: string; owner: string | null; by: CalendarDate | null } | null;
  promised: Minor;
  promisedFor: CalendarDate | null;
  /** Of a promise of it that was not kept: its day. */
  brokenOn: CalendarDate | null;
  /** The last reminder of it: its level, 0 for none, and its day. */
  level: number;
  remindedOn: CalendarDate | null;
  discount: { until: CalendarDate; percent: string } | null;
}

export interface DeskCustomer {
  row: DeskRow;
  lowers: { says: string; score: number }[];
  items: DeskItem[];
  limit: Minor | null;
  kept: number;
  promises: number;
  contacts: PartnerContact[];
  conversation: Said[];
  /** What it paid in the last two months, by day. */
  paid: { on: CalendarDate; amount: Minor }[];
  /** What was open at the end of each of twelve months, and what of it was overdue. */
  months: { month: string; open: Minor; overdue: Minor }[];
  /** What we owe it, where it is a supplier too. */
  owed: Minor;
}

export const deskCustomer = defineUseCase({
  name: "deskCustomer",
  kind: "read",
  rights: ["read.receivables"],
  what: "see the collections desk",
  company: (i) => i.company,
  schema: object({ company: string().required(), partner: string().required().max(60) }),
  run: async (context, input): Promise<Result<DeskCustomer>> => {
    const found = await customerOf(context, input);
    if (!found.ok) return found;
    const { company, partner, facts } = found.value;
    if (!facts) return fail({ code: "NOT_FOUND", what: "anything open of this customer" });
    const on = context.today;
    const policy = (await policiesByGroup(context))(facts.group);
    const of = { companyId: company.id, code: partner.code, on };
    return ok({
      row: ranked(facts, policy, company.currency),
      lowers: whatLowers(facts.facts, policy, company.currency),
      items: await itemsOf(context, of),
      limit: facts.limit,
      kept: facts.kept,
      promises: facts.promises,
      contacts: await contactsOf(context.tx, partner.id),
      conversation: await conversationWith(context, company, partner),
      paid: await paidBy(context, of),
      months: await monthsOf(context, of),
      owed: await owedTo(context, of),
    });
  },
});

interface Of {
  companyId: number;
  code: string;
  on: CalendarDate;
}

async function itemsOf({ tx }: Context, { companyId, code, on }: Of): Promise<DeskItem[]> {
  const found = await rows<{
    id: bigint;
    reference: string;
    kind: string;
    documentId: bigint;
    documentKind: string;
    date: CalendarDate;
    due: CalendarDate;
    currency: string;
    amount: bigint;
    left: bigint;
    leftFunctional: bigint;
    disputed: bigint;
    promised: bigint;
    promisedFor: CalendarDate | null;
    brokenOn: CalendarDate | null;
    level: number;
    remindedOn: CalendarDate | null;
    dispute: DeskItem["dispute"];
    discount: DeskItem["discount"];
  }>(
    tx,
    sql`select i.id, i.reference, i.kind, i.document_id as "documentId", k.kind as "documentKind",
      i.date, i.due_date as due, i.currency, i.amount, i.left_amount as "left",
      i.left_functional as "leftFunctional", s.disputed, s.promised, s.promised_for as "promisedFor",
      (select max(r.due) from promise r join promise_item q on q.promise_id = r.id
        where q.item_id = i.id and r.withdrawn_at is null and r.due < ${on}) as "brokenOn",
      (select json_build_object('id', d.id, 'reason', d.reason, 'owner', o.name, 'by', d."by")
        from dispute d left join person o on o.id = d.owner_id
        where d.item_id = i.id and d.outcome is null) as dispute,
      (select json_build_object('until', x->>'until', 'percent', x->>'percent')
        from jsonb_array_elements(i.discounts) x where x->>'until' >= ${on}
        order by x->>'until' limit 1) as discount,
      coalesce(m.level, 0) as level, m.on as "remindedOn"
      from (${itemStates(companyId, on, [code])}) s
        join open_item i on i.id = s.id join document k on k.id = i.document_id
        left join lateral (${remindedOf(sql`i.id`)}) m on true
      order by i.due_date, i.id limit 500`,
  );
  return found.map((f) => ({
    ...f,
    id: Number(f.id),
    documentId: Number(f.documentId),
    amount: minor(f.amount),
    left: minor(f.left),
    leftFunctional: minor(f.leftFunctional),
    disputed: minor(f.disputed),
    promised: minor(f.promised),
    promisedFor: f.promised > 0n ? f.promisedFor : null,
  }));
}

/** Days of money that came in are looked at for so long. */
const PAID_FOR = 62;

async function paidBy({ tx }: Context, { companyId, code, on }: Of): Promise<DeskCustomer["paid"]> {
  const found = await rows<{ on: CalendarDate; amount: bigint }>(
    tx,
    sql`select a.date as on, sum(l.functional)::bigint as amount
      from allocation_line l join allocation a on a.id = l.allocation_id
        join open_item i on i.id = l.item_id
      where i.company_id = ${companyId} and i.area = 'receivables' and i.partner = ${code}
        and i.kind = 'invoice' and a.date > ${addDays(on, -PAID_FOR)} and a.date <= ${on}
      group by a.date having sum(l.functional) > 0 order by a.date`,
  );
  return found.map((f) => ({ on: f.on, amount: minor(f.amount) }));
}

async function monthsOf(
  { tx }: Context,
  { companyId, code, on }: Of,
): Promise<DeskCustomer["months"]> {
  const found = await rows<{ month: string; open: bigint; overdue: bigint }>(
    tx,
    sql`with month as (select to_char(m, 'YYYY-MM') as month,
          least((m + interval '1 month - 1 day')::date, ${on}::date) as ends
        from generate_series(date_trunc('month', ${on}::date) - interval '11 months',
          date_trunc('month', ${on}::date), interval '1 month') m),
      item as (select i.id, i.date, i.due_date, i.functional from open_item i
        where i.company_id = ${companyId} and i.area = 'receivables' and i.partner = ${code})
      select m.month, coalesce(sum(x.open), 0)::bigint as open,
        coalesce(sum(x.open) filter (where x.due_date < m.ends), 0)::bigint as overdue
      from month m left join lateral (select i.due_date, i.functional - coalesce((
          select sum(l.functional) from allocation_line l join allocation a on a.id = l.allocation_id
          where l.item_id = i.id and a.date <= m.ends), 0) as open
        from item i where i.date <= m.ends) x on true
      group by m.month order by m.month`,
  );
  return found.map((f) => ({
    month: f.month,
    open: minor(f.open),
    overdue: minor(f.overdue),
  }));
}

async function owedTo({ tx }: Context, { companyId, code }: Of): Promise<Minor> {
  const [found] = await rows<{ owed: bigint }>(
    tx,
    sql`select coalesce(-sum(left_functional), 0)::bigint as owed from open_item
      where company_id = ${companyId} and area = 'payables' and partner = ${code}`,
  );
  return minor(found!.owed);
}
