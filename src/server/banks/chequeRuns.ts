import { sql } from "drizzle-orm";
import { decodeJson, fail, ok, type Result } from "@/core/shared";
import { arrayOf, insertAll, rows, schema, type Db } from "../db";
import { type Context } from "../access";
import { readBankPaper } from "./papers";
import type { PaymentRunDetail, RunPayment } from "./postedPayments";

interface RunHead {
  id: number;
  number: string;
  company: string;
  companyId: number;
  status: string;
  bankId: number;
  bank: string;
  /** The highest number that was used on the bank account; 0 before the first. */
  lastCheque: number;
  date: string;
  detail: PaymentRunDetail;
  overrides: { dropped: string[]; amounts: Record<string, string> };
}

/** A payment run with what it pays, held for this transaction. */
export async function lockRun(context: Context, id: number): Promise<Result<RunHead>> {
  const [row] = await rows<Omit<RunHead, "id" | "detail"> & { id: bigint; detail: string }>(
    context.tx,
    sql`select r.id, d.number, c.code as company, c.id as "companyId", d.status, b.id as "bankId", b.code as bank,
      b.last_cheque::int as "lastCheque",
      r.params->>'date' as date, r.detail::text as detail, r.overrides
        from run r join document d on d.id = r.id join company c on c.id = r.company_id
          join bank_account b on b.code = r.params->>'bank'
          where r.id = ${id} and r.kind = 'payment' for update of r, b`,
  );
  if (!row) return fail({ code: "NOT_FOUND", what: "such payment run" });
  if (!context.may("post.payables", row.company))
    return fail({ code: "FORBIDDEN", what: `print cheques of ${row.company}` });
  return ok({ ...row, id: Number(row.id), detail: decodeJson<PaymentRunDetail>(row.detail) });
}

/**
 * Numbers for cheques. Free ones follow the first on the paper in hand; in a series they are those of
 * spoilt forms, where these are given again, and then what follows the last. None may have been used.
 */
export async function numbersFrom(
  { tx }: Context,
  run: RunHead,
  first: number | null | "next",
  count: number,
): Promise<Result<number[]>> {
  const { layout } = await readBankPaper(tx, { id: run.bankId, code: run.bank }, "cheque");
  const spoilt = layout.reuseSpoilt ? await spoiltNumbers(tx, run.bankId) : [];
  const free = layout.numbers === "free";
  if (free && first === null)
    return fail({ code: "REQUIRED", what: "The first number on the paper", field: "first" });
  const from = first === "next" ? run.lastCheque + 1 : first!;
  const wanted = free
    ? Array.from({ length: count }, (_, i) => from + i)
    : [
        ...spoilt.slice(0, count),
        ...Array.from(
          { length: Math.max(0, count - spoilt.length) },
          (_, i) => run.lastCheque + 1 + i,
        ),
      ];
  if (!free && typeof first === "number" && first !== wanted[0])
    return fail({
      code: "INVALID",
      what: `The numbers of ${run.bank} go on by themselves: the next one is ${wanted[0]}`,
      field: "first",
    });
  const used = await rows<{ number: bigint; payee: string }>(
    tx,
    sql`select number, payee from cheque
      where bank_account_id = ${run.bankId} and number = any(${arrayOf(wanted)}::bigint[])
        and not reused and not number = any(${arrayOf(spoilt)}::bigint[])
      order by number`,
  );
  if (used.length > 0)
    return fail({
      code: "IN_USE",
      what: `Number ${used[0]!.number} was used for a cheque to ${used[0]!.payee}; a number is used once. Look at the paper again`,
      field: "first",
    });
  const again = wanted.filter((n) => spoilt.includes(n));
  if (again.length > 0)
    await tx.execute(
      sql`update cheque set reused = true where bank_account_id = ${run.bankId}
        and state = 'voided' and number = any(${arrayOf(again)}::bigint[])`,
    );
  return ok(wanted);
}

/** Numbers of forms that were spoilt and not given again, the lowest first. */
const spoiltNumbers = async (tx: Db, bankId: number): Promise<number[]> =>
  (
    await rows<{ number: bigint }>(
      tx,
      sql`select number from cheque
        where bank_account_id = ${bankId} and state = 'voided' and not reused order by number`,
    )
  ).map((c) => Number(c.number));

/** The payments of a posted run, by the first item that each settles. */
export async function paymentsByItem(
  { tx }: Context,
  run: number,
): Promise<Map<number, { id: number; status: string }>> {
  const found = await rows<{ id: bigint; status: string; item: bigint }>(
    tx,
    sql`select d.id, d.status, min(t.item_id) as item from payment p
      join document d on d.id = p.document_id join payment_item t on t.payment_id = d.id
      where p.run_id = ${run} group by d.id, d.status`,
  );
  return new Map(found.map((f) => [Number(f.item), { id: Number(f.id), status: f.status }]));
}

export const firstItem = (p: RunPayment): number => Math.min(...p.items.map((i) => i.item));

export async function issue(
  context: Context,
  run: RunHead,
  payments: readonly RunPayment[],
  numbers: readonly number[],
  paymentIds: readonly (number | null)[] = [],
): Promise<void> {
  const { tx, person, now } = context;
  await insertAll(
    tx,
    schema.cheque,
    payments.map((p, i) => ({
      bankAccountId: run.bankId,
      number: numbers[i]!,
      runId: run.id,
      paymentKey: p.key,
      paymentId: paymentIds[i] ?? null,
      payee: p.payee,
      date: run.date,
      currency: p.currency,
      amount: p.amount,
      printedBy: person.id,
      printedAt: now,
    })),
  );
  await tx.execute(
    sql`update bank_account set last_cheque = greatest(last_cheque, ${Math.max(...numbers)})
      where id = ${run.bankId}`,
  );
}

/** Payment runs are approved as a whole. */
export const AS_ONE = { approved: "as one" } as const;

/** So many numbers at once are a slip of the finger, not lost paper. */
const MOST_MISSING = 200;

/** Notes the numbers that are passed over, each with what became of its paper. */
export async function passOver(
  { tx, person, now }: Context,
  run: RunHead,
  first: number,
  reason: string,
): Promise<Result<number[]>> {
  const { lastCheque } = run;
  if (lastCheque === 0 || first <= lastCheque + 1) return ok([]);
  const missing = Array.from({ length: first - lastCheque - 1 }, (_, i) => lastCheque + 1 + i);
  const named =
    missing.length === 1 ? `Number ${missing[0]} is` : `Numbers ${missing[0]} to ${first - 1} are`;
  if (missing.length > MOST_MISSING)
    return fail({
      code: "INVALID",
      what: `${named} passed over, ${missing.length} of them. Look at the paper again`,
      field: "first",
    });
  if (reason.length < 5)
    return fail({
      code: "REQUIRED",
      what: `${named} passed over. What became of that paper, in a few words,`,
      field: "missing",
    });
  await tx.execute(sql`
    insert into cheque (bank_account_id, number, run_id, payment_key, payee, date, currency, amount,
      state, reason, printed_by, printed_at, decided_by, decided_at)
    select ${run.bankId}, x.number, ${run.id}, 'missing ' || x.number, '', ${run.date}, b.currency,
      0, 'missing', ${reason}, ${person.id}, ${now.toISOString()}, ${person.id},
      ${now.toISOString()}
    from unnest(${arrayOf(missing)}::bigint[]) as x(number)
      join bank_account b on b.id = ${run.bankId}`);
  return ok(missing);
}
