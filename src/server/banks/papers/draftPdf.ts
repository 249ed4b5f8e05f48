import { sql } from "drizzle-orm";
import { number, object } from "yup";
import {
  bankAddressText,
  missingWords,
  PAPER_NAMES,
  paperWords,
  type PaperFacts,
} from "@/core/banks";
import { addressLines } from "@/core/letters";
import { fail, minor, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { senderOf } from "../../letters";
import { readBankAccount, type BankAccount } from "../bankAccounts";
import { picturesOf, readBankPaper } from "./bankPapers";
import { drawPapers } from "./drawPapers";

/** A bill or note of ours, as it was posted. */
interface Draft {
  method: string;
  /** A payment made by it, or a part of a slip received by it. */
  isGiven: boolean;
  number: string;
  date: string;
  /** Null where it is no bill or note. */
  dueDate: string | null;
  partner: string;
  /** Who gets it, or whom it comes from: a payment need not be to a partner. */
  party: string;
  amount: bigint;
  currency: string;
  bankId: number;
  counts: boolean;
}

/**
 * A promissory note that we give, or a bill that we draw on a customer, as a PDF. What others have
 * written, their notes and the bills that we accept, is their paper. From the second time on it is a
 * copy.
 */
export const draftPdf = defineUseCase({
  name: "draftPdf",
  kind: "write",
  rights: ["post.payables", "post.banks", "post.receivables"],
  what: "print bills and notes",
  of: "checked",
  schema: object({
    /** A payment, or a slip with the number of its part. */
    id: number().integer().required(),
    no: number().integer().min(0).default(0),
  }),
  run: async (context, input): Promise<Result<{ name: string; content: Uint8Array }>> => {
    const { tx, may } = context;
    const draft = await readDraft(context, input);
    if (!draft) return fail({ code: "NOT_FOUND", what: "such bill or note" });
    const account = (await readBankAccount(tx, { id: draft.bankId }))!;
    const rights = draft.isGiven
      ? (["post.payables"] as const)
      : (["post.banks", "post.receivables"] as const);
    if (!rights.some((r) => may(r, account.company)))
      return fail({ code: "FORBIDDEN", what: `print bills and notes of ${account.companyName}` });
    const { dueDate } = draft;
    if (dueDate === null) return fail({ code: "NOT_FOUND", what: "such bill or note" });
    if (draft.isGiven !== (draft.method === "note"))
      return fail({
        code: "INVALID",
        what: draft.isGiven
          ? "The supplier draws the bill that we accept: it is their paper"
          : "The customer writes the note that we receive: it is their paper",
      });
    const kind = draft.isGiven ? "note" : "bill";
    const { layout } = await readBankPaper(tx, account, kind);
    const words = paperWords(await factsOf(context, kind, { ...draft, dueDate }, account));
    const [missing] = missingWords(kind, layout, words);
    if (missing)
      return fail({
        code: "INVALID",
        what:
          missing === "Place of issue"
            ? `No ${kind} is one without the place of issue: give ${account.companyName} a town under Companies`
            : `No ${kind} is one without its ${missing.toLowerCase()}, and nothing is known for it`,
      });
    const [printed] = await rows<{ prints: number }>(
      tx,
      sql`insert into draft_print (document_id, no) values (${input.id}::bigint, ${input.no})
        on conflict (document_id, no) do update set prints = draft_print.prints + 1
        returning prints`,
    );
    const name = `${PAPER_NAMES[kind].toLowerCase()} ${draft.number}`;
    const drawn = await drawPapers(PAPER_NAMES[kind], kind, layout, await picturesOf(tx, account), [
      {
        name,
        words,
        magnetic: "",
        copy: printed!.prints > 1,
        void: !draft.counts,
        list: null,
      },
    ]);
    if (!drawn.ok) return drawn;
    await context.audit({
      action: printed!.prints > 1 ? "copy printed" : "printed",
      kind: draft.isGiven ? "payment" : "deposit slip",
      recordId: input.id,
      label: name,
      companyId: account.companyId,
    });
    return ok({ name: `${kind}-${draft.number}.pdf`, content: drawn.value });
  },
});

async function readDraft(
  { tx }: Context,
  { id, no }: { id: number; no: number },
): Promise<Draft | undefined> {
  const [found] = await rows<Draft>(
    tx,
    no === 0
      ? sql`select p.method, true as "isGiven", d.number, d.date, p.due_date as "dueDate", p.partner,
          p.payee as party,
          d.amount, d.currency, p.bank_account_id as "bankId",
          d.status in ('posted', 'sent', 'cleared') as counts
        from payment p join document d on d.id = p.document_id
        where d.id = ${id}::bigint`
      : sql`select y.kind as method, false as "isGiven", y.cheque as number, d.date,
          y.due_date as "dueDate", y.partner, y.payer as party, y.amount, d.currency, t.bank_account_id as "bankId",
          y.state = 'deposited' as counts
        from deposit_part y join deposit t on t.document_id = y.document_id
          join document d on d.id = t.document_id
        where d.id = ${id}::bigint and y.no = ${no}`,
  );
  return found;
}

/** A note is paid to the supplier; a bill is drawn on the customer, to our own order. */
async function factsOf(
  { tx }: Context,
  kind: "bill" | "note",
  draft: Draft & { dueDate: string },
  account: BankAccount,
): Promise<PaperFacts> {
  const { company } = await senderOf(tx, account.companyId, "en");
  const [partner] = await rows<{
    name: string;
    street: string;
    postcode: string;
    city: string;
    country: string;
  }>(
    tx,
    sql`select name, street, postcode, city, country from partner where code = ${draft.partner}`,
  );
  return {
    kind,
    company: account.companyName,
    bankName: account.bankName,
    number: draft.number,
    place: company.city,
    date: draft.date,
    dueDate: draft.dueDate,
    payee: kind === "note" ? draft.party : account.companyName,
    drawee: partner ? addressLines(partner, company).join("\n") : draft.party,
    payableAt: [account.bankName, bankAddressText(account)].filter(Boolean).join(", "),
    purpose: "",
    amount: minor(draft.amount),
    currency: draft.currency,
  };
}
