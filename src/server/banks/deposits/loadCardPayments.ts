import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import type { DepositInput } from "@/core/banks";
import { describeFound, fail, ok, tableRow, type Found, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { readBankAccount } from "../bankAccounts";
import { cardPaymentsKnown, makeDeposit, readDeposit } from "./makeDeposit";

type Written = Readonly<Record<string, string>>;
type Part = DepositInput["parts"][number];

/** What a settlement would come to, or has come to. */
export interface LoadedCardPayments {
  added: number;
  changed: number;
  same: number;
}

/**
 * A settlement of card payments as a table, from whoever collects them: number of the transaction,
 * our invoice or the customer, the amount that was paid, the fee that was kept of it. Each pays its
 * invoice; all of it becomes one settlement, or with one fault anywhere nothing. Without `take` it is
 * only checked.
 */
export const loadCardPayments = defineUseCase({
  name: "loadCardPayments",
  kind: "write",
  rights: ["post.banks", "post.receivables"],
  what: "load card payments",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], { company: input.company }),
  schema: object({
    company: string().required(),
    bank: string().required("Choose the bank account"),
    date: string().required("The date is missing"),
    /** The kind of movement by which the fees are posted. */
    kind: string().trim().max(20).default(""),
    rows: array(tableRow()).required().max(200, "A settlement has up to 200 payments"),
    take: boolean().default(false),
  }),
  run: async (context, input): Promise<Result<LoadedCardPayments>> => {
    const { company, bank, date, kind, rows: written } = input;
    if (written.length === 0) return fail({ code: "INVALID", what: "The table has no rows" });
    const read = await partsOf(context, { company, bank, kind }, written);
    if (!read.ok) return read;
    const settlement = { company, bank, date, parts: read.value };
    const made = input.take
      ? await makeDeposit.definition.run(context, settlement)
      : await readDeposit(context, settlement);
    if (made.ok) return ok({ added: written.length, changed: 0, same: 0 });
    const [first, ...others] = made.problems.map(atItsRow);
    return fail(first!, ...others);
  },
});

/** The rows as parts of a slip; an invoice says whose payment it is. */
async function partsOf(
  { tx, masters }: Context,
  { company, bank, kind }: { company: string; bank: string; kind: string },
  written: readonly Written[],
): Promise<Result<Part[]>> {
  const said = (row: Written, ...columns: string[]) =>
    columns.map((c) => row[c]?.trim() ?? "").find((text) => text !== "") ?? "";
  const account = await readBankAccount(tx, { code: bank });
  if (!account || account.companyId !== masters.companyByCode.get(company)?.id)
    return fail({ code: "NOT_FOUND", what: `bank account ${bank}`, field: "bank" });
  const named = written.map((row) => said(row, "invoice", "reference").toUpperCase());
  const open = await rows<{ id: bigint; reference: string; partner: string }>(
    tx,
    sql`select i.id, upper(i.reference) as reference, i.partner from open_item i
      join company c on c.id = i.company_id
      where c.code = ${company} and i.area = 'receivables' and i.left_amount > 0
        and i.currency = ${account.currency}
        and upper(i.reference) = any(${arrayOf(named.filter((n) => n !== ""))}::text[])
      order by i.due_date, i.id`,
  );
  const numbers = written.map((row) => said(row, "number", "transaction"));
  const known = await cardPaymentsKnown(tx, account, numbers);
  const problems: Found[] = [];
  const parts = written.map((row, i): Part => {
    const items = named[i] === "" ? [] : open.filter((o) => o.reference === named[i]);
    const partner = said(row, "customer") || (items[0]?.partner ?? "");
    if (partner === "" && !known.has(numbers[i]!))
      problems.push({
        code: "INVALID",
        what:
          named[i] === ""
            ? `Row ${i + 2}: neither invoice nor customer is named`
            : `Row ${i + 2}: ${named[i]} is no open invoice; name the customer, and it stays on account`,
      });
    const fee = said(row, "fee");
    const number = numbers[i]!;
    const before = known.get(number);
    if (before !== undefined)
      problems.push({ code: "INVALID", what: `Row ${i + 2}: ${number} is on ${before} already` });
    if (number === "" || number.length > 20)
      problems.push({
        code: "INVALID",
        what: `Row ${i + 2}: the number of its transaction is ${number === "" ? "missing" : "longer than 20"}`,
      });
    return {
      kind: "card",
      partner,
      cheque: number,
      dueDate: "",
      amount: said(row, "amount", "gross"),
      fee,
      feeKind: fee === "" ? "" : kind,
      items: items.filter((o) => o.partner === partner).map((o) => Number(o.id)),
    };
  });
  return problems.length > 0 ? { ok: false, problems } : ok(parts);
}

/** What stands against a part, said of its row. */
function atItsRow(problem: Found): Found {
  const at = /^parts\.(\d+)\./.exec(problem.field ?? "");
  return at
    ? { code: "INVALID", what: `Row ${Number(at[1]) + 2}: ${describeFound(problem)}` }
    : problem;
}
