import { sql } from "drizzle-orm";
import { type JournalDraft } from "@/core/ledger";
import { type Conversion, convertBy, impliedRate } from "@/core/rates";
import {
  fail,
  minor,
  ok,
  proportion,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { type Context } from "../access";
import { documentLinks } from "../documents";
import { postDrafts } from "../ledger";
import { storeEntries, type EntryToStore } from "./grniEntries";
import { type LineToReceive } from "./receiveOrder";

interface Accrual {
  id: number;
  number: string;
  date: CalendarDate;
  currency: string;
  rate: Conversion;
  company: string;
  supplier: string;
  order: string;
  grni: string;
}

/**
 * Posts what a receipt accrues; what costs nothing accrues nothing, and its invoice is compared
 * with the order alone. What goes back is first taken from what is not invoiced yet, at the value
 * at which that was accrued; the rest waits for a credit note.
 */
export async function accrue(
  context: Context,
  receipt: Accrual,
  all: readonly { line: LineToReceive; quantity: bigint; receiptLine: number }[],
): Promise<Result<string | null>> {
  const { tx, masters } = context;
  const taken = all.filter(({ line }) => line.net + line.burden !== 0n);
  const functionalCurrency = masters.companyByCode.get(receipt.company)!.currency;
  const functionalOf = (foreign: bigint): bigint =>
    convertBy(minor(foreign), receipt.currency, functionalCurrency, receipt.rate);
  const entries: Omit<EntryToStore, "journalId" | "seq" | "companyId">[] = [];
  // One for each rate: what goes back does so at the rate at which its lot was carried.
  const values: { line: LineToReceive; foreign: bigint; functional: bigint; rate: Conversion }[] =
    [];
  const carriedAt = (foreign: bigint, functional: bigint): Conversion => {
    if (receipt.rate === "same") return "same";
    const { currency } = receipt;
    const rate = impliedRate(minor(foreign), currency, minor(functional), functionalCurrency);
    return rate === null || Number(rate) === 0 ? receipt.rate : { rate };
  };
  const accrued = new Map(
    (
      await rows<{ id: bigint; quantity: bigint; foreign: bigint }>(
        tx,
        sql`select r.order_line_id as id, sum(e.quantity)::bigint as quantity,
            sum(e."foreign")::bigint as foreign
          from goods_receipt_line r join grni_entry e on e.receipt_line_id = r.id
          where r.order_line_id = any(${arrayOf(taken.map((t) => t.line.id))}::bigint[])
            and e.kind in ('received', 'returned') group by 1`,
      )
    ).map((a) => [a.id, a]),
  );
  for (const { line, quantity, receiptLine } of taken) {
    let open = quantity;
    let foreignBack = 0n;
    if (quantity < 0n) {
      const lots = await rows<{
        id: bigint;
        quantity: bigint;
        foreign: bigint;
        functional: bigint;
        cleaned: bigint;
      }>(
        tx,
        sql`select r.id, sum(e.quantity)::bigint as quantity,
          sum(case when e.kind not in ('cleaned', 'reopened') then e."foreign"
          else 0 end)::bigint as foreign, sum(case when e.kind not in ('cleaned',
          'reopened') then e.functional else 0 end)::bigint as functional,
          sum(case when e.kind in ('cleaned', 'reopened') then -e.functional
          else 0 end)::bigint as cleaned
            from goods_receipt_line r join grni_entry e on e.receipt_line_id = r.id
              where r.order_line_id = ${line.id} group by r.id having sum(e.quantity) > 0
              order by r.id desc`,
      );
      for (const lot of lots) {
        if (open === 0n) break;
        // What was written off is gone from the account; it is not sent back a second time.
        if (lot.cleaned !== 0n) continue;
        const back = lot.quantity < -open ? lot.quantity : -open;
        const [foreign, functional] = [
          proportion(lot.foreign, back, lot.quantity),
          proportion(lot.functional, back, lot.quantity),
        ];
        entries.push({
          receiptLineId: Number(lot.id),
          kind: "returned",
          documentId: receipt.id,
          date: receipt.date,
          quantity: -back,
          foreign: minor(-foreign),
          functional: minor(-functional),
        });
        values.push({
          line,
          foreign: -foreign,
          functional: -functional,
          rate: carriedAt(foreign, functional),
        });
        foreignBack -= foreign;
        open += back;
      }
    }
    if (open !== 0n) {
      // The value of all that came so far, less what was accrued of it: what receipts would round
      // each by itself does not add up.
      const before = accrued.get(line.id) ?? { quantity: 0n, foreign: 0n };
      const back = { quantity: quantity - open, foreign: foreignBack };
      const reached = before.quantity + back.quantity + open;
      const foreign =
        proportion(line.net + line.burden, reached, line.quantity) - before.foreign - back.foreign;
      const functional = functionalOf(foreign);
      entries.push({
        receiptLineId: receiptLine,
        kind: open > 0n ? "received" : "returned",
        documentId: receipt.id,
        date: receipt.date,
        quantity: open,
        foreign: minor(foreign),
        functional: minor(functional),
      });
      values.push({ line, foreign, functional, rate: receipt.rate });
    }
  }
  const foreignJournal = receipt.rate !== "same";
  const size = (n: bigint): Minor => minor(n < 0n ? -n : n);
  const draft: JournalDraft = {
    company: receipt.company,
    type: "purchase",
    book: null,
    date: receipt.date,
    ...(foreignJournal ? { currency: receipt.currency } : {}),
    description: `Received from ${receipt.supplier}, ${receipt.order}`.slice(0, 200),
    reference: receipt.number,
    origin: receipt.id,
    lines: values
      .filter((v) => v.functional !== 0n || v.foreign !== 0n)
      .flatMap((v) => {
        const back = (v.functional === 0n ? v.foreign : v.functional) < 0n;
        const amounts = {
          amount: size(v.functional),
          ...(foreignJournal
            ? { foreignAmount: size(v.foreign), ...(v.rate === "same" ? {} : v.rate) }
            : {}),
          description: v.line.description,
        };
        return [
          {
            account: v.line.account,
            written: true as const,
            dimensions: v.line.dimensions,
            side: back ? ("credit" as const) : ("debit" as const),
            ...amounts,
          },
          {
            account: receipt.grni,
            dimensions: {},
            side: back ? ("debit" as const) : ("credit" as const),
            ...amounts,
          },
        ];
      }),
  };
  if (draft.lines.length === 0) return ok(null);
  const posted = await postDrafts(context, [draft], {});
  if (!posted.ok)
    return fail(
      ...(posted.problems.map((p) =>
        p.code === "FORBIDDEN"
          ? {
              ...p,
              what: "receive goods that are accrued at once; somebody who posts payables has to",
            }
          : p,
      ) as [Found, ...Found[]]),
    );
  const [journal] = posted.value;
  const companyId = masters.companyByCode.get(receipt.company)!.id;
  await storeEntries(
    context,
    entries.map((e) => ({ ...e, companyId, journalId: journal!.id, seq: journal!.seq })),
  );
  await documentLinks(tx, "made", [[receipt.id, journal!.id]]);
  return ok(journal!.number);
}
