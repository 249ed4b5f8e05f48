import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { AREAS } from "@/core/access";
import {
  periodKey,
  periodName,
  stateOf,
  type Company,
  type Period,
  type PeriodState,
} from "@/core/organisation";
import { catchAccounts } from "@/core/statements";
import { amountText, dateText, fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { findPlace, periodBalancesDiffer } from "../ledger";
import { balanceOn, itemsAndAccountsOn } from "../openItems";
import { guardClosing, loadPeriods } from "../organisation";
import { readOutlines } from "../statements";

export interface CloseCheck {
  code: string;
  name: string;
  state: "holds" | "fails" | "warns";
  /** What was found, in a sentence. */
  finding: string;
  /** Where to go about it. */
  door: string | null;
}

/**
 * What was computed once for a company need not be computed again for each of its books in the same
 * transaction.
 */
const balanceFindings = new WeakMap<object, Map<number, number>>();

/**
 * The checks of a close, for one book and a stretch of periods. The computer looks; nobody ticks.
 */
export async function closeChecks(
  context: Context,
  company: Company,
  bookId: number,
  asked: readonly Period[],
): Promise<CloseCheck[]> {
  const { tx, masters } = context;
  const all = await loadPeriods(tx, [company.id]);
  // Read anew with the states of every area, whatever the caller had loaded.
  const wanted = new Set(asked.map(periodKey));
  const closing = all.filter((p) => wanted.has(periodKey(p)));
  const from = closing.reduce((a, p) => (p.start < a ? p.start : a), closing[0]!.start);
  const to = closing.reduce((a, p) => (p.end > a ? p.end : a), closing[0]!.end);
  const last = closing[closing.length - 1]!;
  const query = `company=${company.code}&book=${masters.bookById.get(bookId)!.code}&period=${periodKey(last)}`;
  const checks: CloseCheck[] = [];

  const drafts = await rows<{ id: bigint; title: string }>(
    tx,
    sql`select id, title from document where kind = 'journal' and status in ('draft', 'waiting')
      and company_id = ${company.id} and date between ${from} and ${to} order by date`,
  );
  checks.push({
    code: "drafts",
    name: "No drafts dated in the period",
    state: drafts.length === 0 ? "holds" : "fails",
    finding:
      drafts.length === 0
        ? `Nothing unposted between ${dateText(from)} and ${dateText(to)}.`
        : `${drafts.length === 1 ? "One draft waits" : `${drafts.length} drafts wait`}: ${drafts
            .slice(0, 3)
            .map((d) => d.title)
            .join("; ")}${drafts.length > 3 ? " …" : ""}.`,
    door:
      drafts.length === 0
        ? null
        : drafts.length === 1
          ? `/ledger/journals/${drafts[0]!.id}?${query}`
          : `/ledger/journals?${query}&status=draft`,
  });

  const chosen = new Set(closing.map(periodKey));
  const earlier = all.filter(
    (p) =>
      (p.start < from || (p.start === from && p.no < closing[0]!.no)) &&
      !chosen.has(periodKey(p)) &&
      stateOf(p, bookId, "ledger") !== "closed" &&
      !(p.adjustment && p.end >= from),
  );
  checks.push({
    code: "earlier",
    name: "Earlier periods are closed",
    state: earlier.length === 0 ? "holds" : "fails",
    finding:
      earlier.length === 0
        ? "Every period before this one is closed."
        : `${periodName(earlier[0]!)} is ${stateOf(earlier[0]!, bookId, "ledger").replace("not-yet", "not yet open")}.`,
    door:
      earlier.length === 0
        ? null
        : `/close?company=${company.code}&book=${masters.bookById.get(bookId)!.code}&period=${periodKey(earlier[0]!)}`,
  });

  const open = AREAS.filter((a) => a !== "ledger" && a !== "stock").filter((a) =>
    closing.some((p) => !p.adjustment && stateOf(p, bookId, a) !== "closed"),
  );
  checks.push({
    code: "areas",
    name: "Areas have closed the period",
    state: open.length === 0 ? "holds" : "warns",
    finding:
      open.length === 0
        ? "Payables, receivables, banks and assets are closed."
        : `Still open: ${open.join(", ")}. Nothing more can reach the ledger from there once it closes.`,
    door: open.length === 0 ? null : `/setup/periods?${query}`,
  });

  const memo = balanceFindings.get(tx) ?? new Map<number, number>();
  balanceFindings.set(tx, memo);
  const differences = memo.get(company.id) ?? (await periodBalancesDiffer(tx, company.id, closing));
  memo.set(company.id, differences);
  checks.push({
    code: "balances",
    name: "Balances equal the journal lines",
    state: differences === 0 ? "holds" : "fails",
    finding:
      differences === 0
        ? `The stored balances of ${closing.length === 1 ? periodName(last) : `${closing.length} periods`} were rebuilt from the lines, and agree.`
        : `${differences} balances differ from the lines they are made of. Run verify before anything else.`,
    door: differences === 0 ? null : `/close/verify?${query}`,
  });

  const nameless = await rows<{ account: string; n: number }>(
    tx,
    sql`select a.number as account, count(*)::int as n from journal_line l
      join account a on a.id = l.account_id
        where l.company_id = ${company.id} and l.account_id in (select id from account
          where control in ('payables', 'receivables', 'intercompany'))
          and l.year_id = any(${arrayOf(closing.map((p) => p.yearId))}::int[])
          and l.period_no = any(${arrayOf(closing.map((p) => p.no))}::smallint[])
          and l.partner is null and l.counterparty_id is null group by 1 order by 1`,
  );
  checks.push({
    code: "control",
    name: "Control accounts name their partners",
    state: nameless.length === 0 ? "holds" : "warns",
    finding:
      nameless.length === 0
        ? "Every line on suppliers, customers and group accounts belongs to somebody."
        : `${nameless.map((n) => `${n.n} ${n.n === 1 ? "line" : "lines"} on ${n.account}`).join(", ")} without a partner.`,
    door: nameless.length === 0 ? null : `/ledger/accounts/${nameless[0]!.account}?${query}`,
  });

  const apart = (await itemsAndAccountsOn(context, company.id, to)).filter(
    (x) => x.balance !== x.items,
  );
  checks.push({
    code: "open-items",
    name: "Open items equal their control accounts",
    state: apart.length === 0 ? "holds" : "fails",
    finding:
      apart.length === 0
        ? `What was left of all items of suppliers and customers on ${dateText(to)} is what their accounts held.`
        : apart
            .map(
              (x) =>
                `${x.account} held ${amountText(x.balance, company.currency)} on ${dateText(to)}, its items ${amountText(x.items, company.currency)}`,
            )
            .join("; ") + ".",
    door: apart.length === 0 ? null : `/ledger/accounts/${apart[0]!.account}?${query}`,
  });

  const received = masters.accounts.filter((a) => a.control === "GRNI");
  const [leftovers] = await rows<{ left: bigint; old: number }>(
    tx,
    sql`select (select coalesce(sum(functional), 0)::bigint from grni_entry
        where company_id = ${company.id} and date <= ${to}) as "left",
      (select count(*)::int from (select e.receipt_line_id from grni_entry e
        join receipt_line r on r.id = e.receipt_line_id
        where e.company_id = ${company.id} and r.date < ${to}::date - 90 and e.date <= ${to}
        group by 1 having sum(e.functional) <> 0) x) as old`,
  );
  const grni = {
    ...leftovers!,
    account: received.map((a) => a.number).join(", "),
    balance: -(await balanceOn(
      context,
      company.id,
      received.map((a) => a.id),
      { on: to },
    )),
  };
  const differ = grni.balance !== grni.left;
  checks.push({
    code: "received",
    name: "Received, not invoiced, equals its control account and is not old",
    state: differ ? "fails" : grni.old > 0 ? "warns" : "holds",
    finding: differ
      ? `${grni.account} held ${amountText(grni.balance, company.currency)} on ${dateText(to)}, the leftovers came to ${amountText(grni.left, company.currency)}.`
      : grni.old > 0
        ? `${grni.old === 1 ? "One leftover is" : `${grni.old} leftovers are`} older than 90 days. Ask for the invoice, or clean up.`
        : `What is received and not invoiced is what ${grni.account} holds, and none of it is older than 90 days.`,
    door: differ || grni.old > 0 ? `/payables/received?${query}` : null,
  });

  const used = await rows<{ accountId: number }>(
    tx,
    sql`select distinct account_id as "accountId" from account_balance where company_id = ${company.id}`,
  );
  const accounts = used.map((u) => masters.accountById.get(u.accountId)!);
  const missing: string[] = [];
  for (const outline of await readOutlines(tx)) {
    const { uncaught, caughtTwice } = catchAccounts(outline, accounts);
    missing.push(
      ...uncaught.map((a) => `${a.number} is on no line of the ${outline.name.toLowerCase()}`),
      ...caughtTwice.map((a) => `${a.number} is on two lines of the ${outline.name.toLowerCase()}`),
    );
  }
  checks.push({
    code: "statements",
    name: "Statements catch every account once",
    state: missing.length === 0 ? "holds" : "fails",
    finding:
      missing.length === 0
        ? `${accounts.length} accounts with balances, each on one line.`
        : `${missing.slice(0, 3).join("; ")}${missing.length > 3 ? ` and ${missing.length - 3} more` : ""}.`,
    door:
      missing.length === 0
        ? null
        : `${context.may("read.setup") ? "/setup/outlines" : "/statements/income-statement"}?${query}`,
  });
  return checks;
}

guardClosing(async (context, company, bookId, periods) => {
  const failing = (await closeChecks(context, company, bookId, periods)).filter(
    (c) => c.state === "fails" && c.code !== "earlier",
  );
  return failing.length === 0
    ? ok({})
    : fail({ code: "CHECKS_FAIL", count: failing.length, field: "checks" });
});

export interface CloseBoard {
  company: string;
  companyName: string;
  book: string;
  period: string;
  periodName: string;
  state: PeriodState;
  checks: CloseCheck[];
  history: {
    at: string;
    by: string;
    area: string;
    from: string;
    to: string;
    reason: string;
    chainSeq: number;
  }[];
  mayClose: boolean;
}

export const closeBoard = defineUseCase({
  name: "closeBoard",
  kind: "read",
  rights: ["read.close"],
  what: "see the close",
  company: (i) => i.company,
  schema: object({ company: string().required(), book: string(), period: string().required() }),
  run: async (context, input): Promise<Result<CloseBoard>> => {
    const found = await findPlace(context, input);
    if (!found.ok) return found;
    const { company, book, to } = found.value;
    const checks = await closeChecks(context, company, book.id, [to]);
    const history = await rows<
      Omit<CloseBoard["history"][number], "chainSeq"> & { chainSeq: bigint }
    >(
      context.tx,
      sql`select r.at, coalesce(p.name, '') as by, r.area, r.from_state as from, r.to_state as to,
        r.reason, r.chain_seq as "chainSeq" from close_record r left
        join person p on p.id = r.person_id
          where r.company_id = ${company.id} and r.book_id = ${book.id} and r.year_id = ${to.yearId}
            and r.no = ${to.no} and r.area = any(${arrayOf(["ledger"])}::text[]) order by r.id desc
            limit 50`,
    );
    return ok({
      company: company.code,
      companyName: company.name,
      book: book.code,
      period: periodKey(to),
      periodName: periodName(to),
      state: stateOf(to, book.id, "ledger"),
      checks,
      history: history.map((h) => ({ ...h, chainSeq: Number(h.chainSeq) })),
      mayClose: context.may("period.ledger", company.code),
    });
  },
});
