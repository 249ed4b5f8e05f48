import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  periodKey,
  periodName,
  stateOf,
  type Company,
  type Period,
  type PeriodState,
} from "@/core/organisation";
import { fail, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import type { CloseCheck, CloseCheckKind } from "../checks";
import { depreciationCharged } from "../assets";
import { banksReconciled } from "../banks";
import { balancesEqualLines, findPlace, noDrafts, partnersNamed } from "../ledger";
import { loadPeriods, type CloseGuard } from "../organisation";
import { receivedInvoiced } from "../purchasing";
import { revenueReleased } from "../receivables";
import { statementsWhole } from "../statements";
import { listsEqualAccounts } from "../subLedgers";
import { areasClosed, earlierClosed } from "./periodChecks";

/** The checks of a close in the order in which people read them. Each is defined by its area. */
const CHECKS: readonly CloseCheckKind[] = [
  noDrafts,
  earlierClosed,
  areasClosed,
  balancesEqualLines,
  partnersNamed,
  listsEqualAccounts,
  receivedInvoiced,
  revenueReleased,
  depreciationCharged,
  banksReconciled,
  statementsWhole,
];

/**
 * The checks of a close, for one book and a stretch of periods. The computer looks; nobody ticks.
 */
export async function closeChecks(
  context: Context,
  company: Company,
  bookId: number,
  asked: readonly Period[],
): Promise<CloseCheck[]> {
  const all = await loadPeriods(context.tx, [company.id]);
  // Read anew with the states of every area, whatever the caller had loaded.
  const wanted = new Set(asked.map(periodKey));
  const closing = all.filter((p) => wanted.has(periodKey(p)));
  const from = closing.reduce((a, p) => (p.start < a ? p.start : a), closing[0]!.start);
  const to = closing.reduce((a, p) => (p.end > a ? p.end : a), closing[0]!.end);
  const last = closing[closing.length - 1]!;
  const query = `company=${company.code}&book=${context.masters.bookById.get(bookId)!.code}&period=${periodKey(last)}`;
  const place = { company, bookId, all, closing, last, from, to, query };
  const checks: CloseCheck[] = [];
  for (const { code, name, look } of CHECKS)
    checks.push({ code, name, ...(await look(context, place)) });
  return checks;
}

/** No period of the ledger closes while one of these fails. */
export const checksHold: CloseGuard = async (context, company, bookId, periods) => {
  const failing = (await closeChecks(context, company, bookId, periods)).filter(
    (c) => c.state === "fails" && c.code !== "earlier",
  );
  return failing.length === 0
    ? ok({})
    : fail({ code: "CHECKS_FAIL", count: failing.length, field: "checks" });
};

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
