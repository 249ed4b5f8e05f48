import path from "node:path";
import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { amountInWords, chequeLine, magneticLine, type PlannedPayment } from "@/core/payables";
import type { Proposal } from "@/core/runs";
import {
  amountText,
  dateText,
  decodeJson,
  fail,
  minor,
  ok,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context, companiesOf, lockChains } from "../access";

import { approvalOfRun, changeRun } from "../runs";
import type { PaymentRunDetail, RunPayment } from "./paymentRun";
import { undoPayment } from "./payments";

interface RunHead {
  id: number;
  number: string;
  company: string;
  companyId: number;
  status: string;
  bankId: number;
  /** The highest number that was used on the bank account; 0 before the first. */
  lastCheque: number;
  date: string;
  detail: PaymentRunDetail;
  proposal: Proposal;
  overrides: { dropped: string[]; amounts: Record<string, string> };
}

/** A payment run with what it pays, held for this transaction. */
async function lockRun(context: Context, id: number): Promise<Result<RunHead>> {
  const [row] = await rows<
    Omit<RunHead, "id" | "detail" | "proposal"> & { id: bigint; proposal: string }
  >(
    context.tx,
    sql`select r.id, d.number, c.code as company, c.id as "companyId", d.status, b.id as "bankId",
      b.last_cheque::int as "lastCheque",
      r.params->>'date' as date, r.proposal::text as proposal, r.overrides
        from run r join document d on d.id = r.id join company c on c.id = r.company_id
          join bank_account b on b.code = r.params->>'bank'
          where r.id = ${id} and r.kind = 'payment' for update of r, b`,
  );
  if (!row) return fail({ code: "NOT_FOUND", what: "such payment run" });
  if (!context.may("post.payables", row.company))
    return fail({ code: "FORBIDDEN", what: `print cheques of ${row.company}` });
  const { proposal: text, ...head } = row;
  const proposal = decodeJson<Proposal>(text);
  return ok({
    ...head,
    id: Number(row.id),
    proposal,
    detail: proposal.detail as PaymentRunDetail,
  });
}

/**
 * Numbers for cheques: those that follow the first one on the paper in hand. None may have been
 * used.
 */
async function numbersFrom(
  { tx }: Context,
  bankId: number,
  first: number,
  count: number,
): Promise<Result<number[]>> {
  const wanted = Array.from({ length: count }, (_, i) => first + i);
  const used = await rows<{ number: bigint; payee: string }>(
    tx,
    sql`select number, payee from cheque
      where bank_account_id = ${bankId} and number = any(${arrayOf(wanted)}::bigint[])
      order by number`,
  );
  if (used.length > 0)
    return fail({
      code: "IN_USE",
      what: `Number ${used[0]!.number} was used for a cheque to ${used[0]!.payee}; a number is used once. Look at the paper again`,
      field: "first",
    });
  return ok(wanted);
}

/** The payments of a posted run, by the first item that each settles. */
async function paymentsByItem(
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
const firstItem = (p: RunPayment): number => Math.min(...p.items.map((i) => i.item));

async function issue(
  context: Context,
  run: RunHead,
  payments: readonly RunPayment[],
  numbers: readonly number[],
  paymentIds: readonly (number | null)[] = [],
): Promise<void> {
  const { tx, person, now } = context;
  const column = <T extends string | number | bigint | null>(
    pick: (p: PlannedPayment, i: number) => T,
  ) => arrayOf(payments.map(pick));
  await tx.execute(sql`
    insert into cheque (bank_account_id, number, run_id, payment_key, payment_id, payee, date,
      currency, amount, printed_by, printed_at)
    select ${run.bankId}, x.number, ${run.id}, x.key, x.payment, x.payee, ${run.date}, x.currency,
      x.amount, ${person.id}, ${now.toISOString()}
    from unnest(${arrayOf(numbers)}::bigint[], ${column((p) => p.key)}::text[],
      ${arrayOf(payments.map((_, i) => paymentIds[i] ?? null))}::bigint[],
      ${column((p) => p.payee)}::text[], ${column((p) => p.currency)}::char(3)[],
      ${column((p) => p.amount)}::bigint[]) as x(number, key, payment, payee, currency, amount)`);
  await tx.execute(
    sql`update bank_account set last_cheque = greatest(last_cheque, ${numbers.at(-1)!})
      where id = ${run.bankId}`,
  );
}

/** Payment runs are approved as a whole. */
const AS_ONE = { approved: "as one" } as const;

/** So many numbers at once are a slip of the finger, not lost paper. */
const MOST_MISSING = 200;

/** Notes the numbers that are passed over, each with what became of its paper. */
async function passOver(
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

/**
 * Gives numbers to the cheques of a run that have none, from the number that the clerk reads off
 * the paper in hand: before it is posted, so that what is posted is what left the house; where a
 * second person has to release the run, only after that, since a cheque carries its signature.
 */
export const printCheques = defineUseCase({
  name: "printCheques",
  kind: "write",
  rights: ["post.payables"],
  what: "print cheques",
  of: "checked",
  schema: object({
    run: number().integer().required(),
    first: number()
      .typeError("Type the first number on the paper")
      .integer()
      .required("Type the first number on the paper")
      .min(1)
      .max(99_999_999),
    /** What became of the paper whose numbers are passed over. */
    missing: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ from: number; to: number }>> => {
    const found = await lockRun(context, input.run);
    if (!found.ok) return found;
    const run = found.value;
    if (run.status !== "preview" && run.status !== "posted")
      return fail({ code: "RUN_STATE", state: run.status });
    const approval =
      run.status === "preview" ? await approvalOfRun(context, AS_ONE, run.proposal) : null;
    if (approval)
      return fail({
        code: "IN_USE",
        what: `A second person has to release the run (${approval.why}); its cheques get their numbers after that`,
      });
    const paid = run.status === "posted" ? await paymentsByItem(context, run.id) : null;
    const live = new Set(
      (
        await rows<{ key: string }>(
          context.tx,
          sql`select payment_key as key from cheque where run_id = ${run.id} and state = 'printed'`,
        )
      ).map((c) => c.key),
    );
    const wanted = run.detail.payments.filter(
      (p) =>
        p.method === "cheque" &&
        !live.has(p.key) &&
        (paid === null || paid.get(firstItem(p))?.status === "posted"),
    );
    if (wanted.length === 0)
      return fail({
        code: "IN_USE",
        what: "Every cheque of this run is printed; copies can be printed, marked as such",
      });
    const numbers = await numbersFrom(context, run.bankId, input.first, wanted.length);
    if (!numbers.ok) return numbers;
    const passed = await passOver(context, run, input.first, input.missing);
    if (!passed.ok) return passed;
    await issue(
      context,
      run,
      wanted,
      numbers.value,
      wanted.map((p) => paid?.get(firstItem(p))?.id ?? null),
    );
    await context.audit({
      action: "cheques printed",
      kind: "run",
      recordId: run.id,
      label: run.number,
      companyId: run.companyId,
      after: {
        from: numbers.value[0],
        to: numbers.value.at(-1),
        ...(passed.value.length > 0 ? { missing: passed.value, reason: input.missing } : {}),
      },
    });
    return ok({ from: numbers.value[0]!, to: numbers.value.at(-1)! });
  },
});

/**
 * A spoilt cheque: void, and printed anew under the next number; or, before its run is posted, its
 * items go back to unpaid.
 */
export const voidCheque = defineUseCase({
  name: "voidCheque",
  kind: "write",
  rights: ["post.payables"],
  what: "void cheques",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
    then: string()
      .oneOf(["print anew", "leave unpaid"] as const)
      .required("Say what becomes of the payment"),
    next: number().integer().min(1).max(99_999_999),
  }),
  run: async (context, input): Promise<Result<{ number: number | null }>> => {
    const { tx, person, now } = context;
    const [cheque] = await rows<{
      runId: bigint;
      number: bigint;
      key: string;
      state: string;
      paymentId: bigint | null;
    }>(
      tx,
      sql`select run_id as "runId", number, payment_key as key, state, payment_id as "paymentId"
        from cheque where id = ${input.id}`,
    );
    if (!cheque) return fail({ code: "NOT_FOUND", what: "such cheque" });
    const found = await lockRun(context, Number(cheque.runId));
    if (!found.ok) return found;
    const run = found.value;
    const anew = run.status === "posted" && input.then === "print anew";
    if (run.status !== "preview" && !anew)
      return fail({
        code: "IN_USE",
        what: "The payment is posted; cancel the cheque instead, which reverses it",
      });
    if (cheque.state !== "printed") return fail({ code: "RUN_STATE", state: cheque.state });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const voided = await rows(
      tx,
      sql`update cheque set state = 'voided', reason = ${input.reason}, decided_by = ${person.id},
        decided_at = ${now.toISOString()} where id = ${input.id} and state = 'printed'
        returning id`,
    );
    if (voided.length === 0) return fail({ code: "RUN_STATE", state: "voided" });
    await context.audit({
      action: "cheque voided",
      kind: "run",
      recordId: run.id,
      label: `${run.number}, cheque ${cheque.number}`,
      companyId: run.companyId,
      after: { reason: input.reason, then: input.then },
    });
    const payment = run.detail.payments.find((p) => p.key === cheque.key)!;
    if (input.then === "leave unpaid") {
      const changed = await changeRun.definition.run(context, {
        key: String(run.id),
        dropped: [...run.overrides.dropped, ...payment.items.map((i) => `item|${i.item}`)],
        amounts: run.overrides.amounts,
      });
      return changed.ok ? ok({ number: null }) : changed;
    }
    const [bank] = await rows<{ last: bigint }>(
      tx,
      sql`select last_cheque as last from bank_account where id = ${run.bankId}`,
    );
    const numbers = await numbersFrom(context, run.bankId, input.next ?? Number(bank!.last) + 1, 1);
    if (!numbers.ok) return numbers;
    const passed = await passOver(context, run, numbers.value[0]!, input.reason);
    if (!passed.ok) return passed;
    const of = cheque.paymentId === null ? null : Number(cheque.paymentId);
    await issue(context, run, [payment], numbers.value, [of]);
    return ok({ number: numbers.value[0]! });
  },
});

/**
 * Cancels a cheque whose payment is posted: at once, or, where the bank account is set up so, after
 * a second person has looked at it. Its items are open again.
 */
export const cancelCheque = defineUseCase({
  name: "cancelCheque",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel cheques",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.payment]),
  schema: object({
    payment: number().integer().required(),
    reason: string().trim().default("").max(300),
    keep: string()
      .oneOf(["", "keep"] as const)
      .default(""),
  }),
  run: async (context, input): Promise<Result<{ state: string; journal: string | null }>> => {
    const { tx, person, now } = context;
    const [place] = await rows<{ company: string }>(
      tx,
      sql`select c.code as company from document d join company c on c.id = d.company_id
        where d.id = ${input.payment}`,
    );
    if (!place) return fail({ code: "NOT_FOUND", what: "such payment" });
    if (!context.may("reverse.payables", place.company))
      return fail({ code: "FORBIDDEN", what: `cancel cheques of ${place.company}` });
    await lockChains(tx, [place.company]);
    const [cheque] = await rows<{
      id: bigint;
      number: bigint;
      state: string;
      review: boolean;
      reason: string;
      decidedBy: number | null;
      company: string;
      companyId: number;
    }>(
      tx,
      sql`select q.id, q.number, q.state, b.cheque_cancelling = 'review' as review, q.reason,
        q.decided_by as "decidedBy", c.code as company, c.id as "companyId" from cheque q
        join bank_account b on b.id = q.bank_account_id join document d on d.id = q.payment_id
        join company c on c.id = d.company_id
          where q.payment_id = ${input.payment} and q.state in ('printed', 'cancelling') for update of q`,
    );
    if (!cheque)
      return fail({ code: "NOT_FOUND", what: "cheque of this payment that could be cancelled" });
    const note = (action: string, after: unknown) =>
      context.audit({
        action,
        kind: "payment",
        recordId: input.payment,
        label: `cheque ${cheque.number}`,
        companyId: cheque.companyId,
        after,
      });
    if (cheque.state === "cancelling") {
      if (input.keep === "keep") {
        await tx.execute(
          sql`update cheque set state = 'printed', reason = '', decided_by = null, decided_at = null
            where id = ${cheque.id}`,
        );
        await note("cheque kept", {});
        return ok({ state: "printed", journal: null });
      }
      if (cheque.decidedBy === person.id)
        return fail({
          code: "FORBIDDEN",
          what: "cancel a cheque that you asked to have cancelled; a second person has to look at it",
        });
    } else if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    else if (cheque.review) {
      await tx.execute(
        sql`update cheque set state = 'cancelling', reason = ${input.reason},
          decided_by = ${person.id}, decided_at = ${now.toISOString()} where id = ${cheque.id}`,
      );
      await note("cheque to be cancelled", { reason: input.reason });
      return ok({ state: "cancelling", journal: null });
    }
    const undone = await undoPayment(
      context,
      input.payment,
      "cancelled",
      cheque.state === "cancelling" ? cheque.reason : input.reason,
      null,
    );
    return undone.ok ? ok({ state: "cancelled", journal: undone.value.journal }) : undone;
  },
});

interface PrintedCheque {
  id: bigint;
  number: bigint;
  payee: string;
  date: string;
  currency: string;
  amount: bigint;
  prints: number;
  key: string;
  state: string;
}

/** The cheques of a run as one PDF, a page each. What has come out before is marked as a copy. */
export const chequesPdf = defineUseCase({
  name: "chequesPdf",
  kind: "write",
  rights: ["post.payables"],
  what: "print cheques",
  of: "checked",
  schema: object({
    run: number().integer().required(),
    cheque: number().integer(),
    /** Only those not printed yet, or only those that were; all where nothing is said. */
    fresh: boolean(),
  }),
  run: async (context, input): Promise<Result<{ name: string; content: Uint8Array }>> => {
    const found = await lockRun(context, input.run);
    if (!found.ok) return found;
    const { tx } = context;
    const cheques = await rows<PrintedCheque>(
      tx,
      sql`select id, number, payee, date, currency, amount, prints, payment_key as key, state
        from cheque
        where run_id = ${input.run} and ${
          input.cheque
            ? sql`id = ${input.cheque}`
            : sql`state =
        'printed'`
        } ${input.fresh === undefined ? sql`` : sql`and (prints = 0) = ${input.fresh}`}
        order by number`,
    );
    if (cheques.length === 0) return fail({ code: "NOT_FOUND", what: "cheque to print" });
    const [bank] = await rows<{
      bankName: string;
      chequeSort: string;
      chequeAccount: string;
      signature: string;
      company: string;
    }>(
      tx,
      sql`select b.bank_name as "bankName", b.cheque_sort as "chequeSort",
        b.cheque_account as "chequeAccount", b.signature, c.name as company from bank_account b
        join company c on c.id = b.company_id where b.id = ${found.value.bankId}`,
    );
    const stubs = new Map(found.value.detail.payments.map((p) => [p.key, p]));
    const content = await draw(
      bank!,
      cheques.map((c) => ({
        ...c,
        amount: minor(c.amount),
        copy: c.prints > 0,
        void: c.state === "voided" || c.state === "cancelled",
        payment: stubs.get(c.key),
      })),
    );
    await tx.execute(
      sql`update cheque set prints = prints + 1
        where id = any(${arrayOf(cheques.map((c) => c.id))}::bigint[])`,
    );
    await context.audit({
      action: cheques.some((c) => c.prints > 0)
        ? "copies of cheques printed"
        : "cheques sent to the printer",
      kind: "run",
      recordId: input.run,
      label: found.value.number,
      companyId: found.value.companyId,
      after: { cheques: cheques.map((c) => Number(c.number)) },
    });
    return ok({ name: `${found.value.number}-cheques.pdf`, content });
  },
});

/**
 * The picture of a signature, where it can be read as one: a damaged picture leaves the line to be
 * signed by hand.
 */
function readable(base64: string): Buffer | null {
  const bytes = Buffer.from(base64, "base64");
  const [width, height] =
    bytes.length > 24 ? [bytes.readUInt32BE(16), bytes.readUInt32BE(20)] : [0, 0];
  // The end of a PNG is its IEND; what lacks it was cut off.
  return width > 0 &&
    height > 0 &&
    width <= 4000 &&
    height <= 4000 &&
    bytes.subarray(-12).includes("IEND")
    ? bytes
    : null;
}

type Drawn = Omit<PrintedCheque, "amount"> & {
  amount: Minor;
  copy: boolean;
  void: boolean;
  payment: RunPayment | undefined;
};
const INK = "#0d2b33";

/**
 * A4, the cheque in the upper third and the stub with what it pays below. The magnetic line is
 * drawn as shapes, so that it prints alike everywhere.
 */
async function draw(
  bank: {
    bankName: string;
    chequeSort: string;
    chequeAccount: string;
    signature: string;
    company: string;
  },
  cheques: readonly Drawn[],
): Promise<Uint8Array> {
  const { default: PDFDocument } = await import("pdfkit");
  const document = new PDFDocument({
    size: "A4",
    margin: 0,
    autoFirstPage: false,
    info: { Title: "Cheques", Creator: "Yellow Anchor" },
  });
  const fonts = path.join(process.cwd(), "node_modules", "@fontsource", "source-sans-3", "files");
  for (const [name, weight] of [
    ["text", 400],
    ["strong", 600],
  ] as const)
    document.registerFont(name, path.join(fonts, `source-sans-3-latin-${weight}-normal.woff`));
  const chunks: Buffer[] = [];
  document.on("data", (c: Buffer) => chunks.push(c));
  const done = new Promise<void>((resolve) => document.once("end", () => resolve()));
  const write = (
    text: string,
    x: number,
    y: number,
    size = 10,
    strong = false,
    options: object = {},
  ) =>
    document
      .font(strong ? "strong" : "text")
      .fontSize(size)
      .fillColor(INK)
      .text(text, x, y, { lineBreak: false, ...options });
  const signature = readable(bank.signature);
  for (const c of cheques) {
    document.addPage();
    write(bank.company, 42, 34, 13, true);
    write(bank.bankName, 42, 52, 9);
    write(`No. ${c.number}`, 460, 34, 11, true);
    write(dateText(c.date), 460, 52, 10);
    write("Pay", 42, 92, 9);
    write(c.payee, 74, 89, 13, true);
    document.moveTo(74, 107).lineTo(430, 107).lineWidth(0.5).strokeColor(INK).stroke();
    document.rect(442, 84, 110, 24).lineWidth(0.8).stroke();
    // Stars before the figures leave no room for another one.
    write(`***${amountText(c.amount, c.currency)} ${c.currency}`, 448, 90, 11, true);
    const words = `***${amountInWords(c.amount, c.currency)}***`;
    document
      .font("text")
      .fontSize(words.length > 110 ? 8 : 10)
      .fillColor(INK)
      .text(words, 42, 120, { width: 500, height: 26 });
    document.moveTo(380, 196).lineTo(552, 196).lineWidth(0.5).stroke();
    if (signature && !c.copy && !c.void) document.image(signature, 400, 154, { fit: [140, 40] });
    write("Authorised signature", 380, 199, 7.5);
    const line = magneticLine(chequeLine(Number(c.number), bank.chequeSort, bank.chequeAccount));
    if (!c.copy && !c.void)
      for (const s of line) document.rect(42 + s.x, 226 + s.y, s.width, s.height).fill("#000000");
    for (const [mark, shown] of [
      ["COPY", c.copy],
      ["VOID", c.void],
    ] as const)
      if (shown)
        document
          .save()
          .rotate(-12, { origin: [300, 140] })
          .font("strong")
          .fontSize(64)
          .fillColor("#b8402a")
          .fillOpacity(0.28)
          .text(mark, 200, 100, { lineBreak: false })
          .restore();
    document
      .fillOpacity(1)
      .moveTo(0, 262)
      .lineTo(595, 262)
      .dash(3, { space: 3 })
      .lineWidth(0.4)
      .strokeColor("#6d8790")
      .stroke()
      .undash();
    write(`Cheque ${c.number} of ${dateText(c.date)} to ${c.payee}`, 42, 286, 11, true);
    let y = 310;
    for (const [text, x] of [
      ["Your reference", 42],
      ["Settled", 300],
      ["Discount", 390],
      ["Paid", 480],
    ] as const)
      write(text, x, y, 9, true, x > 42 ? { width: 72, align: "right" } : {});
    y += 16;
    for (const i of c.payment?.items ?? []) {
      if (y > 790) {
        write("… the whole list is in the remittance advice", 42, y, 9);
        break;
      }
      write(i.reference.slice(0, 46), 42, y, 9);
      for (const [amount, x] of [
        [-i.taken, 300],
        [i.discount, 390],
        [-i.taken - i.discount, 480],
      ] as const)
        write(amountText(minor(amount), c.currency), x, y, 9, false, { width: 72, align: "right" });
      y += 14;
    }
    document
      .moveTo(42, y + 2)
      .lineTo(552, y + 2)
      .lineWidth(0.6)
      .strokeColor(INK)
      .stroke();
    write("Together", 42, y + 7, 9.5, true);
    write(`${amountText(c.amount, c.currency)} ${c.currency}`, 452, y + 7, 9.5, true, {
      width: 100,
      align: "right",
    });
  }
  document.end();
  await done;
  return new Uint8Array(Buffer.concat(chunks));
}
