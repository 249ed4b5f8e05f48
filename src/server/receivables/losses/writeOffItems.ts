import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import { carriedAt, writeOffJournal, type GivenUpItem } from "@/core/receivables";
import {
  amountText,
  dateText,
  dayField,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import type { TaxTakenBack } from "@/core/taxes";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { againstReason, documentLinks } from "../../documents";
import { postDrafts, type PostedJournal } from "../../ledger";
import { mayWriteOff, settleByJournals } from "../../openItems";
import { takeBackParts, taxDays, taxesOfItems } from "../../taxes";
import { lossAccounts, readLossDimensions } from "./coding";

interface Item {
  id: bigint;
  account: string;
  partner: string;
  name: string;
  reference: string;
  documentId: bigint;
  date: CalendarDate;
  currency: string;
  left: bigint;
  leftFunctional: bigint;
}

interface Group {
  partner: string;
  name: string;
  currency: string;
  items: (GivenUpItem & { documentId: number })[];
}

/**
 * Gives up what customers will not pay, of several items at once, within the limit of whoever does
 * so and with a reason: as a loss, and where that is due with the tax that was declared corrected. It
 * is undone as a whole; then the items are open again, and money that still comes settles them.
 */
export const writeOffItems = defineUseCase({
  name: "writeOffItems",
  kind: "write",
  rights: ["post.receivables"],
  what: "write off receivables",
  company: (i) => i.company,
  locks: (_context, input) => Promise.resolve([input.company]),
  schema: object({
    company: string().required(),
    date: dayField().required("A date is needed"),
    reason: string().trim().max(200).default(""),
    correctTax: boolean().default(false),
    items: array(
      object({ id: number().integer().required(), amount: string().trim().max(40).default("") }),
    )
      .min(1, "Choose what is written off")
      .max(500)
      .required(),
  }),
  run: async (context, input): Promise<Result<{ journals: string[] }>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const accounts = lossAccounts(context.masters);
    if (!accounts.ok) return accounts;
    const unsaid = await againstReason(context, "writeOffs", input.reason, "reason");
    if (unsaid) return fail(unsaid);
    const date = input.date!;
    const found = await givenUp(context, company.id, date, input.items, input.correctTax);
    if (!found.ok) return found;
    const groups = found.value;
    const total = groups.flatMap((g) => g.items).reduce((t, i) => t + i.functional, 0n);
    const within = await mayWriteOff(context, company, minor(total), "items");
    if (!within.ok) return within;
    if (input.correctTax) {
      const [day] = await taxDays(context.tx, [
        { companyId: company.id, day: date, period: "", direction: "sale" },
      ]);
      if (day?.problem) return fail({ ...day.problem, field: "date" });
    }
    const dimensions = await readLossDimensions(context.tx);
    const made = groups.map((g) =>
      writeOffJournal(g.items, {
        company,
        date,
        partner: g.partner,
        name: g.name,
        reason: input.reason,
        currency: g.currency,
        lossAccount: accounts.value.badDebts,
        dimensions,
      }),
    );
    const posted = await postDrafts(
      context,
      made.map((m) => m.draft),
    );
    if (!posted.ok) return posted;
    await keep(context, company.id, { ...input, date }, groups, posted.value);
    await settleByJournals(
      context,
      "by hand",
      groups.map((g, i) => ({
        companyId: company.id,
        date,
        journalId: posted.value[i]!.id,
        settles: g.items.map((x) => ({ item: x.id, taken: x.amount, functional: x.functional })),
      })),
    );
    await takeBackParts(
      context.tx,
      company.id,
      made.flatMap((m, i) => partsOf(m.taxes, posted.value[i]!, date)),
    );
    const journals = posted.value.map((p) => p.number);
    await context.audit(
      ...groups.map((g, i) => ({
        action: "written off",
        kind: "open items",
        recordId: posted.value[i]!.id,
        label: `${g.partner} ${g.name}`.slice(0, 200),
        companyId: company.id,
        after: { journal: journals[i], reason: input.reason, correctTax: input.correctTax },
      })),
    );
    return ok({ journals });
  },
});

/** What is given up of each item, by customer and currency; or what stands against one of them. */
async function givenUp(
  { tx }: Context,
  companyId: number,
  date: CalendarDate,
  wanted: readonly { id: number; amount: string }[],
  correctTax: boolean,
): Promise<Result<Group[]>> {
  const ids = wanted.map((w) => w.id);
  if (new Set(ids).size < ids.length)
    return fail({ code: "INVALID", what: "An item is written off once", field: "items" });
  const found = await rows<Item>(
    tx,
    sql`select i.id, a.number as account, i.partner, p.name, i.reference,
        i.document_id as "documentId", i.date, i.currency, i.left_amount as "left",
        i.left_functional as "leftFunctional"
      from open_item i join account a on a.id = i.account_id join partner p on p.code = i.partner
      where i.id = any(${arrayOf(ids)}::bigint[]) and i.company_id = ${companyId}
        and i.area = 'receivables' order by i.id for update of i`,
  );
  const byId = new Map(found.map((f) => [Number(f.id), f]));
  const taxes = correctTax ? await taxesOfItems(tx, ids) : new Map<number, never[]>();
  const groups = new Map<string, Group>();
  const problems: Found[] = [];
  wanted.forEach(({ id, amount }, n) => {
    const item = byId.get(id);
    const part = partOf(item, amount, date);
    if (typeof part !== "bigint") {
      problems.push({ ...part, field: `items[${n}].amount` });
      return;
    }
    const { partner, name, currency, account, reference } = item!;
    const key = `${currency} ${partner}`;
    const group = groups.get(key) ?? { partner, name, currency, items: [] };
    groups.set(key, group);
    group.items.push({
      id,
      account,
      reference,
      documentId: Number(item!.documentId),
      amount: part,
      functional: carriedAt(minor(item!.left), minor(item!.leftFunctional), part),
      taxes: taxes.get(id) ?? [],
    });
  });
  return problems.length > 0 ? fail(problems[0]!, ...problems.slice(1)) : ok([...groups.values()]);
}

function partOf(item: Item | undefined, written: string, date: CalendarDate): Minor | Found {
  const refuse = (what: string): Found => ({ code: "INVALID", what });
  if (!item) return refuse("This item is not open in this company");
  const { reference, currency } = item;
  if (item.left <= 0n) return refuse(`Nothing is owed on ${reference}`);
  if (date < item.date)
    return refuse(
      `${reference} is of ${dateText(item.date)}: it is written off on or after that day`,
    );
  if (written === "") return minor(item.left);
  const read = readAmount(written, currency);
  if (!read.ok) return { code: "AMOUNT_NOT_NUMBER", text: written };
  if (read.amount <= 0n) return refuse("More than nothing is written off");
  return read.amount <= item.left
    ? read.amount
    : refuse(`${amountText(minor(item.left), currency)} ${currency} is left of ${reference}`);
}

async function keep(
  { tx, person, now }: Context,
  companyId: number,
  input: { date: CalendarDate; reason: string; correctTax: boolean },
  groups: readonly Group[],
  posted: readonly PostedJournal[],
): Promise<void> {
  const sum = (items: Group["items"], pick: (i: GivenUpItem) => bigint) =>
    items.reduce((t, i) => t + pick(i), 0n);
  await insertAll(
    tx,
    schema.writeOff,
    groups.map((g, i) => ({
      journalId: posted[i]!.id,
      companyId,
      partner: g.partner,
      date: input.date,
      reason: input.reason,
      currency: g.currency,
      amount: sum(g.items, (x) => x.amount),
      functional: sum(g.items, (x) => x.functional),
      taxCorrected: input.correctTax,
      madeBy: person.id,
      madeAt: now,
    })),
  );
  await documentLinks(
    tx,
    "made",
    groups.flatMap((g, i) =>
      [...new Set(g.items.map((x) => x.documentId))].map((d) => [d, posted[i]!.id] as const),
    ),
  );
}

const partsOf = (taxes: readonly TaxTakenBack[], { id, seq }: PostedJournal, date: CalendarDate) =>
  taxes.map((t) => ({ ...t, payment: id, journal: { id, seq, date } }));
