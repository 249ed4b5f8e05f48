import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import {
  hasLife,
  isFact,
  readLife,
  TAKE_OVER_COLUMNS,
  takenFrom,
  takeOverRow,
  type DepreciationRule,
  type DepreciationRules,
  type Waiting,
} from "@/core/assets";
import type { Masters } from "@/core/ledger";
import {
  amountText,
  atCell,
  atRow,
  cellAt,
  dateText,
  dayField,
  fail,
  minor,
  ok,
  parse,
  readAmount,
  readDate,
  tableRow,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { loadClasses, type KeptClass } from "../classes";
import { makeAssets, type AssetToMake } from "./makeAssets";

/** As every table says what it would do; all of it is new. */
interface TakenOver {
  added: number;
  changed: 0;
  same: 0;
  notes: string[];
}
interface ReadAsset {
  row: number;
  classOf: KeptClass;
  make: AssetToMake;
  cost: Minor;
  /** By book, 0 for all: what is charged there, positive; of a book what it has more. */
  accumulated: { book: number; amount: Minor }[];
}

/**
 * Takes assets over that the accounts hold already, from a table: with what they cost and what was
 * charged for them by the end of a day, in all books and in those that differ. What the accounts
 * hold without an asset becomes theirs; no journal is made. All are taken over or none; without
 * `take` it only says what would happen.
 */
export const takeOverAssets = defineUseCase({
  name: "takeOverAssets",
  kind: "write",
  rights: ["post.assets"],
  what: "take assets over",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    date: dayField().required("The day is missing"),
    rows: array(tableRow()).required().max(60_000),
    take: boolean().default(false),
  }),
  run: async (context, { company: code, date, rows: table, take }): Promise<Result<TakenOver>> => {
    const company = context.masters.companyByCode.get(code);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: code, field: "company" });
    if (table.length === 0) return fail({ code: "INVALID", what: "The table has no rows" });
    const read = await readTable(context, company, date, table);
    if (!read.ok) return read;
    const assets = read.value;
    const taken = await fromWaiting(context, company, date, assets);
    if (!taken.ok) return taken;
    const sum = (pick: (a: ReadAsset) => bigint) =>
      `${amountText(minor(assets.reduce((t, a) => t + pick(a), 0n)), company.currency)} ${company.currency}`;
    const result: TakenOver = {
      added: assets.length,
      changed: 0,
      same: 0,
      notes: [
        `They cost ${sum((a) => a.cost)}; by ${dateText(date)} ${sum((a) => a.accumulated[0]!.amount)} of it is charged.`,
      ],
    };
    if (!take) return ok(result);
    const ids = await makeAssets(
      context,
      assets.map((a) => a.make),
      { run: null, date },
    );
    await storeTakenOver(context, company.id, date, assets, ids, taken.value);
    return ok(result);
  },
});

type Company = { id: number; code: string; name: string; currency: string };

async function readTable(
  { tx, masters }: Context,
  company: Company,
  date: CalendarDate,
  table: readonly Readonly<Record<string, string>>[],
): Promise<Result<ReadAsset[]>> {
  const classes = new Map((await loadClasses(tx)).map((c) => [c.code, c]));
  const problems: Found[] = [];
  const assets: ReadAsset[] = [];
  const numbers = new Set<string>();
  for (const [i, row] of table.entries()) {
    const no = i + 2;
    const own = Object.fromEntries(
      TAKE_OVER_COLUMNS.flatMap((c) => {
        const text = cellAt(row, c);
        return text === undefined ? [] : [[c, text]];
      }),
    );
    const said = parse(takeOverRow, own);
    if (!said.ok) {
      problems.push(...said.problems.map((p) => atCell(no, p)));
      continue;
    }
    const input = said.value;
    const before = problems.length;
    const bad = (field: string, what: string) =>
      problems.push(atRow(no, { code: "INVALID", what: `${field}: ${what}`, field }));
    const classOf = classes.get(input.class);
    if (!classOf) bad("class", `There is no class ${input.class.slice(0, 40)}`);
    const amount = (field: string, text: string): Minor => {
      if (text === "") return minor(0n);
      const found = readAmount(text, company.currency);
      if (!found.ok) bad(field, `“${text.slice(0, 40)}” is no amount`);
      return found.ok ? found.amount : minor(0n);
    };
    const cost = amount("cost", input.cost);
    const inService = readDate(input.inservice, date);
    const warrantyTo = input.warranty === "" ? null : readDate(input.warranty, date);
    if (inService === null) bad("inservice", `“${input.inservice}” is not a date that exists`);
    else if (inService > date) bad("inservice", `it is used after ${dateText(date)} only`);
    if (input.warranty !== "" && warrantyTo === null)
      bad("warranty", `“${input.warranty}” is not a date that exists`);
    const common = amount("accumulated", input.accumulated);
    const accumulated = [{ book: 0, amount: common }];
    for (const book of masters.books) {
      const field = `accumulated.${book.code.toLowerCase()}`;
      const text = cellAt(row, field)?.trim() ?? "";
      if (text === "") continue;
      const own = amount(field, text);
      if (own < 0n || own > cost) bad(field, "more is charged than it costs");
      if (own !== common) accumulated.push({ book: book.id, amount: minor(own - common) });
    }
    if (common < 0n || common > cost) bad("accumulated", "more is charged than it costs");
    if (classOf && common !== 0n && classOf.accounts.accumulated === "")
      bad("accumulated", `class ${classOf.code} is not depreciated`);
    const dimensions: Record<string, string> = {};
    for (const dimension of masters.dimensions) {
      const value = (cellAt(row, dimension.code) ?? cellAt(row, dimension.name))?.trim() ?? "";
      if (value === "") continue;
      if (!masters.value(dimension.id, value))
        bad(dimension.code, `There is no ${dimension.name.toLowerCase()} ${value.slice(0, 40)}`);
      dimensions[dimension.code] = value;
    }
    for (const need of classOf?.needs ?? [])
      if (!(dimensions[need] ?? (isFact(need) ? input[need as "place"] : "")))
        bad(need, `class ${classOf!.code} wants it of each asset`);
    if (input.number !== "" && numbers.has(input.number))
      bad("number", `${input.number} is there twice`);
    numbers.add(input.number);
    if (problems.length > before) continue;
    assets.push({
      row: no,
      classOf: classOf!,
      cost,
      accumulated,
      make: {
        companyId: company.id,
        classId: classOf!.id,
        ...(input.number === "" ? {} : { number: input.number }),
        title: input.description,
        inService: inService!,
        rules: withLife(classOf!.rules, input.life),
        ...(input.main === "" ? {} : { main: input.main }),
        quantity: input.quantity || "1",
        unit: input.unit,
        serial: input.serial,
        place: input.place,
        person: input.person,
        dimensions,
        warrantyTo,
        insurance: input.insurance,
        note: input.note,
        amount: String(cost),
      },
    });
  }
  const known = await rows<{ number: string }>(
    tx,
    sql`select number from document where kind = 'asset'
      and number = any(${arrayOf([...numbers].filter(Boolean))}::text[]) order by number limit 20`,
  );
  problems.push(
    ...known.map(({ number }) => ({
      code: "INVALID" as const,
      what: `Row ${assets.find((a) => a.make.number === number)?.row ?? "?"}: ${number} is in the register already`,
      field: "number",
    })),
  );
  const mains = [...new Set(assets.flatMap((a) => (a.make.main ? [a.make.main] : [])))];
  const there = new Set([
    ...numbers,
    ...(
      await rows<{ number: string }>(
        tx,
        sql`select d.number from document d join asset a on a.document_id = d.id
          where a.company_id = ${company.id} and d.number = any(${arrayOf(mains)}::text[])`,
      )
    ).map((r) => r.number),
  ]);
  for (const { row, make } of assets)
    if (make.main && (!there.has(make.main) || make.main === make.number))
      problems.push(
        atRow(row, {
          code: "INVALID",
          what: `main: there is no asset ${make.main} that it could be a part of`,
          field: "main",
        }),
      );
  const [first, ...others] = problems;
  return first ? fail(first, ...others) : ok(assets);
}

/** The rules of a class with another life, where the table says one. */
function withLife(rules: DepreciationRules, text: string): DepreciationRules {
  const life = readLife(text);
  if (life === null) return rules;
  const lives = (rule: DepreciationRule) => (hasLife(rule.method) ? { ...rule, life } : rule);
  return {
    common: lives(rules.common),
    own: Object.fromEntries(Object.entries(rules.own).map(([book, r]) => [book, lives(r)])),
  };
}

type Taken = { intake: number; amount: Minor; account: number; book: number }[];

/** What the assets take from what waits on their accounts; refused where that is less. */
async function fromWaiting(
  { tx, masters }: Context,
  company: Company,
  date: CalendarDate,
  assets: readonly ReadAsset[],
): Promise<Result<Taken>> {
  const wanted = new Map<string, { account: string; book: number; amount: bigint }>();
  const want = (account: string, book: number, amount: bigint) => {
    if (amount === 0n) return;
    const key = `${account}|${book}`;
    const sum = wanted.get(key)?.amount ?? 0n;
    wanted.set(key, { account, book, amount: sum + amount });
  };
  for (const a of assets) {
    want(a.classOf.accounts.cost, 0, a.cost);
    for (const { book, amount } of a.accumulated)
      want(a.classOf.accounts.accumulated, book, -amount);
  }
  const waiting = await rows<Waiting & { account: string; book: number }>(
    tx,
    sql`select i.id::int as id, w.left as amount, a.number as account, w.book from asset_intake i
      join lateral (select sum(e.amount)::bigint as left, min(e.account_id) as account,
          min(e.book_id)::int as book, min(e.date) as date
        from asset_entry e where e.intake_id = i.id and e.part = 'waiting') w on w.left <> 0
      join account a on a.id = w.account
      where i.company_id = ${company.id} and w.date <= ${date}
        and a.number = any(${arrayOf([...wanted.values()].map((x) => x.account))}::text[])
      order by w.date, i.id`,
  );
  const problems: Found[] = [];
  const taken: Taken = [];
  for (const { account, book, amount } of wanted.values()) {
    const own = waiting.filter((l) => l.account === account && l.book === book);
    const found = takenFrom(own, minor(amount));
    if (!found) problems.push(tooLittle(masters, company, date, { account, book, amount }, own));
    else
      taken.push(
        ...found.map((f) => ({
          intake: f.id,
          amount: f.amount,
          account: masters.accountByNumber.get(account)!.id,
          book,
        })),
      );
  }
  const [first, ...others] = problems;
  return first ? fail(first, ...others) : ok(taken);
}

function tooLittle(
  masters: Masters,
  { currency }: Company,
  date: CalendarDate,
  wanted: { account: string; book: number; amount: bigint },
  lines: readonly Waiting[],
): Found {
  const money = (amount: bigint) => `${amountText(minor(amount), currency)} ${currency}`;
  const there = lines.reduce((t, l) => t + l.amount, 0n);
  const only = wanted.book === 0 ? "" : ` in ${masters.bookById.get(wanted.book)!.code} alone`;
  return {
    code: "INVALID",
    what: `${wanted.account} ${masters.accountByNumber.get(wanted.account)!.name} holds ${money(there)}${only} without an asset by ${dateText(date)}; the table has ${money(wanted.amount)} for it`,
    field: "rows",
  };
}

async function storeTakenOver(
  { tx, person, now }: Context,
  companyId: number,
  date: CalendarDate,
  assets: readonly ReadAsset[],
  ids: readonly number[],
  taken: Taken,
): Promise<void> {
  const said = { companyId, date, madeBy: person.id, madeAt: now };
  const accounts = new Map(
    (await rows<{ id: number; number: string }>(tx, sql`select id, number from account`)).map(
      (a) => [a.number, a.id],
    ),
  );
  await insertAll(
    tx,
    schema.assetEntry,
    taken.map((t) => ({
      ...said,
      bookId: t.book,
      accountId: t.account,
      intakeId: t.intake,
      part: "waiting",
      movement: "booked",
      amount: minor(-t.amount),
    })),
  );
  await insertAll(
    tx,
    schema.assetEntry,
    assets.map((a, i) => ({
      ...said,
      bookId: 0,
      accountId: accounts.get(a.classOf.accounts.cost)!,
      assetId: ids[i]!,
      part: "cost",
      movement: "taken over",
      countsFrom: a.make.inService,
      amount: a.cost,
    })),
  );
  await insertAll(
    tx,
    schema.assetEntry,
    assets.flatMap((a, i) =>
      a.accumulated
        // Nothing charged so far is said too: what is left counts from this day on.
        .filter(() => a.classOf.accounts.accumulated !== "")
        .map((x) => ({
          ...said,
          bookId: x.book,
          accountId: accounts.get(a.classOf.accounts.accumulated)!,
          assetId: ids[i]!,
          part: "accumulated",
          movement: "taken over",
          amount: minor(-x.amount),
        })),
    ),
  );
}
