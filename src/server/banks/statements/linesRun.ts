import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { lineJournal, type LineOutcome, type MoneyAccounts, type SettledItem } from "@/core/banks";
import { conversionOn, convertBy } from "@/core/rates";
import type { RunItem } from "@/core/runs";
import {
  amountText,
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import type { JournalDraft } from "@/core/ledger";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import type { PostedJournal } from "../../ledger";
import { releaseItems, settleTogether } from "../../openItems";
import { loadPeriods } from "../../organisation";
import { ratesFor } from "../../rates";
import { defineRunKind, type Proposed } from "../../runs";
import { itemsOfLines, readKinds, type ItemToTake } from "./lineFacts";

const schema = object({
  company: string().required(),
  /** One bank account, or all of the company. */
  bank: string().trim().default(""),
  upTo: string().required("Say up to which day"),
});

interface DecidedLine {
  id: bigint;
  bank: string;
  account: string;
  statement: string;
  currency: string;
  booked: string;
  amount: bigint;
  name: string;
  text: string;
  outcome: LineOutcome;
  reasons: { says: string; weight: number }[] | null;
  by: string | null;
}

/** What posting needs again: by the place of its draft, the line and what it settles. */
interface Posted {
  line: number;
  settles: SettledItem[];
  settling: number;
}

const keyOf = (id: bigint | number): string => `line|${id}`;

/** What stands in the way of a line: it comes again once that is mended. */
type Planned = { draft: JournalDraft; posted: Posted } | { leftOut: string };

/**
 * Posts what is decided about the lines of bank statements: each a journal of its own, on the day
 * it was booked.
 */
export const bankLinesRun = defineRunKind({
  id: "bank-lines",
  right: "post.banks",
  approved: "by rules",
  schema,
  async propose(context, params, overrides): Promise<Result<Proposed>> {
    const company = context.masters.companyByCode.get(params.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
    if (!isCalendarDate(params.upTo))
      return fail({ code: "DATE_INVALID", text: params.upTo, field: "upTo" });
    const period = (await loadPeriods(context.tx, [company.id])).find(
      (p) => !p.adjustment && p.start <= params.upTo && params.upTo <= p.end,
    );
    if (!period)
      return fail({
        code: "PERIOD_MISSING",
        date: dateText(params.upTo),
        company: company.name,
        field: "upTo",
      });
    const lines = await decidedLines(context, company.id, params);
    if (lines.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `line of a statement of ${company.name} up to ${dateText(params.upTo)} that is decided`,
        field: "upTo",
      });
    const plan = await planner(context, company, lines);
    if (!plan.ok) return plan;
    const items: RunItem[] = [];
    const drafts: JournalDraft[] = [];
    const detail: Posted[] = [];
    for (const l of lines) {
      const planned = plan.value.of(l);
      const item = runItem(l, plan.value.own(l));
      if ("leftOut" in planned) {
        items.push({ ...item, leftOut: planned.leftOut });
        continue;
      }
      const dropped = overrides.dropped.includes(keyOf(l.id));
      items.push({ ...item, droppable: true, ...(dropped ? {} : { drafts: [drafts.length] }) });
      if (dropped) continue;
      drafts.push(planned.draft);
      detail.push(planned.posted);
      plan.value.take(planned.posted);
    }
    return ok({
      company: company.code,
      yearId: period.yearId,
      date: params.upTo,
      title: `Bank lines up to ${dateText(params.upTo)}, ${params.bank || company.name}`,
      items,
      drafts,
      warnings: [],
      figures: [
        { label: "Money in", amount: sumOf(items, 1n) },
        { label: "Money out", amount: sumOf(items, -1n) },
      ],
      detail,
    });
  },
  posted: (context, run) =>
    linesPosted(context, run.id, run.proposal.detail as Posted[], run.journals),
  async reversing(context, { id, dayOf }) {
    const posted = await linesOfRun(context, id);
    await releaseItems(
      context,
      posted.map((p) => ({ id: Number(p.journalId), date: dayOf(Number(p.journalId)) })),
    );
    return ok({});
  },
  async reversed(context, { id }) {
    const posted = await linesOfRun(context, id);
    await stateOfPayments(
      context,
      posted.map((p) => Number(p.journalId)),
    );
    // What was decided stays decided, by whom it was: it is posted again, or chosen anew.
    await context.tx.execute(
      sql`update statement_line set
        state = case when decided_by is null then 'certain' else 'chosen' end, journal_id = null, run_id = null,
        version = version + 1 where run_id = ${id}`,
    );
  },
});

const sumOf = (items: readonly RunItem[], sign: bigint): bigint =>
  items.filter((i) => i.drafts && i.amount * sign > 0n).reduce((t, i) => t + i.amount, 0n);

/** The lines that are decided, held until the run is kept or posted: nobody decides meanwhile. */
async function decidedLines(
  { tx }: Context,
  companyId: number,
  params: { bank: string; upTo: string },
): Promise<DecidedLine[]> {
  // Locked by their id, as whoever matches them locks them.
  const found = await rows<DecidedLine>(
    tx,
    sql`select l.id, b.code as bank, b.account, s.number as statement, s.currency, l.booked,
        l.amount, l.party_name as name, l.text, l.outcome, l.candidates -> 0 -> 'reasons' as reasons,
        p.name as by
      from statement_line l join bank_statement s on s.id = l.statement_id
        join bank_account b on b.id = l.bank_account_id left join person p on p.id = l.decided_by
      where l.company_id = ${companyId} and l.state in ('certain', 'chosen')
        and l.booked <= ${params.upTo} and ${params.bank} in ('', b.code)
      order by l.id for update of l`,
  );
  return found.sort((x, y) => (x.booked < y.booked ? -1 : x.booked > y.booked ? 1 : 0));
}

interface Company {
  id: number;
  code: string;
  name: string;
  currency: string;
}

interface Planner {
  of(l: DecidedLine): Planned;
  /** That a line is part of the run: what it takes is not there for those behind it. */
  take(posted: Posted): void;
  /** The line's amount in the company's currency. */
  own(l: DecidedLine): Minor;
}

/** What plans lines one after the other, each knowing what those before it have taken. */
async function planner(
  context: Context,
  company: Company,
  lines: readonly DecidedLine[],
): Promise<Result<Planner>> {
  const { tx, masters } = context;
  const purposes = {
    discountAllowed: "discounts allowed",
    exchangeGain: "exchange gains",
    exchangeLoss: "exchange losses",
  } as const;
  const missing = Object.entries(purposes)
    .filter(([p]) => !masters.purposes[p as keyof typeof purposes])
    .map(([, words]): Found => ({ code: "PURPOSE_MISSING", purpose: words }));
  if (missing.length > 0) return { ok: false, problems: missing };
  const accounts: Omit<MoneyAccounts, "underWay"> = {
    company: company.code,
    functional: company.currency,
    discount: masters.purposes.discountAllowed!,
    exchangeGain: masters.purposes.exchangeGain!,
    exchangeLoss: masters.purposes.exchangeLoss!,
  };
  const items = new Map(
    (
      await itemsOfLines(
        tx,
        company.id,
        lines.flatMap((l) => l.outcome.takes.map((t) => t.item)),
      )
    ).map((i) => [i.id, i]),
  );
  const kinds = await readKinds(tx);
  const rates = await ratesFor(
    tx,
    masters,
    lines.map((l) => ({ companies: [company.code], currency: l.currency, date: l.booked })),
  );
  const rateOf = (l: DecidedLine) =>
    conversionOn(rates, "spot", l.currency, company.currency, l.booked);
  return ok({
    own: (l) => {
      const rate = rateOf(l);
      return rate === null
        ? minor(0n)
        : convertBy(minor(l.amount), l.currency, company.currency, rate);
    },
    of: (l) => {
      const rate = rateOf(l);
      if (rate === null)
        return {
          leftOut: `No rate from ${l.currency} to ${company.currency} is known for ${dateText(l.booked)}`,
        };
      const { outcome } = l;
      const takes: { item: ItemToTake; amount: Minor; discount: Minor }[] = [];
      for (const t of outcome.takes) {
        const item = items.get(t.item);
        const amount = minor(BigInt(t.amount));
        if (!item || !isWithin(amount, item.left)) return { leftOut: gone(item, l.currency) };
        takes.push({ item: { ...item }, amount, discount: minor(BigInt(t.discount)) });
      }
      const rest = minor(BigInt(outcome.rest));
      const restTo = rest === 0n ? null : placeOfRest(outcome, takes, kinds);
      if (rest !== 0n && restTo === null)
        return { leftOut: "What is left of it has no account yet; give it a coding" };
      const made = lineJournal(
        {
          booked: l.booked,
          amount: minor(l.amount),
          currency: l.currency,
          rate,
          payee: l.name || kinds.get(outcome.kind)?.name || "",
          text: l.text,
          takes,
          rest,
          restTo,
        },
        { ...accounts, underWay: l.account },
      );
      return {
        draft: made.draft,
        posted: { line: Number(l.id), settles: [...made.settles], settling: made.settling },
      };
    },
    take: ({ settles }) => {
      for (const s of settles) {
        const item = items.get(s.item)!;
        item.left = minor(item.left - s.taken);
        item.leftFunctional = minor(item.leftFunctional - s.functional);
      }
    },
  });
}

const isWithin = (amount: bigint, left: bigint): boolean =>
  left > 0n ? amount > 0n && amount <= left : amount < 0n && amount >= left;

const gone = (item: ItemToTake | undefined, currency: string): string =>
  item && item.left !== 0n
    ? `${item.reference} has only ${amountText(item.left, currency)} left; decide again`
    : "What it takes is not open any more; decide again";

function placeOfRest(
  outcome: LineOutcome,
  takes: readonly { item: ItemToTake }[],
  kinds: ReadonlyMap<string, { name: string; account: string; dimensions: Record<string, string> }>,
) {
  if (outcome.onAccount) {
    const first = takes.find((t) => t.item.control !== "transit")?.item;
    return first ? { partner: first.partner, account: first.account } : null;
  }
  if (outcome.coding) return { coding: outcome.coding };
  const kind = kinds.get(outcome.kind);
  return kind && kind.account !== ""
    ? { coding: { account: kind.account, dimensions: kind.dimensions, text: kind.name } }
    : null;
}

function runItem(l: DecidedLine, own: Minor): RunItem {
  return {
    key: keyOf(l.id),
    label: l.name || l.text.slice(0, 80) || "Bank movement",
    group: `${l.bank}, statement ${l.statement}`,
    amount: own,
    why: l.by ? `chosen by ${l.by}` : (l.reasons?.[0]?.says ?? "certain"),
    explanation: {
      title: `${dateText(l.booked)}, ${l.name || l.text.slice(0, 60)}`,
      steps: [
        { label: "The bank says", text: l.text || "nothing" },
        ...(l.reasons ?? []).map((r) => ({
          label: r.weight < 0 ? "Against it" : "For it",
          text: r.says,
        })),
        { label: "Amount of the line", amount: own, total: true },
      ],
    },
  };
}

async function linesPosted(
  context: Context,
  run: number,
  posted: readonly Posted[],
  journals: readonly PostedJournal[],
): Promise<Result<unknown>> {
  const { tx } = context;
  const ids = journals.map((j) => j.id);
  const info = new Map(
    (
      await rows<{ id: bigint; date: string; companyId: number }>(
        tx,
        sql`select id, date, company_id as "companyId" from journal
          where id = any(${arrayOf(ids)}::bigint[])`,
      )
    ).map((j) => [Number(j.id), j]),
  );
  const made = await rows<{
    id: bigint;
    journalId: bigint;
    lineNo: number;
    left: bigint;
    leftFunctional: bigint;
  }>(
    tx,
    sql`select id, journal_id as "journalId", line_no as "lineNo", left_amount as "left",
      left_functional as "leftFunctional" from open_item
      where journal_id = any(${arrayOf(ids)}::bigint[]) order by id`,
  );
  await settleTogether(
    context,
    "payment",
    posted.flatMap((p, i) => {
      if (p.settles.length === 0) return [];
      const id = ids[i]!;
      const own = made.filter((m) => Number(m.journalId) === id && m.lineNo <= p.settling);
      return [
        {
          companyId: info.get(id)!.companyId,
          date: info.get(id)!.date,
          journalId: id,
          lines: [
            ...p.settles.map((s) => ({ item: s.item, amount: s.taken, functional: s.functional })),
            ...own.map((o) => ({
              item: Number(o.id),
              amount: minor(o.left),
              functional: minor(o.leftFunctional),
            })),
          ],
        },
      ];
    }),
  );
  await tx.execute(
    sql`update statement_line l set state = 'posted', journal_id = x.journal, run_id = ${run},
        version = version + 1
      from unnest(${arrayOf(posted.map((p) => p.line))}::bigint[], ${arrayOf(ids)}::bigint[])
        as x(line, journal) where l.id = x.line`,
  );
  await stateOfPayments(context, ids);
  return ok({});
}

const linesOfRun = ({ tx }: Context, run: number) =>
  rows<{ journalId: bigint }>(
    tx,
    sql`select journal_id as "journalId" from statement_line where run_id = ${run} order by id`,
  );

/**
 * Payments whose money under way these journals have touched: cleared where nothing is left of it,
 * else as they were before the bank had them.
 */
async function stateOfPayments({ tx }: Context, journals: readonly number[]): Promise<void> {
  const touched = await rows<{ id: bigint; cleared: boolean; sent: boolean }>(
    tx,
    sql`select p.document_id as id, bool_and(i.left_amount = 0) as cleared,
        bool_or(p.file_id is not null) as sent
      from payment p join document d on d.id = p.document_id
        join document_link k on k.from_id = p.document_id and k.kind = 'made'
        join open_item i on i.journal_id = k.to_id and i.area = 'transit'
      where d.status in ('posted', 'sent', 'cleared') and exists (
        select 1 from allocation a join allocation_line l on l.allocation_id = a.id
        where a.journal_id = any(${arrayOf(journals)}::bigint[]) and l.item_id in (
          select o.id from open_item o where o.journal_id = k.to_id and o.area = 'transit'))
      group by p.document_id`,
  );
  for (const status of ["cleared", "sent", "posted"] as const)
    await setStatus(
      tx,
      touched
        .filter((t) => status === (t.cleared ? "cleared" : t.sent ? "sent" : "posted"))
        .map((t) => Number(t.id)),
      status,
    );
}
