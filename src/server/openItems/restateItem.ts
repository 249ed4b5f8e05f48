import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import type { ItemControl } from "@/core/ledger";
import { restatement } from "@/core/openItems";
import { conversionOn, convertBy, rateProblem } from "@/core/rates";
import {
  dateText,
  dayField,
  fail,
  isCurrency,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows, type Db } from "../db";
import { postDrafts } from "../ledger";
import { newestRates } from "../rates";
import { JOURNAL_TYPE, lockItems, type LockedItem } from "./lockItems";
import { rightOn } from "./openItems";
import { settleByJournals } from "./settleTogether";
import { mayWriteOff } from "./writeOffLimits";

export interface Restated {
  /** What of the item is owed in the other currency, and as what; positive, in their currencies. */
  taken: Minor;
  amount: Minor;
  /** Of the company, a loss positive, in its currency. */
  difference: Minor;
  /** Null where it was only asked what it would be. */
  journal: string | null;
}

/**
 * From a day on an item, or a part of it, is owed in another currency: at the day's rate, or at
 * what was agreed. What was owed is settled by it, what is owed now is an item like any other.
 * What was agreed may differ from the day's rate by no more than whoever agrees may write off.
 * Without `post` it only says what would be.
 */
export const restateItem = defineUseCase({
  name: "restateItem",
  kind: "write",
  rights: ["post.payables", "post.receivables"],
  what: "agree that open items are owed in another currency",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    date: dayField().required("A date is needed"),
    currency: string().required("Choose a currency"),
    /** Of the item, in its currency; all of it where nothing is said. */
    taken: string().trim().default(""),
    /** In the other currency; by the day's rate where nothing is said. */
    amount: string().trim().default(""),
    post: boolean().default(false),
  }),
  run: async (context, input): Promise<Result<Restated>> => {
    const { tx, masters } = context;
    const item = (await lockItems(context, [input.id])).get(input.id);
    if (!item) return fail({ code: "NOT_FOUND", what: "such open item" });
    const company = masters.companyById.get(item.companyId)!;
    if (!context.may(rightOn("post", item.area), company.code))
      return fail({ code: "FORBIDDEN", what: `restate open items of ${company.name}` });
    const against = await standsAgainst(tx, item, input.date);
    if (against) return fail(against);
    const read = await readAmounts(context, item, input);
    if (!read.ok) return read;
    const { concession, ...as } = read.value;
    const allowed = await mayWriteOff(context, company, concession, "amount");
    if (!allowed.ok) return allowed;
    const plan = restatement(
      item,
      { date: input.date, currency: input.currency, ...as },
      {
        code: company.code,
        currency: company.currency,
        type: JOURNAL_TYPE[item.area],
        exchangeGain: masters.purposes.exchangeGain,
        exchangeLoss: masters.purposes.exchangeLoss,
      },
    );
    if (!plan.ok) return plan;
    const { draft, takes, difference } = plan.value;
    const { taken, amount } = as;
    if (!input.post) return ok({ taken, amount, difference, journal: null });
    const posted = await postDrafts(context, [draft]);
    if (!posted.ok) return posted;
    const journal = posted.value[0]!;
    await settleByJournals(context, "restatement", [
      {
        companyId: company.id,
        date: input.date,
        journalId: journal.id,
        settles: [{ item: item.id, taken: takes.amount, functional: takes.functional }],
        settling: 1,
      },
    ]);
    await context.audit({
      action: "restated",
      kind: "open items",
      recordId: item.id,
      label: item.reference,
      companyId: company.id,
      after: { ...input, taken: String(taken), amount: String(amount), journal: journal.number },
    });
    return ok({ taken, amount, difference, journal: journal.number });
  },
});

/** What hangs on the item in its own currency, and would be left behind. */
async function standsAgainst(tx: Db, item: LockedItem, date: CalendarDate): Promise<Found | null> {
  const area: ItemControl = item.area;
  const against = (what: string): Found => ({ code: "IN_USE", what });
  if (area === "transit" || (item.kind !== "invoice" && item.kind !== "credit note"))
    return against(`${item.reference} is a ${item.kind}: only invoices and credit notes can be`);
  if (item.left === 0n) return against(`${item.reference} is settled: nothing of it is owed`);
  if (date < item.date)
    return {
      code: "INVALID",
      what: `${item.reference} is of ${dateText(item.date)}: choose that day or a later one`,
      field: "date",
    };
  if (item.hold) return against(`${item.reference} is on hold (${item.hold}): release it first`);
  const [open] = await rows<{ dispute: boolean; promise: boolean; ahead: boolean }>(
    tx,
    sql`select exists (select 1 from dispute where item_id = ${item.id} and outcome is null) as dispute,
      exists (select 1 from promise_item x join promise p on p.id = x.promise_id
        where x.item_id = ${item.id} and p.withdrawn_at is null and p.due >= ${date}) as promise,
      exists (select 1 from open_item i join prepayment f on f.of_id = i.document_id
        where i.id = ${item.id}) as ahead`,
  );
  if (open!.dispute) return against(`${item.reference} is in dispute: close that first`);
  if (open!.ahead)
    return against(`${item.reference} asks for a prepayment, which is owed in its own currency`);
  if (open!.promise)
    return against(`${item.reference} is promised in ${item.currency}: withdraw that first`);
  return null;
}

/**
 * What of the item, as what, from which rate, and what the company gives up or takes by agreeing on
 * another amount than the day's rate makes of it; in its currency, never negative.
 */
async function readAmounts(
  { tx, masters }: Context,
  item: LockedItem,
  input: { date: CalendarDate; currency: string; taken: string; amount: string },
) {
  if (!isCurrency(input.currency))
    return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
  const functional = masters.companyById.get(item.companyId)!.currency;
  const whole = minor(item.left < 0n ? -item.left : item.left);
  const figure = (text: string, currency: string, field: string): Result<Minor | null> => {
    if (text === "") return ok(null);
    const reading = readAmount(text, currency);
    return reading.ok ? ok(reading.amount) : fail({ code: "AMOUNT_NOT_NUMBER", text, field });
  };
  const taken = figure(input.taken, item.currency, "taken");
  if (!taken.ok) return taken;
  const amount = figure(input.amount, input.currency, "amount");
  if (!amount.ok) return amount;
  const known = await newestRates(tx, [input.date]);
  const rateFrom = (from: string, to: string) => conversionOn(known, "spot", from, to, input.date);
  const missing = (from: string, to: string) =>
    fail({ ...rateProblem(known, "spot", from, to, input.date), field: "currency" });
  const rate = rateFrom(input.currency, functional);
  if (!rate) return missing(input.currency, functional);
  const of = taken.value ?? whole;
  const day = rateFrom(item.currency, input.currency);
  if (!day) return missing(item.currency, input.currency);
  const atRate = convertBy(of, item.currency, input.currency, day);
  const agreed = amount.value ?? atRate;
  const off = agreed > atRate ? agreed - atRate : atRate - agreed;
  const concession = convertBy(minor(off), input.currency, functional, rate);
  return ok({ taken: of, amount: agreed, rate, concession });
}
