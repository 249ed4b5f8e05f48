import { sql } from "drizzle-orm";
import { boolean, number, object } from "yup";
import { chequeLine, paperWords } from "@/core/banks";
import { dateText, fail, minor, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { senderOf } from "../letters";
import type { RunPayment } from "./postedPayments";
import { readBankAccount, type BankAccount } from "./bankAccounts";
import { lockRun } from "./chequeRuns";
import { drawPapers, picturesOf, readBankPaper, type DrawnPaper } from "./papers";

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
    const account = (await readBankAccount(tx, { id: found.value.bankId }))!;
    const { layout } = await readBankPaper(tx, account, "cheque");
    const stubs = new Map(found.value.detail.payments.map((p) => [p.key, p]));
    const place = (await senderOf(tx, account.companyId, "en")).company.city;
    const drawn = await drawPapers(
      "Cheques",
      "cheque",
      layout,
      await picturesOf(tx, account),
      cheques.map((c) => drawnCheque(c, account, place, stubs.get(c.key))),
    );
    if (!drawn.ok) return drawn;
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
    return ok({ name: `${found.value.number}-cheques.pdf`, content: drawn.value });
  },
});

/** A cheque with its words, and what it pays as the list below it. */
function drawnCheque(
  c: PrintedCheque,
  account: BankAccount,
  place: string,
  payment: RunPayment | undefined,
): DrawnPaper {
  return {
    name: `cheque ${c.number}`,
    words: paperWords({
      kind: "cheque",
      company: account.companyName,
      bankName: account.bankName,
      number: String(c.number),
      place,
      date: c.date,
      dueDate: null,
      payee: c.payee,
      drawee: "",
      payableAt: "",
      purpose: purposeOf(payment?.items ?? []),
      amount: minor(c.amount),
      currency: c.currency,
    }),
    magnetic: chequeLine(Number(c.number), account.chequeSort, account.chequeAccount),
    copy: c.prints > 0,
    void: c.state === "voided" || c.state === "cancelled",
    list: {
      title: `Cheque ${c.number} of ${dateText(c.date)} to ${c.payee}`,
      currency: c.currency,
      items: (payment?.items ?? []).map((i) => ({
        reference: i.reference,
        settled: -i.taken,
        discount: i.discount,
        paid: -i.taken - i.discount,
      })),
      total: c.amount,
    },
  };
}

/** What a cheque is for, in a line: the list below it says all. */
function purposeOf(items: readonly { reference: string }[]): string {
  const [first, second] = items.map((i) => i.reference.slice(0, 30));
  if (first === undefined) return "";
  if (second === undefined) return first;
  return items.length === 2 ? `${first}, ${second}` : `${first} and ${items.length - 1} more`;
}
