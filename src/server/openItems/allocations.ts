import { sql, type SQL } from "drizzle-orm";
import { array, number, object, string } from "yup";
import {
  settleMany,
  settlementDrafts,
  type AllocationLine,
  type ItemLeft,
  type Pairing,
} from "@/core/openItems";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, insertAll, rows, schema } from "../db";
import { defineUseCase, type Context, lockChains } from "../access";
import { dayProblems, firstOpenDay, ITEM_CONTROLS, type ItemControl } from "@/core/ledger";
import {
  dayOfReversal,
  linkJournals,
  loadPostingContext,
  postDrafts,
  reverseJournals,
} from "../ledger";
import { loadPeriods } from "../organisation";
import { rightOn } from "./openItems";

const JOURNAL_TYPE: Readonly<Record<ItemControl, string>> = {
  payables: "payment",
  receivables: "receipt",
  transit: "bank",
};

/**
 * The instant from which an allocation is known: now, but never before the newest journal of the
 * company's chain, so that it is known neither before its own journal nor before its items. To be
 * used once the journals are posted, in a query over the chain.
 */
const knownAt = (now: Date, chain: SQL = sql``): SQL =>
  sql`greatest(${now.toISOString()}::timestamptz, ${chain}last_posted_at)`;

interface Locked extends ItemLeft {
  companyId: number;
  area: ItemControl;
  date: CalendarDate;
  reference: string;
}

/**
 * Items for this transaction, with what is left of them. Their company's chain is held, so that no
 * other allocation takes the same.
 */
async function lockItems(
  { tx, masters }: Context,
  ids: readonly number[],
): Promise<Map<number, Locked>> {
  const companies = await rows<{ companyId: number }>(
    tx,
    sql`select distinct company_id as "companyId" from open_item where id = any(${arrayOf(ids)}::bigint[])`,
  );
  await lockChains(
    tx,
    companies.map((c) => masters.companyById.get(c.companyId)!.code),
  );
  const found = await rows<
    Omit<Locked, "id" | "left" | "leftFunctional"> & {
      id: bigint;
      left: bigint;
      leftFunctional: bigint;
    }
  >(
    tx,
    sql`select i.id, i.company_id as "companyId", i.area, a.number as account, i.partner,
      i.currency, i.left_amount as "left", i.left_functional as "leftFunctional", i.date,
      i.reference from open_item i join account a on a.id = i.account_id
      where i.id = any(${arrayOf(ids)}::bigint[]) order by i.id for update of i`,
  );
  return new Map(
    found.map((f) => [
      Number(f.id),
      { ...f, id: Number(f.id), left: minor(f.left), leftFunctional: minor(f.leftFunctional) },
    ]),
  );
}

/**
 * Sets items against each other, pair by pair, on a day, and posts what their values differ by to
 * exchange gain or loss.
 * All or nothing. Errors: those of `settle`, of posting, and for items that are not there.
 */
export async function allocate(
  context: Context,
  kind: string,
  date: CalendarDate,
  pairings: readonly Pairing[],
  options: { origin?: number; journalId?: number } = {},
): Promise<Result<{ id: number; journal: string | null }>> {
  const { tx, masters, person, now } = context;
  const items = await lockItems(
    context,
    pairings.flatMap((p) => [p.first, p.second]),
  );
  const of = items.get(pairings[0]?.first ?? -1);
  if (pairings.length === 0)
    return fail({ code: "INVALID", what: "Choose the items that settle each other" });
  if (!of || pairings.some((p) => !items.has(p.first) || !items.has(p.second)))
    return fail({ code: "NOT_FOUND", what: "such open item" });
  const all = [...items.values()];
  if (all.some((i) => i.companyId !== of.companyId || i.area !== of.area))
    return fail({
      code: "INVALID",
      what: "Items of several companies or areas cannot be set against each other",
    });
  if (all.some((i) => date < i.date))
    return fail({
      code: "INVALID",
      what: "An allocation lies on or after the days of its items",
      field: "date",
    });
  const settled = settleMany(items, pairings);
  if (!settled.ok) return settled;
  const company = masters.companyById.get(of.companyId)!;
  const drafts = settlementDrafts(settled.value.taken, {
    company,
    type: JOURNAL_TYPE[of.area],
    date,
    ...(options.origin === undefined ? {} : { origin: options.origin }),
    purposes: masters.purposes,
  });
  if (!drafts.ok) return drafts;
  if (drafts.value.length === 0 && options.journalId === undefined) {
    const shut = dayProblems(
      date,
      company,
      ITEM_CONTROLS[of.area].area,
      await loadPostingContext(context, [
        { company: company.code, date, type: JOURNAL_TYPE[of.area] },
      ]),
    );
    if (shut[0]) return fail(shut[0], ...shut.slice(1));
  }
  const posted = await postDrafts(context, drafts.value);
  if (!posted.ok) return posted;
  // Where several are needed the first one names the others, so that they are undone together.
  if (posted.value.length > 1)
    await linkJournals(
      tx,
      posted.value.map((p) => p.id),
    );
  const journal = posted.value[0] ?? null;
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
      select company_id, ${kind}, ${date}, seq, ${journal?.id ?? options.journalId ?? null}::bigint,
        ${person.id}, ${knownAt(now)} from chain where company_id = ${company.id} returning id`,
  );
  await storeLines(context, made!.id, settled.value.lines);
  return ok({ id: Number(made!.id), journal: journal?.number ?? null });
}

async function storeLines(
  { tx }: Context,
  allocationId: bigint,
  lines: readonly AllocationLine[],
): Promise<void> {
  await insertAll(
    tx,
    schema.allocationLine,
    lines.map((l) => ({
      allocationId: Number(allocationId),
      itemId: l.item,
      amount: l.amount,
      functional: l.functional,
    })),
  );
  const columns = sql`${arrayOf(lines.map((l) => l.item))}::bigint[],
    ${arrayOf(lines.map((l) => l.amount))}::bigint[],
    ${arrayOf(lines.map((l) => l.functional))}::bigint[]`;
  await tx.execute(
    sql`update open_item i set left_amount = i.left_amount - x.amount,
      left_functional = i.left_functional - x.functional from unnest(${columns}) as x(item, amount,
      functional) where i.id = x.item`,
  );
}

/**
 * Items that settle each other as a whole: the item that a payment's journal left, and what it took
 * of others.
 */
export interface SettledTogether {
  companyId: number;
  date: CalendarDate;
  journalId: number;
  lines: readonly AllocationLine[];
}

/**
 * Settles items that a journal was made for, many at once. What is taken has to come to nothing in
 * both currencies, for the journal carries every difference itself.
 * The companies' chains are held by whoever has posted the journals.
 */
export async function settleTogether(
  { tx, person, now }: Context,
  kind: string,
  groups: readonly SettledTogether[],
): Promise<void> {
  if (groups.length === 0) return;
  for (const g of groups)
    if (
      g.lines.reduce((t, l) => t + l.amount, 0n) !== 0n ||
      g.lines.reduce((t, l) => t + l.functional, 0n) !== 0n
    )
      throw new Error("items that do not settle each other");
  const made = await rows<{ id: bigint; journalId: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
      select x.company, ${kind}, x.date, c.seq, x.journal, ${person.id}, ${knownAt(now, sql`c.`)}
        from unnest(${arrayOf(groups.map((g) => g.companyId))}::int[],
          ${arrayOf(groups.map((g) => g.date))}::date[],
          ${arrayOf(groups.map((g) => g.journalId))}::bigint[]) as x(company, date, journal)
          join chain c on c.company_id = x.company returning id, journal_id as "journalId"`,
  );
  const idOf = new Map(made.map((m) => [Number(m.journalId), m.id]));
  const lines = groups.flatMap((g) =>
    g.lines.map((l) => ({ ...l, allocation: idOf.get(g.journalId)! })),
  );
  await insertAll(
    tx,
    schema.allocationLine,
    lines.map((l) => ({
      allocationId: Number(l.allocation),
      itemId: l.item,
      amount: l.amount,
      functional: l.functional,
    })),
  );
  await tx.execute(sql`update open_item i set left_amount = i.left_amount - x.amount,
    left_functional = i.left_functional - x.functional
    from (select item, sum(amount)::bigint as amount, sum(functional)::bigint as functional
      from unnest(${arrayOf(lines.map((l) => l.item))}::bigint[],
      ${arrayOf(lines.map((l) => l.amount))}::bigint[],
      ${arrayOf(lines.map((l) => l.functional))}::bigint[]) as y(item, amount, functional)
      group by item) x where i.id = x.item`);
}

/**
 * Takes back what journals have settled, so that they can be reversed: their items and the others
 * are open again, each from the day of its reversal.
 */
export async function releaseItems(
  { tx, person, now }: Context,
  journals: readonly { id: number; date: CalendarDate }[],
): Promise<void> {
  if (journals.length === 0) return;
  const made = await rows<{ id: bigint; undoes: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, undoes_id, made_by, made_at)
      select a.company_id, 'undone', x.date, c.seq, a.id, ${person.id}, ${knownAt(now, sql`c.`)}
        from unnest(${arrayOf(journals.map((j) => j.id))}::bigint[],
          ${arrayOf(journals.map((j) => j.date))}::date[]) as x(journal, date)
          join allocation a on a.journal_id = x.journal and a.kind not in ('undone', 'reversal')
          join chain c on c.company_id = a.company_id
        where not exists (select 1 from allocation u where u.undoes_id = a.id)
          returning id, undoes_id as undoes`,
  );
  const ids = arrayOf(made.map((m) => m.id));
  await tx.execute(
    sql`insert into allocation_line (allocation_id, item_id, amount, functional)
      select a.id, l.item_id, -l.amount, -l.functional from allocation a
      join allocation_line l on l.allocation_id = a.undoes_id where a.id = any(${ids}::bigint[])`,
  );
  await tx.execute(sql`update open_item i set left_amount = i.left_amount - x.amount,
    left_functional = i.left_functional - x.functional
    from (select l.item_id as item, sum(l.amount)::bigint as amount,
      sum(l.functional)::bigint as functional from allocation_line l
      where l.allocation_id = any(${ids}::bigint[]) group by 1) x where i.id = x.item`);
}

/** Sets open items of a partner against each other by hand. */
export const allocateItems = defineUseCase({
  name: "allocateItems",
  kind: "write",
  rights: ["post.payables", "post.receivables", "post.banks"],
  what: "settle open items",
  of: "checked",
  schema: object({
    date: string().required("A date is needed"),
    pairs: array(
      object({
        first: number().integer().required(),
        second: number().integer().required(),
        amount: string().default(""),
      }),
    )
      .required()
      .min(1, "Choose a debit and a credit")
      .max(2000),
  }),
  run: async (context, input): Promise<Result<{ id: number; journal: string | null }>> => {
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const [first] = await rows<{ area: ItemControl; company: string; currency: string }>(
      context.tx,
      sql`select i.area, c.code as company, i.currency from open_item i
        join company c on c.id = i.company_id where i.id = ${input.pairs[0]!.first}`,
    );
    if (!first) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("post", first.area), first.company))
      return fail({ code: "FORBIDDEN", what: `settle open items of ${first.company}` });
    const currencies = new Map(
      (
        await rows<{ id: bigint; currency: string }>(
          context.tx,
          sql`select id, currency from open_item
            where id = any(${arrayOf(input.pairs.map((p) => p.first))}::bigint[])`,
        )
      ).map((i) => [Number(i.id), i.currency]),
    );
    const pairs: Pairing[] = [];
    for (const p of input.pairs) {
      const currency = currencies.get(p.first) ?? first.currency;
      const reading = p.amount.trim() === "" ? null : readAmount(p.amount, currency);
      if (reading && !reading.ok)
        return fail({ code: "AMOUNT_NOT_NUMBER", text: p.amount, field: "amount" });
      pairs.push({
        first: p.first,
        second: p.second,
        ...(reading ? { amount: reading.amount } : {}),
      });
    }
    const done = await allocate(context, "by hand", input.date, pairs);
    if (done.ok)
      await context.audit({
        action: "settled",
        kind: "open items",
        recordId: done.value.id,
        companyId: context.masters.companyByCode.get(first.company)!.id,
        after: input,
      });
    return done;
  },
});

/**
 * Takes an allocation back: its items are open again, and the journal of its difference is
 * reversed.
 */
export const undoAllocation = defineUseCase({
  name: "undoAllocation",
  kind: "write",
  rights: ["post.payables", "post.receivables", "post.banks"],
  what: "undo settlements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, person, now, masters } = context;
    const [place] = await rows<{ companyId: number }>(
      tx,
      sql`select company_id as "companyId" from allocation where id = ${input.id}`,
    );
    if (!place) return fail({ code: "NOT_FOUND", what: "such settlement" });
    const company = masters.companyById.get(place.companyId)!;
    // Held before it is read: of two people who undo the same, the second finds it undone.
    await lockChains(tx, [company.code]);
    const [found] = await rows<{
      kind: string;
      date: string;
      journalId: bigint | null;
      undone: boolean;
      area: ItemControl;
      undoes: bigint | null;
    }>(
      tx,
      sql`select a.kind, a.date, a.journal_id as "journalId", a.undoes_id as undoes,
        exists (select 1 from allocation u where u.undoes_id = a.id) as undone,
            (select i.area from allocation_line l join open_item i on i.id = l.item_id
              where l.allocation_id = a.id limit 1) as area from allocation a
              where a.id = ${input.id}`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such settlement" });
    if (!context.may(rightOn("post", found.area), company.code))
      return fail({ code: "FORBIDDEN", what: `undo settlements of ${company.name}` });
    if (found.undone || found.undoes !== null)
      return fail({ code: "IN_USE", what: "This settlement is undone already" });
    if (found.kind === "netting") {
      const day = await dayOfReversal(context, Number(found.journalId));
      if (day === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: found.date });
      await releaseItems(context, [{ id: Number(found.journalId), date: day }]);
      const reversed = await reverseJournals(context, [Number(found.journalId)], day);
      if (!reversed.ok) return reversed;
      await context.audit({
        action: "undone",
        kind: "open items",
        recordId: input.id,
        companyId: company.id,
      });
      return ok({ id: input.id });
    }
    if (found.kind !== "by hand")
      return fail({ code: "IN_USE", what: `It came with a ${found.kind}; reverse that instead` });
    let journalId: number | null = null;
    let date = found.date;
    if (found.journalId !== null) {
      const reversed = await reverseJournals(context, [Number(found.journalId)], null);
      if (!reversed.ok) return reversed;
      journalId = reversed.value[0]!.id;
      // Items and control account change on the same day.
      date = reversed.value[0]!.date;
    } else {
      const open = firstOpenDay(
        {
          periods: await loadPeriods(tx, [company.id], { areas: ["ledger"] }),
          bookIds: masters.books.map((b) => b.id),
        },
        date,
      );
      if (open === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date });
      date = open;
    }
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into allocation (company_id, kind, date, seq, journal_id, undoes_id, made_by,
        made_at) select company_id, 'undone', ${date}, seq, ${journalId}::bigint, ${input.id}::bigint,
        ${person.id}, ${knownAt(now)} from chain where company_id = ${company.id} returning id`,
    );
    const lines = await rows<{ item: bigint; amount: bigint; functional: bigint }>(
      tx,
      sql`select item_id as item, amount, functional from allocation_line where allocation_id = ${input.id}`,
    );
    await storeLines(
      context,
      made!.id,
      lines.map((l) => ({
        item: Number(l.item),
        amount: minor(-l.amount),
        functional: minor(-l.functional),
      })),
    );
    await context.audit({
      action: "undone",
      kind: "open items",
      recordId: input.id,
      companyId: company.id,
    });
    return ok({ id: Number(made!.id) });
  },
});

/**
 * Holds an item back from being paid, with a reason such as a dispute; without one it is released.
 */
export const holdItem = defineUseCase({
  name: "holdItem",
  kind: "write",
  rights: ["prepare.payables", "prepare.receivables", "prepare.banks"],
  what: "hold open items",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(200),
  }),
  run: async (context, input): Promise<Result<unknown>> => {
    const [item] = await rows<{
      area: ItemControl;
      company: string;
      reference: string;
      hold: string;
      left: bigint;
    }>(
      context.tx,
      sql`select i.area, c.code as company, i.reference, i.hold, i.left_amount as "left"
        from open_item i join company c on c.id = i.company_id
        where i.id = ${input.id} for update of i`,
    );
    if (!item) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("prepare", item.area), item.company))
      return fail({ code: "FORBIDDEN", what: `hold open items of ${item.company}` });
    if (input.reason !== "" && input.reason.length < 5)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    if (input.reason !== "" && item.left === 0n)
      return fail({
        code: "IN_USE",
        what: `${item.reference} is settled; there is nothing left to hold`,
      });
    await context.tx.execute(
      sql`update open_item set hold = ${input.reason} where id = ${input.id}`,
    );
    await context.audit({
      action: input.reason === "" ? "released" : "held",
      kind: "open item",
      recordId: input.id,
      label: item.reference,
      companyId: context.masters.companyByCode.get(item.company)!.id,
      before: { hold: item.hold },
      after: { hold: input.reason },
    });
    return ok({});
  },
});

export interface ItemHistory {
  id: number;
  kind: string;
  date: CalendarDate;
  by: string;
  at: string;
  amount: Minor;
  with: { reference: string; number: string; journalId: number }[];
  journal: { id: number; number: string } | null;
  mayUndo: boolean;
}

/** What was set against an item, and what was taken back. */
export const itemHistory = defineUseCase({
  name: "itemHistory",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.banks"],
  what: "see open items",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<ItemHistory[]>> => {
    const [item] = await rows<{ area: ItemControl; company: string }>(
      context.tx,
      sql`select i.area, c.code as company from open_item i join company c on c.id = i.company_id
        where i.id = ${input.id}`,
    );
    if (!item) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("read", item.area), item.company))
      return fail({ code: "FORBIDDEN", what: "see this open item" });
    const found = await rows<{
      id: bigint;
      kind: string;
      date: string;
      by: string;
      at: string;
      amount: bigint;
      with: { reference: string; number: string; journalId: number }[] | null;
      journal: { id: number; number: string } | null;
      undone: boolean;
    }>(
      context.tx,
      sql`select a.id, a.kind, a.date, p.name as by, a.made_at as at, l.amount,
        (select jsonb_build_object('id', j.id, 'number', j.number) from journal j
        where j.id = a.journal_id) as journal, exists (select 1 from allocation u
        where u.undoes_id = a.id) or a.undoes_id is not null as undone,
            (select jsonb_agg(jsonb_build_object('reference', o.reference, 'number', j.number,
              'journalId', j.id)) from allocation_line m join open_item o on o.id = m.item_id
              join journal j on j.id = o.journal_id
              where m.allocation_id = a.id and m.item_id <> l.item_id) as "with"
          from allocation_line l join allocation a on a.id = l.allocation_id
            join person p on p.id = a.made_by where l.item_id = ${input.id} order by a.id`,
    );
    return ok(
      found.map(({ undone, ...f }) => ({
        ...f,
        id: Number(f.id),
        amount: minor(f.amount),
        with: f.with ?? [],
        mayUndo:
          !undone &&
          (f.kind === "by hand" || f.kind === "netting") &&
          context.may(rightOn("post", item.area), item.company),
      })),
    );
  },
});
