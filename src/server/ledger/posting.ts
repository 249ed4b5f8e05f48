import { sql } from "drizzle-orm";
import {
  balanceChanges,
  canonicalJournal,
  carryForward,
  preparePostings,
  type JournalDraft,
  type PostedYearEnd,
  type PostingContext,
  type PreparedJournal,
  type Reconciled,
} from "@/core/ledger";
import { may } from "@/core/access";
import { decimalText, fail, isCalendarDate, ok, type Result } from "@/core/shared";
import { lockChains, type ChainHead } from "../access";
import { arrayOf, rows, sha256, type Db } from "../db";
import { checkCashBoxes } from "./cashBoxes";
import { checkIntakeReversible, storeAssetEntries } from "./assetEntries";
import { checkReversible, storeItems } from "./items";
import { documentLinks, register, registerAgain, setStatus, takeNumbers } from "../documents";
import { loadPeriods, loadYears } from "../organisation/periods";
import type { Context } from "../access/useCase";

export interface PostedJournal {
  id: number;
  number: string;
  seq: bigint;
}

export interface PostOptions {
  /**
   * Register ids of the drafts that become journals, in the order of `drafts`; new rows where left
   * out.
   */
  documentIds?: readonly (number | undefined)[];
  preparedBy?: readonly number[];
  postedBy?: readonly number[];
  /** Instants of posting; the demo's history is posted as of then. */
  postedAt?: readonly Date[];
}

/** What happens with every reversal, whatever posts it: of these journals, which reverse others. */
export type WhenReversed = (context: Context, reversals: readonly number[]) => Promise<unknown>;

/**
 * The one way into the ledger: locks, checks, numbers, chains and stores any number of drafts in
 * the running transaction.
 * Locks are taken in the order chain rows (by the code of their company), then number counters, so
 * that two postings never wait for each other in a ring;
 * balance rows belong to one company, whose chain row is held already.
 * Closing a period takes the chain row as well, which is why no posting slips into a period that is
 * being closed.
 */
export async function postDrafts(
  context: Context,
  drafts: readonly JournalDraft[],
  options: PostOptions = {},
): Promise<Result<PostedJournal[]>> {
  if (drafts.length === 0) return ok([]);
  const { tx } = context;
  const heads = await lockChains(tx, [...new Set(drafts.map((d) => d.company))]);
  const posting = await loadPostingContext(context, drafts);
  const first = preparePostings(drafts, posting);
  if (!first.ok) return first;
  const companions = carryForward(first.value, posting);
  const second = companions.length > 0 ? preparePostings(companions, posting) : ok([]);
  if (!second.ok) return second;
  const reversible = await checkReversible(tx, first.value);
  if (!reversible.ok) return reversible;
  const waits = await checkIntakeReversible(tx, first.value);
  if (!waits.ok) return waits;
  const cash = await checkCashBoxes(tx, first.value);
  if (!cash.ok) return cash;
  const posted = await store(context, [...first.value, ...second.value], posting, heads, options);
  return ok(posted.slice(0, drafts.length));
}

/**
 * Loads what checking these drafts needs: the periods that they could lie in, and the year ends
 * that stand.
 */
export async function loadPostingContext(
  context: Context,
  drafts: readonly (Pick<JournalDraft, "company" | "date" | "type"> & {
    lines?: readonly { partner?: string }[];
  })[],
): Promise<PostingContext> {
  const { tx, masters, person } = context;
  const companyIds = [
    ...new Set(drafts.map((d) => masters.companyByCode.get(d.company)?.id)),
  ].filter((id): id is number => id !== undefined);
  const dates = [...new Set(drafts.map((d) => d.date).filter(isCalendarDate))];
  const areas = [
    ...new Set([
      "ledger" as const,
      ...drafts.map((d) => masters.typeByCode.get(d.type)?.area ?? "ledger"),
    ]),
  ];
  const years = await loadYears(tx, companyIds);
  const periods = await loadPeriods(tx, companyIds, { areas, dates });
  const yearEnds = await rows<Omit<PostedYearEnd, "run"> & { runId: number; runNumber: string }>(
    tx,
    sql`select e.company_id as "companyId", e.year_id as "yearId", e.book_id as "bookId",
      e.retained_earnings as "retainedEarnings", e.by_dimension as "byDimension",
          e.run_id::int as "runId", d.number as "runNumber" from year_end e
            join document d on d.id = e.run_id
            where e.company_id = any(${arrayOf(companyIds)}::int[])`,
  );
  const reconciled = await rows<Reconciled>(
    tx,
    sql`select r.company_id as "companyId", b.account, b.currency, max(r.date) as until,
        b.code as bank
      from reconciliation r join bank_account b on b.id = r.bank_account_id
      where r.company_id = any(${arrayOf(companyIds)}::int[]) and r.reopened_at is null
      group by r.company_id, b.id order by b.id`,
  );
  const named = [
    ...new Set(
      drafts.flatMap((d) =>
        (d.lines ?? []).flatMap((l) => (l.partner?.trim() ? [l.partner.trim()] : [])),
      ),
    ),
  ];
  const partners =
    named.length === 0
      ? []
      : await rows<{ code: string }>(
          tx,
          sql`select code from partner where code = any(${arrayOf(named)}::text[]) and not blocked`,
        );
  return {
    masters,
    years,
    periods,
    reconciled,
    partners: new Set(partners.map((p) => p.code)),
    yearEnds: yearEnds.map(({ runId, runNumber, ...e }) => ({
      ...e,
      run: { id: runId, number: runNumber },
    })),
    mayPost: (area, company) => area === "stock" || may(person.grants, `post.${area}`, company),
    mayPostWhileClosing: (company) => may(person.grants, "post.whileClosing", company),
  };
}

/**
 * When each journal is posted: now, but never before its predecessor in the chain, so that "as
 * known then" stays true on a clock that was set back.
 */
function instantsOf(
  journals: readonly PreparedJournal[],
  heads: readonly ChainHead[],
  now: Date,
  given: readonly Date[] | undefined,
): string[] {
  const last = new Map(
    heads.map((h) => [h.companyId, h.lastPostedAt ? new Date(h.lastPostedAt).toISOString() : ""]),
  );
  return journals.map((j, i) => {
    const wanted = (given?.[i] ?? now).toISOString();
    const before = last.get(j.company.id)!;
    const instant = wanted < before ? before : wanted;
    last.set(j.company.id, instant);
    return instant;
  });
}

async function store(
  context: Context,
  journals: readonly PreparedJournal[],
  posting: PostingContext,
  heads: readonly ChainHead[],
  options: PostOptions,
): Promise<PostedJournal[]> {
  const { tx, person, now } = context;
  const codings = await codingIds(tx, journals);
  const numbers = await takeNumbers(
    tx,
    journals.map((j) => ({
      series: j.type.series,
      company: j.company,
      year: { id: j.period.yearId, name: j.period.yearName },
    })),
  );
  const preparedBy = (i: number) => options.preparedBy?.[i] ?? person.id;
  const postedBy = (i: number) => options.postedBy?.[i] ?? person.id;
  const instants = instantsOf(journals, heads, now, options.postedAt);
  const postedAt = (i: number) => instants[i]!;
  const ids = await registerJournals(
    context,
    journals,
    numbers,
    options.documentIds ?? [],
    preparedBy,
    postedAt,
  );

  const head = new Map(
    heads.map((h) => [h.companyId, { seq: h.seq, hash: h.hash, at: h.lastPostedAt }]),
  );
  const chained = journals.map((j, i) => {
    const at = head.get(j.company.id)!;
    const seq = at.seq + 1n;
    const previousHash = at.hash;
    const hash = sha256(
      canonicalJournal(
        {
          id: ids[i]!,
          companyId: j.company.id,
          seq: Number(seq),
          number: numbers[i]!.number,
          typeId: j.type.id,
          bookId: j.bookId,
          date: j.date,
          yearId: j.period.yearId,
          periodNo: j.period.no,
          closing: j.closing,
          description: j.description,
          reference: j.reference,
          reverses: j.reverses,
          origin: j.origin,
          postedBy: postedBy(i),
          postedAt: postedAt(i),
          reverseOn: j.reverseOn,
          lines: j.lines.map((l) => ({
            ...l,
            accountId: l.account.id,
            counterpartyId: l.counterparty?.id ?? null,
          })),
        },
        previousHash,
      ),
    );
    head.set(j.company.id, { seq, hash, at: postedAt(i) });
    return { seq, previousHash, hash };
  });

  const column = <T extends string | number | bigint | boolean | null>(
    pick: (j: PreparedJournal, i: number) => T,
  ) => arrayOf(journals.map(pick));
  await tx.execute(sql`
    insert into journal (id, company_id, seq, number, series, serial, type_id, book_id, date,
      year_id, period_no, closing, description, reference, total, line_count,
      reverse_on, reverses_id, origin_id, prepared_by, posted_by, posted_at, previous_hash, hash)
    select * from unnest(${arrayOf(ids)}::bigint[], ${column((j) => j.company.id)}::int[],
      ${arrayOf(chained.map((c) => c.seq))}::bigint[],
      ${arrayOf(numbers.map((n) => n.number))}::text[],
      ${column((j) => j.type.series)}::text[], ${arrayOf(numbers.map((n) => n.serial))}::int[],
        ${column((j) => j.type.id)}::int[], ${column((j) => j.bookId)}::smallint[],
      ${column((j) => j.date)}::date[], ${column((j) => j.period.yearId)}::int[],
        ${column((j) => j.period.no)}::smallint[], ${column((j) => j.closing)}::boolean[],
      ${column((j) => j.description)}::text[], ${column((j) => j.reference)}::text[],
        ${column((j) => j.total)}::bigint[], ${column((j) => j.lines.length)}::int[],
      ${column((j) => j.reverseOn)}::date[], ${column((j) => j.reverses)}::bigint[],
        ${column((j) => j.origin)}::bigint[], ${column((_, i) => preparedBy(i))}::int[],
        ${column((_, i) => postedBy(i))}::int[],
      ${column((_, i) => postedAt(i))}::timestamptz[],
        ${arrayOf(chained.map((c) => c.previousHash))}::text[],
        ${arrayOf(chained.map((c) => c.hash))}::text[])`);
  await storeLines(
    tx,
    journals,
    ids,
    chained.map((c) => c.seq),
    codings,
  );
  await storeItems(
    context,
    journals,
    ids,
    numbers.map((n) => n.number),
    chained.map((c) => c.seq),
  );
  await storeAssetEntries(context, journals, ids);
  await storeBalances(tx, journals, posting, codings);
  for (const [companyId, { seq, hash, at }] of head)
    await tx.execute(
      sql`update chain set seq = ${seq}, hash = ${hash}, last_posted_at = ${at}
        where company_id = ${companyId}`,
    );

  const reversals = journals
    .map((j, i) => ({ id: ids[i]!, reverses: j.reverses }))
    .filter((r) => r.reverses !== null);
  if (reversals.length > 0) {
    await setStatus(
      tx,
      reversals.map((r) => r.reverses!),
      "reversed",
    );
    await documentLinks(
      tx,
      "reverses",
      reversals.map((r) => [r.id, r.reverses!] as const),
    );
    for (const follow of (await import("../kinds")).WHEN_REVERSED)
      await follow(
        context,
        reversals.map((r) => r.id),
      );
  }
  await tx.execute(sql`
    insert into audit_event (at, person_id, action, kind, record_id, label, company_id)
    select a, p, 'posted', 'journal', i, l, c
      from unnest(${column((_, i) => postedAt(i))}::timestamptz[],
      ${column((_, i) => postedBy(i))}::int[], ${arrayOf(ids.map(String))}::text[],
      ${arrayOf(numbers.map((n) => n.number))}::text[],
        ${column((j) => j.company.id)}::int[]) as x(a, p, i, l, c)`);
  return journals.map((_, i) => ({
    id: ids[i]!,
    number: numbers[i]!.number,
    seq: chained[i]!.seq,
  }));
}

/**
 * Lines go in slices, so that the text of one statement stays within reason however large the load.
 */
const SLICE = 5000;

async function storeLines(
  tx: Db,
  journals: readonly PreparedJournal[],
  ids: readonly number[],
  seqs: readonly bigint[],
  codings: ReadonlyMap<string, number>,
): Promise<void> {
  const all = journals.flatMap((journal, i) =>
    journal.lines.map((line) => ({ journal, line, id: ids[i]!, seq: seqs[i]! })),
  );
  for (let from = 0; from < all.length; from += SLICE) {
    const slice = all.slice(from, from + SLICE);
    const column = <T extends string | number | bigint | boolean | null>(
      pick: (r: (typeof all)[number]) => T,
    ) => arrayOf(slice.map(pick));
    // Most lines are plain: the columns that few use are sent only where one does.
    const rare = slice.some(
      ({ line }) =>
        line.rate !== null ||
        line.counterparty !== null ||
        line.quantity !== null ||
        line.note !== "",
    );
    await tx.execute(sql`
      insert into journal_line (journal_id, line_no, company_id, seq, book_id, year_id, period_no,
        closing, date, account_id, coding_id, side, amount, currency, foreign_amount, partner,
        due_date, description${rare ? sql`, rate, counterparty_id, quantity, note` : sql``})
      select * from unnest(${column((r) => r.id)}::bigint[], ${column((r) => r.line.lineNo)}::int[],
        ${column((r) => r.journal.company.id)}::int[], ${column((r) => r.seq)}::bigint[],
        ${column((r) => r.journal.bookId)}::smallint[],
          ${column((r) => r.journal.period.yearId)}::int[],
          ${column((r) => r.journal.period.no)}::smallint[],
          ${column((r) => r.journal.closing)}::boolean[],
        ${column((r) => r.journal.date)}::date[], ${column((r) => r.line.account.id)}::int[],
          ${column((r) => codings.get(r.line.coding)!)}::int[],
          ${column((r) => (r.line.side === "debit" ? "D" : "C"))}::char(1)[],
        ${column((r) => r.line.amount)}::bigint[], ${column((r) => r.line.currency)}::char(3)[],
          ${column((r) => r.line.foreignAmount)}::bigint[],
          ${column((r) => r.line.partner)}::text[],
        ${column((r) => r.line.dueDate)}::date[], ${column((r) => r.line.description)}::text[]
        ${
          rare
            ? sql`, ${column((r) => r.line.rate)}::numeric[],
          ${column((r) => r.line.counterparty?.id ?? null)}::int[],
          ${column((r) => r.line.quantity)}::bigint[],
          ${column((r) => r.line.note || null)}::text[]`
            : sql``
        })`);
  }
}

async function storeBalances(
  tx: Db,
  journals: readonly PreparedJournal[],
  posting: PostingContext,
  codings: ReadonlyMap<string, number>,
): Promise<void> {
  const changes = balanceChanges(journals, posting.years);
  const keys = (
    r: {
      companyId: number;
      bookId: number;
      yearId: number;
      periodNo: number;
      closing: boolean;
      accountId: number;
    }[],
  ) =>
    sql`${arrayOf(r.map((c) => c.companyId))}::int[],
      ${arrayOf(r.map((c) => c.bookId))}::smallint[], ${arrayOf(r.map((c) => c.yearId))}::int[],
      ${arrayOf(r.map((c) => c.periodNo))}::smallint[],
        ${arrayOf(r.map((c) => c.closing))}::boolean[], ${arrayOf(r.map((c) => c.accountId))}::int[]`;
  await tx.execute(sql`
    insert into account_balance as b (company_id, book_id, year_id, period_no, closing, account_id,
      debit, credit)
    select * from unnest(${keys(changes.accounts)},
      ${arrayOf(changes.accounts.map((c) => c.debit))}::bigint[],
      ${arrayOf(changes.accounts.map((c) => c.credit))}::bigint[])
    on conflict (company_id, book_id, year_id, period_no, closing,
      account_id) do update set debit = b.debit + excluded.debit,
      credit = b.credit + excluded.credit`);
  for (let from = 0; from < changes.codings.length; from += SLICE) {
    const slice = changes.codings.slice(from, from + SLICE);
    await tx.execute(sql`
      insert into coding_balance as b (company_id, book_id, year_id, period_no, closing, account_id,
        coding_id, currency, counterparty_id, debit, credit, foreign_debit, foreign_credit)
      select *
        from unnest(${keys(slice)}, ${arrayOf(slice.map((c) => codings.get(c.coding)!))}::int[],
        ${arrayOf(slice.map((c) => c.currency))}::char(3)[],
        ${arrayOf(slice.map((c) => c.counterpartyId))}::int[],
        ${arrayOf(slice.map((c) => c.debit))}::bigint[],
        ${arrayOf(slice.map((c) => c.credit))}::bigint[],
          ${arrayOf(slice.map((c) => c.foreignDebit))}::bigint[],
          ${arrayOf(slice.map((c) => c.foreignCredit))}::bigint[])
      on conflict (company_id, book_id, year_id, period_no, closing, account_id, coding_id,
        currency, counterparty_id) do update
        set debit = b.debit + excluded.debit, credit = b.credit + excluded.credit,
          foreign_debit = b.foreign_debit + excluded.foreign_debit,
          foreign_credit = b.foreign_credit + excluded.foreign_credit`);
  }
}

/** Ids of the codings, new ones included. */
async function codingIds(
  tx: Db,
  journals: readonly PreparedJournal[],
): Promise<ReadonlyMap<string, number>> {
  const keys = [...new Set(journals.flatMap((j) => j.lines.map((l) => l.coding)))].sort();
  // A join and not `= any(…)`: that would compare each key with each of thousands.
  const find = () =>
    rows<{ id: number; key: string }>(
      tx,
      sql`select k.id, k.key from unnest(${arrayOf(keys)}::text[]) as x(key) join coding k on k.key = x.key`,
    );
  let found = await find();
  if (found.length < keys.length) {
    const there = new Set(found.map((f) => f.key));
    const missing = keys.filter((k) => !there.has(k));
    const values = missing.map(
      (k) =>
        `{${k
          .split(",")
          .map((part) => part.split(":")[1])
          .join(",")}}`,
    );
    await tx.execute(
      sql`insert into coding (key, value_ids) select k, v::int[]
        from unnest(${arrayOf(missing)}::text[], ${arrayOf(values)}::text[]) as x(k, v)
        on conflict (key) do nothing`,
    );
    found = await find();
  }
  return new Map(found.map((f) => [f.key, f.id]));
}

async function registerJournals(
  { tx, person, now }: Context,
  journals: readonly PreparedJournal[],
  numbers: readonly { number: string }[],
  documentIds: readonly (number | undefined)[],
  preparedBy: (i: number) => number,
  postedAt: (i: number) => string,
): Promise<number[]> {
  const entries = journals.map((j, i) => ({
    id: documentIds[i],
    kind: "journal" as const,
    type: j.type.code,
    number: numbers[i]!.number,
    companyId: j.company.id,
    date: j.date,
    amount: j.total,
    currency: j.company.currency,
    title: j.description,
    words: `${j.reference} ${decimalText(j.total, j.company.currency)}`,
    status: "posted" as const,
    by: preparedBy(i),
    at: postedAt(i),
  }));
  const isKnown = (e: (typeof entries)[number]): e is typeof e & { id: number } =>
    e.id !== undefined;
  const known = entries.filter(isKnown);
  const fresh = await register(
    { tx, person, now },
    entries.filter((e) => !isKnown(e)),
  );
  if (known.length > 0) {
    await registerAgain(tx, known);
    await tx.execute(
      sql`delete from journal_draft
        where document_id = any(${arrayOf(known.map((e) => e.id))}::bigint[])`,
    );
  }
  let next = 0;
  return entries.map((e) => e.id ?? fresh[next++]!);
}

/** A problem for a journal that is not there. */
export const journalNotFound = (what: string | number) =>
  fail({ code: "NOT_FOUND", what: `journal ${what}` });
