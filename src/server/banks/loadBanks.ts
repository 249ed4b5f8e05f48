import { sql } from "drizzle-orm";
import { array, boolean, object } from "yup";
import { bankRecordSchema, type BankRecordInput } from "@/core/banks";
import { cellAt, fail, ok, tableRow, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { COLUMNS, saveBank, type BankRecord } from "./bankRecords";

/** Columns of banks as a file. */
const BANK_COLUMNS = [
  "name",
  "country",
  "nationalCode",
  "bic",
  "address",
  "contact",
  "cutOff",
] as const;

/**
 * Takes banks in from a file, by their names: all of them or, with one problem anywhere, none. What a
 * row does not name stays as it was, and accounts follow as if each had been changed by hand; without
 * `take` it only says what would happen. Holidays are days separated by spaces.
 */
export const loadBanks = defineUseCase({
  name: "loadBanks",
  kind: "write",
  rights: ["prepare.banks", "setup.rules"],
  what: "load banks",
  of: "group",
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const known = new Map(
      (await rows<BankRecord>(context.tx, sql`select ${COLUMNS}`)).map((b) => [
        b.name.toLowerCase(),
        b,
      ]),
    );
    const counts = { added: 0, changed: 0, same: 0 };
    const problems: Found[] = [];
    const wanted: BankRecordInput[] = [];
    const seen = new Set<string>();
    for (const [i, row] of input.rows.entries()) {
      const name = row.name?.trim().toLowerCase() ?? "";
      const before = known.get(name);
      const read = readRow(row, before);
      if ("fault" in read) {
        const { what, field } = read.fault;
        problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}`, field });
        continue;
      }
      if (seen.has(name))
        problems.push({
          code: "INVALID",
          what: `Row ${i + 2}: ${row.name} stands in the file twice`,
          field: "name",
        });
      seen.add(name);
      const same = before !== undefined && isSame(read.bank, before);
      counts[same ? "same" : before ? "changed" : "added"]++;
      if (!same) wanted.push(read.bank);
    }
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    if (input.take)
      for (const bank of wanted) {
        const saved = await saveBank.definition.run(context, bank);
        if (!saved.ok) return saved;
      }
    return ok(counts);
  },
});

/** A row as a bank, on top of what is known of it; or what is wrong with it. */
function readRow(
  row: Readonly<Record<string, string>>,
  before: BankRecord | undefined,
): { bank: BankRecordInput } | { fault: { what: string; field: string } } {
  const said = (column: string) => cellAt(row, column)?.trim();
  try {
    const bank = bankRecordSchema.validateSync(
      {
        ...before,
        ...Object.fromEntries(
          BANK_COLUMNS.flatMap((c) => {
            const text = said(c);
            return text === undefined ? [] : [[c, text]];
          }),
        ),
        ...(row.holidays === undefined
          ? {}
          : { holidays: row.holidays.split(/[\s,;]+/).filter(Boolean) }),
        withAccounts: true,
      },
      { stripUnknown: true },
    );
    return { bank };
  } catch (error) {
    const { message, path } = error as Error & { path?: string };
    return { fault: { what: message, field: path ?? "name" } };
  }
}

const isSame = (bank: BankRecordInput, before: BankRecord): boolean =>
  BANK_COLUMNS.every((c) => bank[c] === before[c]) &&
  bank.holidays.join() === before.holidays.join();
