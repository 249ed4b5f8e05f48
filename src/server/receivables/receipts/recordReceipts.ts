import { receiptJournal } from "@/core/banks";
import { controlAccountOf } from "@/core/ledger";
import { agreedDiscounts, settledUnpaid } from "@/core/openItems";
import {
  carriedAt,
  readReceiptTakes,
  receiptSchema,
  type ReadTake,
  type ReceiptInput,
} from "@/core/receivables";
import { convertBy } from "@/core/rates";
import {
  amountText,
  dateText,
  decimalText,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { againstRules, moneyPlace, type MoneyPlace } from "../../banks";
import { againstReason, takeNumbers } from "../../documents";
import { postDrafts } from "../../ledger";
import { mayWriteOff } from "../../openItems";
import { partnersByCode } from "../../partners";
import { taxDays, taxesOfItems } from "../../taxes";
import { noteDispute } from "../desk/disputes";
import { keepReceipts } from "./keepReceipts";
import { itemsOfPayers, type PayersItem } from "./payersItems";

/** A receipt that can be recorded: who pays, how much, what it takes. */
interface Ready {
  partner: string;
  payer: string;
  amount: Minor;
  reason: string;
  takes: { item: PayersItem; take: ReadTake }[];
}

type Written = Pick<ReceiptInput, "partner" | "amount" | "takes" | "reason">;

/**
 * Money that a customer has sent, recorded before the bank's statement shows it: what it pays is
 * settled at once, and it is under way until the bank's line takes it. What the payer did not pay
 * stays open, is disputed, or is written off within the limit of whoever records it.
 */
export const recordReceipt = defineUseCase({
  name: "recordReceipt",
  kind: "write",
  rights: ["post.receivables"],
  what: "record receipts",
  company: (i) => i.company,
  locks: (_context, input) => Promise.resolve([input.company]),
  schema: receiptSchema,
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const place = await moneyPlace(context, { ...input, date: input.date! }, "a receipt");
    if (!place.ok) return place;
    const made = await recordAll(context, place.value, [input]);
    return made.ok ? ok(made.value[0]!) : made;
  },
});

/**
 * Records receipts of one account and day, each knowing what those before it have taken; in the
 * same number of statements however many there are. Errors stand at `at` of the place of each.
 */
export async function recordAll(
  context: Context,
  place: MoneyPlace,
  written: readonly Written[],
  at: (n: number, field: string) => string = (_n, field) => field,
): Promise<Result<{ id: number; number: string }[]>> {
  const { tx, masters } = context;
  const { company, bank, date, year, rate } = place;
  const read = await readAll(context, place, written, at);
  if (!read.ok) return read;
  const taxes = await taxesOfItems(
    tx,
    read.value.flatMap((r) => r.takes.flatMap((t) => (t.take.discount > 0n ? [t.item.id] : []))),
  );
  const taxed = await taxDay(context, place, taxes.size > 0);
  if (!taxed.ok) return taxed;
  const numbers = await takeNumbers(
    tx,
    read.value.map(() => ({ series: "receipt", company, year })),
  );
  const planned = read.value.map((r, i) =>
    receiptJournal(
      {
        reference: numbers[i]!.number,
        title: `Receipt from ${r.payer}, ${numbers[i]!.number}`,
        date,
        partner: r.partner,
        payer: r.payer,
        amount: r.amount,
        currency: bank.currency,
        rate,
        takes: r.takes.map(({ item, take }) => ({ ...take, item, taxes: taxes.get(item.id) })),
        reason: r.reason,
      },
      {
        ...place.accounts,
        receivables: controlAccountOf(masters, "receivables"),
        writeOff: masters.purposes.writeOff ?? "",
      },
    ),
  );
  const drafts = planned.map((p) => p.draft);
  const allowed = await againstRules(context, drafts, "a receipt by hand");
  if (!allowed.ok) return allowed;
  const posted = await postDrafts(context, drafts);
  if (!posted.ok) return posted;
  const documents = await keepReceipts(
    context,
    place,
    planned.map((p, i) => ({
      ...p,
      partner: read.value[i]!.partner,
      payer: read.value[i]!.payer,
      amount: read.value[i]!.amount,
      number: numbers[i]!.number,
      journal: posted.value[i]!,
    })),
  );
  for (const r of read.value)
    for (const { item, take } of r.takes) {
      if (take.disputed === 0n || take.dispute === "") continue;
      const noted = await noteDispute(context, {
        item: item.id,
        amount: decimalText(take.disputed, bank.currency),
        reason: take.dispute,
        note: `Not paid with ${numbers[read.value.indexOf(r)]!.number}`,
        owner: "",
        by: undefined,
      });
      if (!noted.ok) return noted;
    }
  const made = numbers.map(({ number }, i) => ({ id: documents[i]!, number }));
  await context.audit(
    ...made.map(({ id, number }, i) => ({
      action: "recorded",
      kind: "receipt",
      recordId: id,
      label: `${number}, ${read.value[i]!.payer}`.slice(0, 200),
      companyId: company.id,
      after: { bank: bank.code, amount: String(read.value[i]!.amount) },
    })),
  );
  return ok(made);
}

/** Every receipt as written against what is open now; all faults at once. */
async function readAll(
  context: Context,
  place: MoneyPlace,
  written: readonly Written[],
  at: (n: number, field: string) => string,
): Promise<Result<Ready[]>> {
  const { tx } = context;
  const codes = written.map((w) => w.partner);
  const partners = await partnersByCode(tx, codes);
  const byPayer = await itemsOfPayers(tx, place.company.id, place.bank.currency, codes);
  const refusal = await refusalOfReasons(context, written);
  // Two receipts may take of the same item: the second takes of what the first leaves.
  const now = new Map([...byPayer.values()].flat().map((i) => [i.id, { ...i }]));
  const problems: Found[] = [];
  const ready: Ready[] = [];
  for (const [n, w] of written.entries()) {
    const partner = partners.get(w.partner);
    const items = new Map((byPayer.get(w.partner) ?? []).map((i) => [i.id, { ...now.get(i.id)! }]));
    const read: { ready: Ready } | { faults: Found[] } = partner?.customer
      ? readOne(w, partner, place, items, refusal)
      : { faults: [{ code: "PARTNER_UNKNOWN", partner: w.partner, field: "partner" }] };
    if ("faults" in read) {
      problems.push(...read.faults.map((f) => ({ ...f, field: at(n, f.field ?? "takes") })));
      continue;
    }
    ready.push(read.ready);
    for (const { item, take } of read.ready.takes) takeOf(now.get(item.id)!, take.amount);
  }
  if (problems.length > 0) return { ok: false, problems };
  const unpaid = ready.reduce((t, r) => t + unpaidOf(r, place.date), 0n);
  const within = await withinLimit(context, place, minor(unpaid), ready);
  return within.ok ? ok(ready) : within;
}

/** What stands against a reason of writing off, each asked about once however many name it. */
async function refusalOfReasons(
  context: Context,
  written: readonly Written[],
): Promise<ReadonlyMap<string, Found | null>> {
  const reasons = new Map<string, Found | null>();
  for (const w of written)
    if (!reasons.has(w.reason) && w.takes.some((t) => t.short === "written off"))
      reasons.set(w.reason, await againstReason(context, "writeOffs", w.reason, "reason"));
  return reasons;
}

/** One receipt against the items of its payer; or what stands against it, at its fields. */
function readOne(
  w: Written,
  { name }: { name: string },
  { bank, date }: MoneyPlace,
  items: ReadonlyMap<number, PayersItem>,
  refusal: ReadonlyMap<string, Found | null>,
): { ready: Ready } | { faults: Found[] } {
  const amount = readAmount(w.amount, bank.currency);
  if (!amount.ok || amount.amount <= 0n)
    return { faults: [{ code: "AMOUNT_NOT_NUMBER", text: w.amount, field: "amount" }] };
  const { takes, problems } = readReceiptTakes(w.takes, items);
  if (problems.length > 0) return { faults: problems };
  const against = (what: string, field: string) => ({
    faults: [{ code: "INVALID" as const, what, field }],
  });
  const early = takes.map((t) => items.get(t.item)!).find((i) => i.date > date);
  if (early)
    return against(`${early.reference} is of ${dateText(early.date)}, after this money`, "date");
  const paid = takes.reduce((t, x) => t + x.amount - x.discount - x.writtenOff, 0n);
  const over = paid - amount.amount;
  const text = (a: bigint) => `${amountText(minor(a), bank.currency)} ${bank.currency}`;
  if (over > 0n)
    return against(
      `The items take ${text(over)} more than came: pay one of them in part`,
      "amount",
    );
  if (takes.some((t) => t.writtenOff > 0n)) {
    if (over < 0n)
      return against(
        `${text(-over)} are for no item, while something is written off: pay that with it first`,
        "takes",
      );
    const unsaid = refusal.get(w.reason);
    if (unsaid) return { faults: [unsaid] };
  }
  return {
    ready: {
      partner: w.partner,
      payer: name,
      amount: amount.amount,
      reason: w.reason,
      takes: takes.map((take) => ({ item: items.get(take.item)!, take })),
    },
  };
}

/** What a receipt settles without money: beyond agreed discounts, and what is written off. */
function unpaidOf({ takes }: Ready, date: CalendarDate): bigint {
  const paid = takes.reduce((t, { take: x }) => t + x.amount - x.discount - x.writtenOff, 0n);
  return settledUnpaid(
    minor(paid),
    date,
    takes.map(({ item, take: { amount, discount } }) => ({
      item: { ...item, discounts: agreedDiscounts(item.discounts), credited: minor(0n) },
      amount,
      discount,
    })),
  );
}

/** An item less what a receipt takes of it. */
function takeOf(item: PayersItem, amount: Minor): void {
  const functional = carriedAt(item.left, item.leftFunctional, amount);
  item.left = minor(item.left - amount);
  item.leftFunctional = minor(item.leftFunctional - functional);
}

/** Whether a person may settle so much without money, and there is an account for it. */
async function withinLimit(
  context: Context,
  { company, bank, rate }: MoneyPlace,
  unpaid: Minor,
  ready: readonly Ready[],
): Promise<Result<unknown>> {
  if (
    ready.some((r) => r.takes.some((t) => t.take.writtenOff > 0n)) &&
    !context.masters.purposes.writeOff
  )
    return fail({
      code: "PURPOSE_MISSING",
      purpose: "differences written off",
      field: "takes",
    });
  const own = convertBy(unpaid, bank.currency, company.currency, rate);
  return mayWriteOff(context, company, own, "takes");
}

/** Whether taxes of that day can still be taken back. */
async function taxDay(
  { tx }: Context,
  { company, date }: MoneyPlace,
  taxed: boolean,
): Promise<Result<unknown>> {
  if (!taxed) return ok({});
  const [day] = await taxDays(tx, [{ companyId: company.id, day: date, period: "" }]);
  return day?.problem ? fail({ ...day.problem, field: "date" }) : ok({});
}
