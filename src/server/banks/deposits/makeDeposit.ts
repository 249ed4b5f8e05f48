import { sql } from "drizzle-orm";
import { controlAccountOf, withUsualValues } from "@/core/ledger";
import {
  depositJournal,
  depositSchema,
  isDraft,
  partName,
  shareOut,
  toBank,
  type DepositInput,
  type DepositPart,
  type MoneyAccounts,
} from "@/core/banks";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Found,
  type Result,
} from "@/core/shared";
import { companiesOf, defineUseCase, type Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { documentLinks, register, takeNumbers } from "../../documents";
import { postDrafts } from "../../ledger";
import { settleByJournals } from "../../openItems";
import { partnersByCode } from "../../partners";
import type { BankAccount } from "../bankAccounts";
import { moneyPlace, type MoneyPlace } from "../moneyPlace";
import { againstFee, itemsOfLines, readKinds } from "../statements/lineFacts";
import { againstRules } from "../againstRules";

/**
 * Cheques and cash of customers go to the bank on one slip, or card payments come on one settlement:
 * what they pay is settled at once.
 */
export const makeDeposit = defineUseCase({
  name: "makeDeposit",
  kind: "write",
  rights: ["post.banks", "post.receivables"],
  what: "deposit cheques and cash",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], { company: input.company }),
  schema: depositSchema,
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const { tx, audit } = context;
    const read = await readDeposit(context, input);
    if (!read.ok) return read;
    const { parts, to } = read.value;
    const { company, bank, year, rate } = read.value.place;
    const [number] = await takeNumbers(tx, [{ series: "deposit", company, year }]);
    const slip = { number: number!.number, date: input.date, currency: bank.currency, rate };
    const planned = parts.map((part) => ({ part, ...depositJournal(part, slip, to) }));
    const drafts = planned.map((p) => p.draft);
    const allowed = await againstRules(context, drafts, "a slip");
    if (!allowed.ok) return allowed;
    const posted = await postDrafts(context, drafts);
    if (!posted.ok) return posted;
    const journals = posted.value.map((j) => j.id);
    // Each by its own journal, so that one of them can come apart again.
    await settleByJournals(
      context,
      "payment",
      planned.map(({ settles, settling }, i) => ({
        companyId: company.id,
        date: input.date,
        journalId: journals[i]!,
        settles,
        settling,
      })),
    );
    const [id] = await register(context, [
      {
        kind: "deposit",
        number: slip.number,
        companyId: company.id,
        date: input.date,
        amount: minor(
          parts.reduce((t, p) => t + toBank({ ...p, fee: p.fee?.amount ?? minor(0n) }), 0n),
        ),
        currency: bank.currency,
        title: `${isOfCards(input) ? "Card payments" : "Deposit"} at ${bank.bankName || bank.name}`,
        words: parts.map((p) => p.cheque).join(" "),
        status: "posted",
      },
    ]);
    await insertAll(tx, schema.deposit, [{ documentId: id!, bankAccountId: bank.id }]);
    await insertAll(
      tx,
      schema.depositPart,
      parts.map(({ kind, partner, payer, cheque, amount, dueDate, fee }, i) => ({
        documentId: id!,
        no: i + 1,
        kind,
        partner,
        payer,
        cheque,
        amount,
        dueDate,
        fee: fee?.amount ?? minor(0n),
        journalId: journals[i]!,
      })),
    );
    await documentLinks(
      tx,
      "made",
      journals.map((j) => [id!, j] as const),
    );
    await tx.execute(
      sql`insert into document_link (from_id, to_id, kind)
        select distinct i.document_id, ${id!}::bigint, 'paid' from open_item i
        where i.id = any(${arrayOf(planned.flatMap((p) => p.settles.map((s) => s.item)))}::bigint[])
        on conflict do nothing`,
    );
    await audit({
      action: "deposited",
      kind: "deposit slip",
      recordId: id!,
      label: slip.number,
      companyId: company.id,
      after: { bank: bank.code, parts: parts.length },
    });
    return ok({ id: id!, number: slip.number });
  },
});

interface ReadDeposit {
  place: MoneyPlace;
  to: MoneyAccounts & { bills: string };
  parts: DepositPart[];
}

/** A slip or settlement as written against what is open now; or all that stands against it. */
export async function readDeposit(
  context: Context,
  input: DepositInput,
): Promise<Result<ReadDeposit>> {
  const place = await moneyPlace(context, input, "a deposit");
  if (!place.ok) return place;
  const bills = context.masters.purposes.billsReceivable;
  if (!bills && input.parts.some((p) => isDraft(p.kind)))
    return fail({ code: "PURPOSE_MISSING", purpose: "bills and notes receivable" });
  const parts = await readParts(context, place.value.bank, input);
  if (!parts.ok) return parts;
  return ok({
    place: place.value,
    to: { ...place.value.accounts, bills: bills ?? "" },
    parts: parts.value,
  });
}

const isOfCards = ({ parts }: DepositInput): boolean => parts[0]?.kind === "card";

/** Which of the card payments have come before, with the settlement that they came with. */
export async function cardPaymentsKnown(
  tx: Context["tx"],
  bank: BankAccount,
  numbers: readonly string[],
): Promise<Map<string, string>> {
  const found = await rows<{ cheque: string; number: string }>(
    tx,
    sql`select y.cheque, d.number from deposit_part y join document d on d.id = y.document_id
      join deposit t on t.document_id = d.id
      where t.bank_account_id = ${bank.id} and y.kind = 'card' and y.state <> 'cancelled'
        and y.cheque = any(${arrayOf(numbers)}::text[])`,
  );
  return new Map(found.map((f) => [f.cheque, f.number]));
}

/** The parts as written, with the partners and the open items that they name; all faults at once. */
async function readParts(
  { tx, masters }: Context,
  bank: BankAccount,
  input: DepositInput,
): Promise<Result<DepositPart[]>> {
  const partners = await partnersByCode(
    tx,
    input.parts.map((p) => p.partner),
  );
  const wanted = input.parts.flatMap((p) => p.items);
  const open = new Map((await itemsOfLines(tx, bank.companyId, wanted)).map((i) => [i.id, i]));
  // Two parts may pay one item: the second pays of what the first leaves.
  const left = new Map(open);
  const account = controlAccountOf(masters, "receivables");
  const kinds = await readKinds(tx);
  const problems: Found[] = [];
  const ofCards = isOfCards(input);
  const known = ofCards
    ? await cardPaymentsKnown(
        tx,
        bank,
        input.parts.map((p) => p.cheque),
      )
    : new Map<string, string>();
  const parts = input.parts.map((p, n): DepositPart => {
    const at = (field: string) => `parts.${n}.${field}`;
    const partner = partners.get(p.partner);
    if (!partner)
      problems.push({ code: "PARTNER_UNKNOWN", partner: p.partner, field: at("partner") });
    const read = readAmount(p.amount, bank.currency);
    if (!read.ok || read.amount <= 0n)
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: p.amount, field: at("amount") });
    for (const [i, id] of p.items.entries()) {
      const item = open.get(id);
      const fault =
        !item || item.left <= 0n || item.control !== "receivables"
          ? "One of the items is not open any more"
          : item.partner !== p.partner
            ? `${item.reference} is owed by ${item.partnerName}`
            : item.currency !== bank.currency
              ? `${item.reference} is in ${item.currency}`
              : p.items.indexOf(id) < i
                ? `${item.reference} is chosen twice`
                : null;
      if (fault) problems.push({ code: "INVALID", what: fault, field: at("items") });
    }
    const draft = isDraft(p.kind);
    const before = known.get(p.cheque);
    if (p.kind === "card" && before !== undefined)
      problems.push({
        code: "INVALID",
        what: `${partName(p)} is on ${before} already`,
        field: at("cheque"),
      });
    if (p.kind === "card") known.set(p.cheque, "this settlement");
    if ((p.kind === "card") !== ofCards)
      problems.push({
        code: "INVALID",
        what: "Card payments are settled apart from what is taken to the bank",
        field: at("kind"),
      });
    if (draft && !isCalendarDate(p.dueDate))
      problems.push({ code: "DATE_INVALID", text: p.dueDate, field: at("dueDate") });
    else if (draft && p.dueDate < input.date)
      problems.push({
        code: "INVALID",
        what: `${partName(p)} was due before the day of the slip`,
        field: at("dueDate"),
      });
    const fee =
      (draft || p.kind === "card") && p.fee !== "" ? readAmount(p.fee, bank.currency) : null;
    const feeKind = kinds.get(p.feeKind);
    if (fee && (!fee.ok || fee.amount <= 0n))
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: p.fee, field: at("fee") });
    else if (fee?.ok && read.ok && fee.amount >= read.amount)
      problems.push({
        code: "INVALID",
        what: `A fee of ${p.fee} leaves nothing of ${p.amount}`,
        field: at("fee"),
      });
    const against = feeKind?.account
      ? againstFee(feeKind)
      : "Say as which kind of movement the fee is posted";
    if (fee && against !== null)
      problems.push({ code: "INVALID", what: against, field: at("feeKind") });
    const part: DepositPart = {
      kind: p.kind,
      partner: p.partner,
      payer: partner?.name ?? "",
      cheque: p.kind === "cash" ? "" : p.cheque,
      dueDate: draft ? p.dueDate : null,
      fee:
        fee?.ok && feeKind?.account
          ? {
              amount: fee.amount,
              account: feeKind.account,
              dimensions: withUsualValues(masters, feeKind, bank.dimensions),
            }
          : null,
      amount: read.ok ? read.amount : minor(0n),
      items: p.items.flatMap((id) => left.get(id) ?? []),
      account,
    };
    const wasOpen = p.items.some((id) => (open.get(id)?.left ?? 0n) > 0n);
    if (wasOpen && part.items.every((i) => i.left === 0n))
      problems.push({
        code: "INVALID",
        what: `${part.items[0]!.reference} is paid by what stands above it; leave it out, and this stays on account`,
        field: at("items"),
      });
    for (const { item: id, taken, functional } of shareOut(part).settles) {
      const item = left.get(id)!;
      left.set(id, {
        ...item,
        left: minor(item.left - taken),
        leftFunctional: minor(item.leftFunctional - functional),
      });
    }
    return part;
  });
  return problems.length > 0 ? { ok: false, problems } : ok(parts);
}
