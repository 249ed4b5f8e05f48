import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import {
  headingsAt,
  keyOf,
  ownAccountOf,
  proposeReading,
  readingFaults,
  statementOfTable,
  TABLE_FIELDS,
  type ProposedReading,
  type StatementOfTable,
  type TableReading,
} from "@/core/banks/statements/table";
import { fail, minor, ok, readAmount, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows, type Db } from "../../db";
import { readOutside } from "../../files";
import { bankFileSchema } from "./bankFile";
import { isNamed, type Account, type NamedAccount } from "./placeStatements";

const DECIMALS = [".", ","] as const;
const GROUPS = [",", ".", " ", "'"] as const;

export const tableReadingSchema = object({
  headings: array(string().defined().max(200)).max(200).required(),
  columns: array(string().oneOf(TABLE_FIELDS).nullable().defined()).max(200).required(),
  format: object({
    decimal: string().oneOf(DECIMALS).required(),
    group: string().oneOf(GROUPS).required(),
    pairs: boolean().optional(),
  })
    .required()
    .test(
      "marks",
      "One mark cannot stand for decimals and between groups",
      (f) => f.decimal !== f.group,
    ),
  order: string()
    .oneOf(["ymd", "dmy", "mdy"] as const)
    .required(),
  turned: boolean().default(false),
});

/** How many rows of a table are shown to whoever says how it is read. */
const SHOWN = 40;

/** A table of a bank before it is taken in, with how it can be read. */
export interface LookedAt {
  /** Its first rows. */
  cells: string[][];
  rows: number;
  proposed: ProposedReading | null;
  /** The account whose table it seems to be, by what stands in it; "" where nothing says so. */
  bank: string;
}

/** Reads a table of movements as far as it takes to say how it is to be read. */
export const lookAtBankTable = defineUseCase({
  name: "lookAtBankTable",
  kind: "read",
  rights: ["prepare.banks"],
  what: "take bank statements in",
  of: "shared",
  schema: bankFileSchema,
  prepare: (input) => readOutside("statements", input.name, Buffer.from(input.content, "base64")),
  run: async (context, _input, read): Promise<Result<LookedAt>> => {
    const { tx, may } = context;
    if (!read.table)
      return fail({ code: "INVALID", what: "The file says itself how it is to be read" });
    const proposed = (await keptFor(context, read.table)) ?? proposeReading(read.table);
    const own = proposed ? ownAccountOf(read.table, proposed.reading) : "";
    const accounts = await rows<NamedAccount & { company: string }>(
      tx,
      sql`select b.code, c.code as company, b.iban, b.number, b.routing from bank_account b
        join company c on c.id = b.company_id order by b.id`,
    );
    const named = accounts.filter((a) => isNamed(a, own) && may("prepare.banks", a.company));
    return ok({
      cells: read.table.slice(0, SHOWN),
      rows: read.table.length,
      proposed,
      bank: named.length === 1 ? named[0]!.code : "",
    });
  },
});

/** A reading that was kept for tables of these headings, of whatever account the person works with. */
async function keptFor({ tx, may }: Context, cells: string[][]): Promise<ProposedReading | null> {
  const kept = await rows<{ reading: TableReading; company: string }>(
    tx,
    sql`select r.reading, c.code as company from statement_reading r
      join bank_account b on b.id = r.bank_account_id join company c on c.id = b.company_id
      order by r.saved_at desc`,
  );
  for (const { reading } of kept.filter((k) => may("prepare.banks", k.company))) {
    const at = headingsAt(cells, reading);
    if (at >= 0) return { reading, at, doubts: [] };
  }
  return null;
}

interface Asked {
  name: string;
  bank: string;
  reading: TableReading | null;
  opening: string;
  cells: string[][];
}

/**
 * The statement that a bank's table is. How it is read is said with it, and kept for the account, or
 * was said before for tables of the same headings.
 */
export async function statementOfBankTable(
  context: Context,
  accounts: readonly Account[],
  asked: Asked,
): Promise<Result<Exclude<StatementOfTable, { faults: unknown }>>> {
  const { tx } = context;
  const found = asked.reading
    ? { reading: asked.reading, bank: asked.bank }
    : await keptReading(tx, asked);
  if (!found) return fail({ code: "READING_NEEDED", file: asked.name });
  const { reading } = found;
  const [unclear] = readingFaults(reading);
  if (unclear) return fail({ code: "INVALID", what: unclear, field: "reading" });
  const account = accounts.find((a) => a.code === found.bank);
  if (!account)
    return fail({
      code: "INVALID",
      what: found.bank === "" ? "Choose a bank account" : `There is no bank account ${found.bank}`,
      field: "bank",
    });
  if (!context.may("prepare.banks", account.company))
    return fail({ code: "FORBIDDEN", what: `take in statements of ${account.companyName}` });
  const opening = asked.opening === "" ? null : readAmount(asked.opening, account.currency);
  if (opening && !opening.ok)
    return fail({ code: "AMOUNT_NOT_NUMBER", text: asked.opening, field: "opening" });
  const before = await rows<{ number: string; date: string; closing: bigint }>(
    tx,
    sql`select number, closing_date as date, closing from bank_statement
      where bank_account_id = ${account.id} order by closing_date desc, id desc`,
  );
  const [last] = before;
  const made = statementOfTable(asked.cells, reading, {
    account: accountKey(account),
    currency: account.currency,
    last: last ? { date: last.date, closing: minor(last.closing) } : null,
    taken: new Set(before.map((b) => b.number)),
    opening: opening?.ok ? opening.amount : null,
  });
  if ("faults" in made)
    return {
      ok: false,
      problems: made.faults.map((f): Found => ({ code: "INVALID", what: f.what, line: f.line })),
    };
  if (asked.reading) await keepReading(context, account, asked.reading);
  return ok(made);
}

/** An account as a table's statement is to name it, so that it is found again. */
const accountKey = (a: NamedAccount): string =>
  a.iban ||
  (a.routing ? `${a.routing}/${a.number}` : a.number).replace(/[\s.-]/g, "").toUpperCase();

/**
 * The reading that was kept for tables of these headings: of the account that the table names, or of
 * the only one for which there is one.
 */
async function keptReading(
  tx: Db,
  { cells, bank }: Asked,
): Promise<{ reading: TableReading; bank: string } | null> {
  const kept = await rows<NamedAccount & { reading: TableReading }>(
    tx,
    sql`select b.code, b.iban, b.number, b.routing, r.reading from statement_reading r
      join bank_account b on b.id = r.bank_account_id order by r.id`,
  );
  const fitting = kept.filter(
    (k) => (bank === "" || k.code === bank) && headingsAt(cells, k.reading) >= 0,
  );
  const named = fitting.filter((k) => {
    const own = ownAccountOf(cells, k.reading);
    return own === "" || isNamed(k, own);
  });
  return named.length === 1 ? { reading: named[0]!.reading, bank: named[0]!.code } : null;
}

async function keepReading(
  { tx, person, now, audit }: Context,
  account: Account,
  reading: TableReading,
): Promise<void> {
  const [kept] = await rows<{ id: number }>(
    tx,
    sql`insert into statement_reading (bank_account_id, headings, reading, saved_by, saved_at)
      values (${account.id}, ${keyOf(reading.headings)}, ${JSON.stringify(reading)}::jsonb,
        ${person.id}, ${now.toISOString()})
      on conflict (bank_account_id, headings) do update set reading = excluded.reading,
        saved_by = excluded.saved_by, saved_at = excluded.saved_at returning id`,
  );
  await audit({
    action: "changed",
    kind: "reading of statements",
    recordId: kept!.id,
    label: account.code,
    companyId: account.companyId,
    after: reading,
  });
}
