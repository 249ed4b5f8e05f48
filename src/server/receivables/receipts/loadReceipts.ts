import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import { proposeApplication, writtenTakes, type ReceiptTake } from "@/core/receivables";
import {
  amountText,
  describeFound,
  fail,
  minor,
  ok,
  readAmount,
  readDate,
  tableRow,
  type CalendarDate,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { moneyPlace, type MoneyPlace } from "../../banks";
import { arrayOf, rows } from "../../db";
import { partnersByCode } from "../../partners";
import { itemsOfPayers, type PayersItem } from "./payersItems";
import { itemToPay, smallOf } from "./proposeReceipt";
import { recordAll } from "./recordReceipts";

/** A row of a table of receipts, read. */
interface Row {
  /** As it stands in the file, counted with its headings. */
  no: number;
  bank: string;
  date: CalendarDate;
  partner: string;
  payer: string;
  amount: string;
  text: string;
}

/** What is taken in for a row. */
interface Applied extends Row {
  takes: ReceiptTake[];
  /** What it pays, and what stays on account, in words. */
  says: string[];
}

export interface LoadedReceipts {
  added: number;
  changed: number;
  same: number;
  notes: string[];
  /** Receipts that are there already and look the same; null where none do. */
  before: string | null;
  changes: {
    row: number;
    number: string;
    name: string;
    what: "changed";
    differences: string[];
    used: false;
  }[];
}

/**
 * Receipts from a table: customer, amount, date, text, and the bank account where it is not the one
 * given. Each pays what is most likely meant, as a person would be proposed: all of them, or with
 * one problem anywhere none. Without `take` it says what would happen. What looks like a receipt
 * that is there is taken in only when that is confirmed.
 */
export const loadReceipts = defineUseCase({
  name: "loadReceipts",
  kind: "write",
  rights: ["post.receivables"],
  what: "load receipts",
  company: (i) => i.company,
  locks: (_context, input) => Promise.resolve([input.company]),
  schema: object({
    company: string().required(),
    bank: string().trim().default(""),
    rows: array(tableRow()).required().max(5_000),
    take: boolean().default(false),
    confirmed: boolean().default(false),
  }),
  run: async (context, input): Promise<Result<LoadedReceipts>> => {
    const read = await readRows(context, input.rows, input.bank);
    if (!read.ok) return read;
    const groups: { place: MoneyPlace; rows: Applied[] }[] = [];
    // What rows before take is not there for those behind, on whichever day and account.
    const taken = new Map<number, bigint>();
    for (const of of byPlace(read.value)) {
      const { bank, date, no } = of[0]!;
      const place = await moneyPlace(context, { company: input.company, bank, date }, "a receipt");
      if (!place.ok) return fail(...atRow(no, place.problems));
      groups.push({ place: place.value, rows: await apply(context, place.value, of, taken) });
    }
    const before = await alike(context, groups);
    const all = groups.flatMap((g) => g.rows).sort((a, b) => a.no - b.no);
    if (input.take && before && !input.confirmed)
      return fail({
        code: "INVALID",
        what: `${before}: the same customer, day and amount. Confirm that they are meant to be recorded once more`,
      });
    if (input.take)
      for (const { place, rows: of } of groups) {
        const made = await recordAll(
          context,
          place,
          of.map((r) => ({ ...r, reason: "Small difference" })),
          (n) => String(of[n]!.no),
        );
        if (!made.ok)
          return fail(
            ...(made.problems.flatMap((p) => atRow(Number(p.field), [p])) as [Found, ...Found[]]),
          );
      }
    return ok({
      added: all.length,
      changed: 0,
      same: 0,
      notes: [],
      before,
      changes: all.map((r) => ({
        row: r.no,
        number: r.amount,
        name: r.payer,
        what: "changed",
        differences: r.says,
        used: false,
      })),
    });
  },
});

const atRow = (no: number, problems: readonly Found[]): [Found, ...Found[]] =>
  problems.map((p): Found => ({
    code: "INVALID",
    // What stands against all of them together has no row.
    what: Number.isInteger(no) ? `Row ${no}: ${describeFound(p)}` : describeFound(p),
  })) as [Found, ...Found[]];

/** The rows as they are written; all faults at once. */
async function readRows(
  { tx, today }: Context,
  written: readonly Readonly<Record<string, string>>[],
  usualBank: string,
): Promise<Result<Row[]>> {
  const said = (row: Readonly<Record<string, string>>, column: string) => row[column]?.trim() ?? "";
  const partners = await partnersByCode(
    tx,
    written.map((r) => said(r, "customer")),
  );
  const problems: Found[] = [];
  const read = written.map((row, i): Row => {
    const no = i + 2;
    const refuse = (what: string) => problems.push({ code: "INVALID", what: `Row ${no}: ${what}` });
    const partner = partners.get(said(row, "customer"));
    if (!partner?.customer)
      refuse(`There is no customer ${said(row, "customer") || "(column customer)"}`);
    const date = readDate(said(row, "date"), today);
    if (date === null) refuse(`“${said(row, "date")}” is no date (column date)`);
    if (said(row, "amount") === "") refuse("The amount is missing (column amount)");
    const bank = said(row, "bank") || usualBank;
    if (bank === "") refuse("The bank account is missing (column bank)");
    return {
      no,
      bank,
      date: date ?? today,
      partner: partner?.code ?? "",
      payer: partner?.name ?? "",
      amount: said(row, "amount"),
      text: said(row, "text"),
    };
  });
  if (read.length === 0) problems.push({ code: "INVALID", what: "The table has no rows" });
  return problems.length > 0 ? { ok: false, problems } : ok(read);
}

/** Rows of the same account and day, the earliest day first. */
function byPlace(all: readonly Row[]): Row[][] {
  const places = new Map<string, Row[]>();
  for (const r of all) {
    const key = `${r.date} ${r.bank}`;
    places.set(key, [...(places.get(key) ?? []), r]);
  }
  return [...places.entries()].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, of]) => of);
}

/** What each row pays, the rows before it having taken what they take. */
async function apply(
  { tx }: Context,
  { company, bank, date }: MoneyPlace,
  of: readonly Row[],
  taken: Map<number, bigint>,
): Promise<Applied[]> {
  const payers = of.map((r) => r.partner);
  const byPayer = await itemsOfPayers(tx, company.id, bank.currency, payers);
  const small = await smallOf(tx, payers, bank.currency);
  return of.map((row): Applied => {
    const items = (byPayer.get(row.partner) ?? [])
      .filter((i) => i.date <= date)
      .map((i) => ({ ...i, left: minor(i.left - (taken.get(i.id) ?? 0n)) }))
      .filter((i) => i.left !== 0n);
    const read = readAmount(row.amount, bank.currency);
    const amount = read.ok && read.amount > 0n ? read.amount : minor(0n);
    const proposed = proposeApplication(
      { amount, date, text: row.text },
      // A discount after its date is for a person to allow.
      items.map((i) => {
        const { late, ...item } = itemToPay(i, date);
        return late ? { ...item, discount: minor(0n) } : item;
      }),
      small(row.partner),
    );
    for (const t of proposed.takes) taken.set(t.item, (taken.get(t.item) ?? 0n) + t.amount);
    const byId = new Map(items.map((i) => [i.id, i]));
    return {
      ...row,
      takes: Object.entries(writtenTakes(proposed, bank.currency)).map(([item, take]) => ({
        ...take,
        item: Number(item),
      })),
      says: saysOf(proposed, byId, bank.currency),
    };
  });
}

function saysOf(
  { takes, rest }: ReturnType<typeof proposeApplication>,
  items: ReadonlyMap<number, PayersItem>,
  currency: string,
): string[] {
  const paid = takes.map((t) => {
    const item = items.get(t.item)!;
    const part = t.amount === item.left ? "" : ` in part, ${amountText(t.amount, currency)}`;
    return `${item.reference}${part}`;
  });
  return [
    ...(paid.length > 0 ? [`pays ${paid.join(", ")}`] : []),
    ...(rest > 0n ? [`${amountText(rest, currency)} on account`] : []),
  ];
}

/** Receipts that are there already, of the same customers, days and amounts. */
async function alike(
  { tx }: Context,
  groups: readonly { place: MoneyPlace; rows: readonly Applied[] }[],
): Promise<string | null> {
  const all = groups.flatMap(({ place, rows: of }) =>
    of.flatMap((r) => {
      const read = readAmount(r.amount, place.bank.currency);
      return read.ok ? [{ ...r, bank: place.bank.id, amount: read.amount }] : [];
    }),
  );
  const found = await rows<{ number: string }>(
    tx,
    sql`select distinct d.number from unnest(${arrayOf(all.map((r) => r.bank))}::int[],
        ${arrayOf(all.map((r) => r.partner))}::text[], ${arrayOf(all.map((r) => r.date))}::date[],
        ${arrayOf(all.map((r) => r.amount))}::bigint[]) as x(bank, partner, date, amount)
      join receipt p on p.bank_account_id = x.bank and p.partner = x.partner
      join document d on d.id = p.document_id and d.date = x.date and d.amount = x.amount
        and d.status = 'posted'
      order by d.number`,
  );
  if (found.length === 0) return null;
  const more = found.length - 1;
  return `${found[0]!.number}${more > 0 ? ` and ${more} more` : ""} ${more > 0 ? "are" : "is"} there already`;
}
