import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import { isResult, NO_CURRENCY, readAccounts, type Account } from "@/core/ledger";
import { periodKey, periodName, type Period } from "@/core/organisation";
import {
  catchAccounts,
  layoutOf,
  resolveColumns,
  type Outline,
  type OutlineLine,
} from "@/core/statements";
import {
  amountOf,
  amountOfPart,
  byJournal,
  byPeriod,
  cellsByAccount,
  decodeTrace,
  encodeTrace,
  measured,
  partsOf,
  type Cell,
  type Cells,
  type FigureRef,
  type JournalCell,
  type Part,
  type TraceNode,
  type TraceSpan,
} from "@/core/trace";
import { documentPage } from "@/core/documents";
import { dateText, fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import {
  branchesOf,
  findPlace,
  getJournal,
  placeSchema,
  visibleBranch,
  type ReportPlace,
} from "../ledger";
import { readOutlines } from "../statements";

export interface StationRow {
  /** The step that enters this row; empty where there is nothing further down. */
  step: string;
  label: string;
  note: string;
  amount: bigint;
  chosen: boolean;
  /** A page that shows it whole. */
  href: string | null;
}
export interface Station {
  kind: string;
  title: string;
  /** What the station itself says, beside or instead of rows. */
  facts: { label: string; text: string; href?: string }[];
  rows: StationRow[];
  amount: bigint | null;
  /** Rows there are beyond those shown. */
  more: number;
}
export interface Trace {
  currency: string;
  stations: Station[];
  /** How many of the stations were reached by the path; the others opened by themselves. */
  trace: string;
}

const MOST_ROWS = 200;

export const trace = defineUseCase({
  name: "trace",
  kind: "read",
  rights: ["read.ledger", "read.statements", "read.branch"],
  what: "take figures apart",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    trace: string().required().max(1000),
    withClosing: boolean().default(false),
    values: array(string().required()).default([]),
  }),
  run: async (context, input): Promise<Result<Trace>> => {
    const address = decodeTrace(input.trace);
    if (!address) return fail({ code: "NOT_FOUND", what: "such figure" });
    const company =
      (address.ref.kind === "month" || address.ref.kind === "between"
        ? address.ref.company
        : undefined) ?? input.company;
    if (
      company !== input.company &&
      !context.may("read.ledger", company) &&
      !context.may("read.branch", company)
    )
      return fail({ code: "FORBIDDEN", what: `take figures of ${company} apart` });
    // A figure of one named period is the same whatever range the screen shows, over years too.
    const { ref } = address;
    const found = await findPlace(context, {
      ...input,
      company,
      ...(ref.kind === "month" ? { period: ref.period, from: undefined } : {}),
      ...(ref.kind === "journal" ? { from: undefined } : {}),
    });
    if (!found.ok) return found;
    const place = found.value;
    const asked = branchesOf(context.masters, input.values);
    if (!asked.ok) return asked;
    const own = visibleBranch(context, company);
    const values = own ? [...asked.value, own] : asked.value;
    const stations: Station[] = [];
    const path = [...address.path];
    if (address.ref.kind === "journal" && own)
      return fail({ code: "FORBIDDEN", what: "see whole journals" });
    if (address.ref.kind === "journal") {
      const journal = await journalStation(context, place, String(address.ref.id), null);
      return journal.ok
        ? ok({ currency: place.company.currency, stations: journal.value, trace: input.trace })
        : journal;
    }
    if (address.ref.kind === "between") {
      if (own) return fail({ code: "FORBIDDEN", what: "see whole journals" });
      const found = await betweenStations(context, place, address.ref, path);
      return found.ok
        ? ok({ currency: address.ref.currency, stations: found.value, trace: input.trace })
        : found;
    }
    const root = await buildTree(context, place, address.ref, input.withClosing);
    if (!root.ok) return root;
    const cells = await loadCells(
      context,
      place,
      [...new Set(partsOf(root.value).map((p) => p.accountId))],
      values,
    );
    stations.push({
      kind: "Figure",
      title: root.value.label,
      facts: [],
      rows: [],
      amount: amountOf(root.value, cells),
      more: 0,
    });
    if (place.asKnownSeq !== undefined)
      stations.push(await changesStation(context, place, root.value, stations[0]!.amount!, values));
    const walked = await walk(context, place, root.value, cells, path, values, stations);
    const counts =
      partsOf(root.value).every(
        (p) => context.masters.accountById.get(p.accountId)?.type === "units",
      ) && partsOf(root.value).length > 0;
    return walked.ok
      ? ok({
          currency: counts ? NO_CURRENCY : place.company.currency,
          stations,
          trace: encodeTrace({ ref: address.ref, path: walked.value }),
        })
      : walked;
  },
});

/**
 * What has become of a figure since the moment at which it is shown: each later journal with what
 * it does to it, and the figure now.
 */
async function changesStation(
  context: Context,
  place: ReportPlace,
  root: TraceNode,
  then: bigint,
  values: readonly number[][],
): Promise<Station> {
  const parts = partsOf(root);
  const own = visibleBranch(context, place.company.code);
  const cells = await rows<
    Omit<JournalCell, "journalId"> & {
      journalId: bigint;
      number: string;
      date: string;
      description: string;
    }
  >(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, j.description, l.year_id as "yearId",
      l.period_no as "periodNo", l.closing, l.account_id as "accountId",
          coalesce(sum(l.amount) filter (where l.side = 'D'), 0)::bigint as debit,
            coalesce(sum(l.amount) filter (where l.side = 'C'), 0)::bigint as credit
        from journal_line l join journal j on j.id = l.journal_id join coding k on k.id = l.coding_id
        where l.company_id = ${place.company.id} and l.seq > ${place.asKnownSeq}
          and l.book_id in (0, ${place.book.id})
          and l.account_id = any(${arrayOf([...new Set(parts.map((p) => p.accountId))])}::int[])
          ${meets(values)}
        group by l.journal_id, j.number, j.date, j.description, l.seq, l.year_id, l.period_no,
          l.closing, l.account_id order by l.seq`,
  );
  const heads = new Map(cells.map((c) => [Number(c.journalId), c]));
  const changes = byJournal(
    parts,
    cells.map((c) => ({ ...c, journalId: Number(c.journalId) })),
  );
  const change = changes.reduce((sum, c) => sum + c.amount, 0n);
  return {
    kind:
      changes.length === 0
        ? "Nothing has changed it since"
        : `Changed since, by ${changes.length === 1 ? "1 journal" : `${changes.length} journals`}`,
    title: changes.length === 0 ? "" : "Now",
    facts: [],
    amount: changes.length === 0 ? null : then + change,
    more: Math.max(0, changes.length - MOST_ROWS),
    rows: changes.slice(0, MOST_ROWS).map(({ journalId, amount }) => {
      const head = heads.get(journalId)!;
      return {
        step: "",
        label: head.number,
        note: `${dateText(head.date).slice(0, -5)} · ${head.description}`,
        amount,
        chosen: false,
        href: own ? null : `/ledger/journals/${journalId}?company=${place.company.code}`,
      };
    }),
  };
}

/** The condition that a line's coding has one of the values of each list. */
const meets = (values: readonly number[][]) =>
  values.length > 0
    ? sql`and ${sql.join(
        values.map((v) => sql`k.value_ids && ${arrayOf(v)}::int[]`),
        sql` and `,
      )}`
    : sql``;

/**
 * Goes down the tree along the path; where there is only one way, it goes by itself. Gives the path
 * that was really taken.
 */
async function walk(
  context: Context,
  place: ReportPlace,
  root: TraceNode,
  cells: Cells,
  path: string[],
  values: readonly number[][],
  stations: Station[],
): Promise<Result<string[]>> {
  const { masters } = context;
  const taken: string[] = [];
  let node = root;
  while (node.children) {
    const rowsHere = node.children
      .map((child) => ({ child, amount: amountOf(child, cells) }))
      .filter((r) => r.amount !== 0n || path[0] === `l.${r.child.key}`);
    const chosen =
      rowsHere.length === 1 ? rowsHere[0] : rowsHere.find((r) => path[0] === `l.${r.child.key}`);
    const byItself = rowsHere.length === 1 && path[0] !== `l.${rowsHere[0]!.child.key}`;
    if (rowsHere.length > 1)
      stations.push({
        kind: `Made of, ${rowsHere.length}`,
        title: "",
        facts: [],
        amount: null,
        more: 0,
        rows: rowsHere.map((r) => ({
          step: `l.${r.child.key}`,
          label: r.child.label,
          note: "",
          amount: r.amount,
          chosen: r === chosen,
          href: null,
        })),
      });
    if (!chosen) return ok(taken);
    if (!byItself) taken.push(path.shift()!);
    node = chosen.child;
  }
  const parts = (node.parts ?? [])
    .map((part) => ({
      part,
      account: masters.accountById.get(part.accountId)!,
      amount: amountOfPart(part, cells),
    }))
    .filter(
      (p) =>
        p.amount !== 0n ||
        path[0] === `a.${p.account.number}` ||
        byPeriod(p.part, cells).length > 0,
    );
  if (parts.length === 0) {
    stations.push({
      kind: "Nothing",
      title: "",
      facts: [{ label: "", text: "No journal line has reached this figure." }],
      rows: [],
      amount: null,
      more: 0,
    });
    return ok(taken);
  }
  const part =
    parts.length === 1 ? parts[0] : parts.find((p) => path[0] === `a.${p.account.number}`);
  if (parts.length > 1)
    stations.push({
      kind: `Accounts, ${parts.length}`,
      title: "",
      facts: [],
      amount: null,
      more: 0,
      rows: parts.map((p) => ({
        step: `a.${p.account.number}`,
        label: `${p.account.number} ${p.account.name}`,
        note: "",
        amount: p.amount,
        chosen: p === part,
        href: `/ledger/accounts/${p.account.number}?company=${place.company.code}&book=${place.book.code}&period=${periodKey(place.to)}`,
      })),
    });
  if (!part) return ok(taken);
  if (path[0] === `a.${part.account.number}`) taken.push(path.shift()!);

  const periodOf = (yearId: number, no: number): Period =>
    place.periods.find((p) => p.yearId === yearId && p.no === no)!;
  const months = byPeriod(part.part, cells);
  months.sort((a, b) => {
    const [p, q] = [periodOf(a.yearId, a.periodNo), periodOf(b.yearId, b.periodNo)];
    return p.start < q.start ? -1 : p.start > q.start ? 1 : p.no - q.no;
  });
  // Years before the one in view are one row each; entering one shows its months.
  const yearName = (yearId: number) => place.years.find((y) => y.id === yearId)!.name;
  const earlier = [
    ...new Set(months.filter((m) => m.yearId !== place.to.yearId).map((m) => m.yearId)),
  ];
  let list = months;
  const grouped = earlier.length > 0 && months.length > 1;
  if (grouped) {
    const groups = [
      ...earlier.map((yearId) => ({
        step: `y.${yearName(yearId)}`,
        label: yearName(yearId),
        amount: months.filter((m) => m.yearId === yearId).reduce((t, m) => t + m.amount, 0n),
        months: months.filter((m) => m.yearId === yearId),
      })),
      ...months
        .filter((m) => m.yearId === place.to.yearId)
        .map((m) => ({
          step: `p.${periodKey(periodOf(m.yearId, m.periodNo))}`,
          label: periodName(periodOf(m.yearId, m.periodNo)),
          amount: m.amount,
          months: [m],
        })),
    ];
    const chosen = groups.find((g) => path[0] === g.step);
    stations.push({
      kind: `${part.account.number} ${part.account.name}, by period`,
      title: "",
      facts: [],
      amount: null,
      more: 0,
      rows: groups.map((g) => ({
        step: g.step,
        label: g.label,
        note: "",
        amount: g.amount,
        chosen: g === chosen,
        href: null,
      })),
    });
    if (!chosen) return ok(taken);
    taken.push(path.shift()!);
    list = chosen.months;
  }
  let month = list.length === 1 ? list[0]! : undefined;
  if (list.length > 1) {
    const keyed = list.map((m) => ({ m, step: `p.${periodKey(periodOf(m.yearId, m.periodNo))}` }));
    const chosen = keyed.find((k) => k.step === path[0]);
    stations.push({
      kind: `${part.account.number} ${part.account.name}, by period`,
      title: "",
      facts: [],
      amount: null,
      more: 0,
      rows: keyed.map(({ m, step }) => ({
        step,
        label: periodName(periodOf(m.yearId, m.periodNo)),
        note: "",
        amount: m.amount,
        chosen: step === path[0],
        href: null,
      })),
    });
    if (!chosen) return ok(taken);
    month = chosen.m;
  }
  if (!month) return ok(taken);
  if (path[0]?.startsWith("p.")) taken.push(path.shift()!);
  return linesStation(
    context,
    place,
    part.part,
    part.account,
    periodOf(month.yearId, month.periodNo),
    path,
    taken,
    values,
    stations,
  );
}

async function linesStation(
  context: Context,
  place: ReportPlace,
  part: Part,
  account: Account,
  period: Period,
  path: string[],
  taken: string[],
  values: readonly number[][],
  stations: Station[],
): Promise<Result<string[]>> {
  const own = visibleBranch(context, place.company.code);
  const span = part.spans.find(
    (s) => s.yearId === period.yearId && s.from <= period.no && period.no <= s.to,
  )!;
  const found = await rows<{
    journalId: bigint;
    number: string;
    date: string;
    type: string;
    description: string;
    debit: bigint;
    credit: bigint;
    n: number;
  }>(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, t.name as type,
      min(l.description) as description, coalesce(sum(l.amount) filter (where l.side = 'D'),
      0)::bigint as debit, coalesce(sum(l.amount) filter (where l.side = 'C'), 0)::bigint as credit,
      (count(*) over ())::int as n
        from journal_line l join journal j on j.id = l.journal_id
          join journal_type t on t.id = j.type_id join coding k on k.id = l.coding_id
        where l.company_id = ${place.company.id} and l.account_id = ${account.id}
          and l.year_id = ${period.yearId} and l.period_no = ${period.no} and l.book_id in (0,
          ${place.book.id}) ${span.withClosing ? sql`` : sql`and not l.closing`}
          ${place.asKnownSeq === undefined ? sql`` : sql`and l.seq <= ${place.asKnownSeq}`} ${meets(values)}
        group by l.journal_id, j.number, j.date, t.name, l.seq order by j.date, l.seq`,
  );
  const list = found
    .map((f) => ({ ...f, amount: measured(part, f.debit, f.credit) }))
    .filter((f) => f.amount !== 0n || part.measure === "net");
  const shown = list.slice(0, MOST_ROWS);
  const chosen = list.length === 1 ? list[0] : list.find((f) => path[0] === `j.${f.journalId}`);
  stations.push({
    kind: `Journals in ${account.number}, ${periodName(period)}, ${list.length}`,
    title: "",
    facts: [],
    amount: null,
    more: list.length - shown.length,
    rows: shown.map((f) => ({
      step: `j.${f.journalId}`,
      label: f.number,
      note: `${dateText(f.date).slice(0, -5)} · ${f.description}`,
      amount: f.amount,
      chosen: f === chosen,
      href: own ? null : `/ledger/journals/${f.journalId}?company=${place.company.code}`,
    })),
  });
  if (!chosen) return ok(taken);
  if (path[0] === `j.${chosen.journalId}`) taken.push(path.shift()!);
  if (own) {
    stations.push(await ownLinesStation(context, place, chosen, account.number, own));
    return ok(taken);
  }
  const journal = await journalStation(context, place, String(chosen.journalId), account.number);
  if (!journal.ok) return journal;
  stations.push(...journal.value);
  return ok(taken);
}

/**
 * For the head of a branch the way down ends at the journal's lines of that branch; the rest of the
 * journal is not theirs to see.
 */
async function ownLinesStation(
  context: Context,
  place: ReportPlace,
  journal: { journalId: bigint; number: string; date: string; type: string },
  from: string,
  own: readonly number[],
): Promise<Station> {
  const { masters } = context;
  const lines = await rows<{
    accountId: number;
    side: string;
    amount: bigint;
    description: string;
    valueIds: number[] | null;
  }>(
    context.tx,
    sql`select l.account_id as "accountId", l.side, l.amount, l.description,
      k.value_ids as "valueIds" from journal_line l join coding k on k.id = l.coding_id
        where l.journal_id = ${journal.journalId} and k.value_ids && ${arrayOf(own)}::int[]
          and l.book_id in (0, ${place.book.id}) order by l.line_no limit ${MOST_ROWS}`,
  );
  return {
    kind: `${journal.type} journal, the lines of your branch`,
    title: journal.number,
    facts: [{ label: "Date", text: dateText(journal.date) }],
    amount: null,
    more: 0,
    rows: lines.map((l) => {
      const account = masters.accountById.get(l.accountId)!;
      const codes = (l.valueIds ?? []).map(
        (id) => masters.dimensionValues.find((v) => v.id === id)?.code ?? "",
      );
      return {
        step: "",
        label: `${account.number} ${account.name}`,
        note: [...codes, l.description].filter(Boolean).join(" · "),
        amount: l.side === "D" ? l.amount : -l.amount,
        chosen: account.number === from,
        href: null,
      };
    }),
  };
}

/**
 * A journal as the end of the way down, with its lines and what it came from; then, as the start of
 * the way up, the statement lines that it reaches.
 */
async function journalStation(
  context: Context,
  place: ReportPlace,
  id: string,
  from: string | null,
): Promise<Result<Station[]>> {
  const view = await getJournal.definition.run(context, { key: id });
  if (!view.ok) return view;
  const journal = view.value;
  if (journal.kind === "draft") return fail({ code: "NOT_FOUND", what: `posted journal ${id}` });
  const query = `company=${journal.company}&book=${journal.book ?? place.book.code}&period=${journal.period}`;
  const reached = new Map<string, { outline: Outline; line: OutlineLine; amount: bigint }>();
  for (const outline of await readOutlines(context.tx)) {
    const { lineOf } = catchAccounts(outline, context.masters.accounts);
    for (const l of journal.lines) {
      const account = context.masters.accountByNumber.get(l.account)!;
      const code =
        lineOf.get(account.id) ??
        (outline.kind === "position" && isResult(account.type)
          ? outline.lines.find((x) => x.kind === "result")?.code
          : undefined);
      const line = outline.lines.find((x) => x.code === code);
      if (!line) continue;
      const net = l.side === "debit" ? l.amount : -l.amount;
      const row = reached.get(`${outline.code}|${line.code}`) ?? { outline, line, amount: 0n };
      row.amount += line.positive === "debit" ? net : -net;
      reached.set(`${outline.code}|${line.code}`, row);
    }
  }
  const station: Station = {
    kind: `${journal.typeName} journal`,
    title: `${journal.number} · ${journal.description}`,
    amount: null,
    more: Math.max(0, journal.lines.length - MOST_ROWS),
    facts: [
      { label: "Date", text: `${dateText(journal.date)} in ${journal.periodName}` },
      ...(journal.reference ? [{ label: "Source document", text: journal.reference }] : []),
      {
        label: "Posted by",
        text: `${journal.postedBy}, ${dateText(journal.postedAt.slice(0, 10))}`,
      },
      ...(journal.book ? [{ label: "Book", text: `${journal.book} only` }] : []),
      ...(journal.reverses
        ? [
            {
              label: "Reverses",
              text: journal.reverses.number,
              href: `/ledger/journals/${journal.reverses.id}?${query}`,
            },
          ]
        : []),
      ...(journal.reversedBy
        ? [
            {
              label: "Reversed by",
              text: journal.reversedBy.number,
              href: `/ledger/journals/${journal.reversedBy.id}?${query}`,
            },
          ]
        : []),
      ...(journal.origin
        ? [
            {
              label: "Came from",
              text: journal.origin.number,
              href: `${documentPage(journal.origin.kind, journal.origin.id)}?${query}`,
            },
          ]
        : []),
      { label: "Open", text: "the whole journal", href: `/ledger/journals/${journal.id}?${query}` },
    ],
    rows: journal.lines.slice(0, MOST_ROWS).map((l) => ({
      step: "",
      label: `${l.account} ${l.accountName}`,
      note: [...Object.values(l.dimensions), l.description].filter(Boolean).join(" · "),
      amount: l.side === "debit" ? l.amount : -l.amount,
      chosen: l.account === from,
      href: `/ledger/accounts/${l.account}?${query}`,
    })),
  };
  const reaches: Station = {
    kind: "Reaches, in the statements",
    title: "",
    facts: [],
    amount: null,
    more: 0,
    rows: [...reached.values()].map(({ outline, line, amount }) => ({
      step: "",
      label: line.label,
      note: outline.name.toLowerCase(),
      amount,
      chosen: false,
      href: `/statements/${outline.code}?${query}&trace=${encodeURIComponent(encodeTrace({ ref: { kind: "statement", code: outline.code, line: line.code, column: "this", layout: "standard" }, path: [] }))}`,
    })),
  };
  return ok([station, reaches]);
}

/**
 * What stands between two companies: the journals that made it, and the one that the path enters.
 */
async function betweenStations(
  context: Context,
  place: ReportPlace,
  ref: Extract<FigureRef, { kind: "between" }>,
  path: readonly string[],
): Promise<Result<Station[]>> {
  const other = context.masters.companyByCode.get(ref.other);
  if (!other) return fail({ code: "COMPANY_UNKNOWN", company: ref.other });
  const found = await rows<{
    journalId: bigint;
    number: string;
    date: string;
    description: string;
    amount: bigint;
  }>(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, j.description,
      sum(case when l.side = 'D' then l.foreign_amount else -l.foreign_amount end)::bigint as amount
        from journal_line l join journal j on j.id = l.journal_id
        where l.company_id = ${place.company.id} and l.counterparty_id = ${other.id}
          and l.currency = ${ref.currency} and l.date <= ${place.to.end} and l.book_id in (0,
          ${place.book.id}) and l.account_id in (select id from account
          where control = 'intercompany')
        group by l.journal_id, j.number, j.date, j.description, l.seq order by j.date desc, l.seq desc`,
  );
  const chosen = found.length === 1 ? found[0] : found.find((f) => path[0] === `j.${f.journalId}`);
  const stations: Station[] = [
    {
      kind: "Figure",
      title: `${place.company.name} with ${other.name}, in ${ref.currency}`,
      facts: [],
      rows: [],
      amount: found.reduce((sum, f) => sum + f.amount, 0n),
      more: 0,
    },
    {
      kind: `Journals, ${found.length}`,
      title: "",
      facts: [],
      amount: null,
      more: Math.max(0, found.length - MOST_ROWS),
      rows: found.slice(0, MOST_ROWS).map((f) => ({
        step: `j.${f.journalId}`,
        label: f.number,
        note: `${dateText(f.date).slice(0, -5)} · ${f.description}`,
        amount: f.amount,
        chosen: f === chosen,
        href: `/ledger/journals/${f.journalId}?company=${place.company.code}`,
      })),
    },
  ];
  if (!chosen) return ok(stations);
  const journal = await journalStation(context, place, String(chosen.journalId), null);
  return journal.ok ? ok([...stations, ...journal.value]) : journal;
}

/** The tree of a figure. */
async function buildTree(
  context: Context,
  place: ReportPlace,
  ref: Exclude<FigureRef, { kind: "journal" | "between" }>,
  withClosing: boolean,
): Promise<Result<TraceNode>> {
  const { masters } = context;
  if (ref.kind === "statement") return statementTree(context, place, ref);
  const at =
    ref.kind === "month" ? place.periods.find((p) => periodKey(p) === ref.period) : place.to;
  if (!at)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: ref.kind === "month" ? ref.period : "",
      company: place.company.name,
    });
  const first = ref.kind === "month" ? at.no : place.from.no;
  const closingToo = withClosing || ref.kind === "month";
  const before = earlierYears(place, at.yearId);
  const stretch = (from: number, to: number): TraceSpan[] =>
    to < from ? [] : [{ yearId: at.yearId, from, to, withClosing: closingToo }];
  const part = (account: Account): Part => {
    // Result accounts open each year at zero, so nothing of earlier years is in their opening.
    const opening = [...(isResult(account.type) ? [] : before), ...stretch(1, first - 1)];
    const movement = stretch(first, at.no);
    const spans =
      ref.measure === "opening"
        ? opening
        : ref.measure === "closing"
          ? [...opening, ...movement]
          : movement;
    return {
      accountId: account.id,
      spans,
      measure: ref.measure === "debit" ? "debit" : ref.measure === "credit" ? "credit" : "net",
      sign: 1,
    };
  };
  const what = {
    opening: "opening",
    debit: "debits",
    credit: "credits",
    closing: "closing",
    movement: "movement",
  }[ref.measure];
  const span =
    ref.kind === "month"
      ? periodName(at)
      : place.from === place.to
        ? periodName(place.to)
        : `${place.from.name} to ${periodName(place.to)}`;
  if (ref.kind === "month" || ref.of === "account") {
    const text = ref.kind === "month" ? ref.account : ref.code;
    const accounts = readAccounts(text, masters);
    if (!accounts) return fail({ code: "ACCOUNT_UNKNOWN", account: text });
    const name =
      accounts.length === 1 ? `${accounts[0]!.number} ${accounts[0]!.name}` : `Accounts ${text}`;
    return ok({ key: "root", label: `${name}, ${what}, ${span}`, parts: accounts.map(part) });
  }
  const heading =
    ref.of === "heading" ? masters.headings.find((h) => h.code === ref.code) : undefined;
  if (ref.of === "heading" && !heading)
    return fail({ code: "NOT_FOUND", what: `heading ${ref.code}` });
  const node = (headingId: number | null): TraceNode[] => [
    ...masters.headings
      .filter((h) => h.parentId === headingId)
      .map((h): TraceNode => ({ key: h.code, label: `${h.code} ${h.name}`, children: node(h.id) })),
    ...(headingId === null
      ? []
      : [
          {
            key: "accounts",
            label: "Accounts",
            parts: masters.accounts
              .filter((a) => a.headingId === headingId && a.type !== "units")
              .map(part),
          },
        ].filter((n) => n.parts.length > 0)),
  ];
  return ok({
    key: "root",
    label: `${heading ? `${heading.code} ${heading.name}` : "All accounts"}, ${what}, ${span}`,
    children: node(heading?.id ?? null),
  });
}

/**
 * All that was posted in the years before one: what its opening balances are made of, closings
 * included.
 */
const earlierYears = (place: ReportPlace, yearId: number): TraceSpan[] => {
  const start = place.years.find((y) => y.id === yearId)!.start;
  return place.years
    .filter((y) => y.start < start)
    .map((y) => ({ yearId: y.id, from: 1, to: 99, withClosing: true }));
};

async function statementTree(
  context: Context,
  place: ReportPlace,
  ref: Extract<FigureRef, { kind: "statement" }>,
): Promise<Result<TraceNode>> {
  const { masters } = context;
  const outline = (await readOutlines(context.tx, place.asKnown)).find((o) => o.code === ref.code);
  const line = outline?.lines.find((l) => l.code === ref.line);
  if (!outline || !line) return fail({ code: "NOT_FOUND", what: "such line" });
  const { from, to, years, periods } = place;
  const layout = layoutOf(ref.layout, outline, to, years, periods);
  const columns = resolveColumns(layout, outline.kind, to, years, periods, from);
  const column = columns.find((c) => c.key === ref.column);
  if (!column) return fail({ code: "NOT_FOUND", what: "such column" });
  const { lineOf } = catchAccounts(outline, masters.accounts);
  const position = outline.kind === "position";
  const results = masters.accounts.filter((a) => isResult(a.type));

  const nodeOf = (
    l: OutlineLine,
    span: { yearId: number; from: number; to: number },
    sign: 1 | -1,
    depth = 0,
  ): TraceNode => {
    const own: TraceSpan = {
      yearId: span.yearId,
      from: Math.max(1, position ? 1 : span.from),
      to: span.to,
      withClosing: false,
    };
    const parts = (accounts: readonly Account[], spans: readonly TraceSpan[]): TraceNode => ({
      key: l.code,
      label: l.label,
      parts: accounts.map((a) => ({ accountId: a.id, spans, measure: "net", sign })),
    });
    switch (l.kind) {
      case "accounts":
        return parts(
          masters.accounts.filter((a) => lineOf.get(a.id) === l.code),
          position ? [...earlierYears(place, span.yearId), own] : [own],
        );
      case "result":
        return parts(results, [own]);
      case "uncarried":
        return parts(results, earlierYears(place, span.yearId));
      case "total":
        return {
          key: l.code,
          label: l.label,
          children:
            depth > 50
              ? []
              : (l.of ?? []).flatMap((code) => {
                  const child = outline.lines.find((x) => x.code === code);
                  return child ? [nodeOf(child, span, sign, depth + 1)] : [];
                }),
        };
      case "heading":
        return { key: l.code, label: l.label, parts: [] };
    }
  };
  const sign = line.positive === "debit" ? 1 : -1;
  const label = `${line.label}, ${column.label}`;
  if (column.span) return ok({ ...nodeOf(line, column.span, sign), key: "root", label });
  const [a, b] = (column.of ?? []).map((key) => columns.find((c) => c.key === key));
  if (!a?.span || !b?.span) return fail({ code: "NOT_FOUND", what: "figure in this column" });
  return ok({
    key: "root",
    label: `${line.label}, ${a.label} less ${b.label}`,
    children: [
      { ...nodeOf(line, a.span, sign), key: a.key, label: a.label },
      { ...nodeOf(line, b.span, sign === 1 ? -1 : 1), key: b.key, label: `less ${b.label}` },
    ],
  });
}

/** Turnover of the accounts by period, closing journals apart, as the place knows it. */
async function loadCells(
  { tx }: Context,
  place: ReportPlace,
  accountIds: readonly number[],
  values: readonly number[][],
): Promise<Cells> {
  if (accountIds.length === 0) return new Map();
  const coded = values.length > 0;
  const condition = meets(values);
  const stored = await rows<Cell>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.closing,
      b.account_id as "accountId", sum(b.debit)::bigint as debit, sum(b.credit)::bigint as credit
        from ${coded ? sql`coding_balance b join coding k on k.id = b.coding_id` : sql`account_balance b`}
        where b.company_id = ${place.company.id} and b.book_id in (0, ${place.book.id})
          and b.period_no > 0 and b.account_id = any(${arrayOf(accountIds)}::int[]) ${condition}
          group by 1, 2, 3, 4`,
  );
  if (place.asKnownSeq === undefined) return cellsByAccount(stored);
  const later = await rows<Cell>(
    tx,
    sql`select b.year_id as "yearId", b.period_no as "periodNo", b.closing,
      b.account_id as "accountId", -coalesce(sum(b.amount) filter (where b.side = 'D'),
      0)::bigint as debit, -coalesce(sum(b.amount) filter (where b.side = 'C'), 0)::bigint as credit
        from journal_line b join coding k on k.id = b.coding_id
          where b.company_id = ${place.company.id} and b.seq > ${place.asKnownSeq}
          and b.book_id in (0, ${place.book.id})
          and b.account_id = any(${arrayOf(accountIds)}::int[]) ${condition} group by 1, 2, 3, 4`,
  );
  return cellsByAccount([...stored, ...later]);
}
