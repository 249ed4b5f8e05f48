import { sql } from "drizzle-orm";
import { minor } from "../src/core/shared";
import { NO_KEYS, NO_PARTY, type BankStatement } from "../src/core/banks/statements";
import { writeCamt053 } from "../src/core/banks/statements/writeCamt053";
import {
  bankPosition,
  decideLine,
  getStatementLine,
  importStatements,
  listStatementLines,
} from "../src/server/banks";
import { rows, type Database } from "../src/server/db";
import { createJournal } from "../src/server/ledger";
import { postRun, proposeRun } from "../src/server/runs";
import { verify } from "../src/server/verify";
import { callerOf, must } from "./world";

export const IBAN = "DE02500105170137075030";

/** Lines of a statement, of which only what matters is said. */
export type SomeLine = Omit<Partial<BankStatement["lines"][number]>, "amount"> & { amount: bigint };

/** A statement that adds up, of 6 October where nothing else is said. */
export const statement = (
  number: string,
  opening: bigint,
  lines: SomeLine[],
  more: { account?: string; currency?: string; from?: string; to?: string } = {},
): BankStatement => {
  const { account = IBAN, currency = "EUR", from = "2026-10-05", to = "2026-10-06" } = more;
  return {
    account,
    currency,
    number,
    message: `M${number}`,
    opening: { amount: minor(opening), date: from },
    closing: { amount: minor(lines.reduce((t, l) => t + l.amount, opening)), date: to },
    from: 1,
    lines: lines.map((l) => ({
      booked: to,
      valued: to,
      takesBack: false,
      code: "PMNT-RCDT-ESCT",
      party: NO_PARTY,
      keys: NO_KEYS,
      text: "",
      returnReason: "",
      details: [],
      from: 1,
      to: 1,
      ...l,
      amount: minor(l.amount),
    })),
  };
};
export const camt = (...of: BankStatement[]) => writeCamt053("M1", "2026-10-07T05:00:00Z", of);
export const file = (name: string, text: string) => ({
  name,
  content: Buffer.from(text).toString("base64"),
});

/** What treasury does in a morning, on the books of a world. */
export function bankDay(w: { database: Database }) {
  const treasury = () => callerOf(w.database, "treasury");
  const lines = async () =>
    must(await listStatementLines(await treasury(), { company: "ALP", status: "all" })).rows;
  return {
    treasury,
    root: () => callerOf(w.database, "root"),
    lines,
    /** The newest line of an amount. */
    lineOf: async (amount: bigint) => {
      const found = (await lines()).filter((l) => l.amount === amount);
      return found.reduce((a, b) => (b.id > a.id ? b : a));
    },
    takeIn: async (...of: BankStatement[]) =>
      must(await importStatements(await treasury(), file(`${of[0]!.number}.xml`, camt(...of)))),
    decide: async (id: number, more: object) => {
      const { version } = must(await getStatementLine(await treasury(), { id }));
      return decideLine(await treasury(), { id, version, ...more });
    },
    /** Posts everything that is decided. */
    post: async () => {
      const run = must(
        await proposeRun(await treasury(), {
          kind: "bank-lines",
          params: { company: "ALP", upTo: "2026-10-31" },
        }),
      );
      must(await postRun(await treasury(), { key: String(run.id) }));
      return run;
    },
    position: async (bank = "MAIN", date = "2026-10-31") =>
      must(await bankPosition(await treasury(), { company: "ALP", date })).find(
        (b) => b.code === bank,
      )!,
    faults: async () => (await verify(w.database.db)).flatMap((c) => c.faults),
    /** A customer comes to owe an amount of Alpha, since 1 October. */
    owed: async (reference: string, amount: string, partner: string) => {
      const { id } = must(
        await createJournal(await callerOf(w.database, "root"), {
          company: "ALP",
          type: "general",
          date: "2026-10-01",
          description: "Berth",
          reference,
          post: true,
          lines: [
            {
              account: "1310",
              partner,
              dueDate: "2026-10-31",
              debit: amount,
              credit: "",
              dimensions: {},
            },
            { account: "4010", debit: "", credit: amount, dimensions: { costCentre: "HARB" } },
          ],
        }),
      );
      const [item] = await rows<{ id: bigint }>(
        w.database.db,
        sql`select id from open_item where journal_id = ${id}`,
      );
      return { journal: id, item: Number(item!.id) };
    },
    /** What is left of an open item. */
    left: async (item: number) =>
      (
        await rows<{ left: bigint }>(
          w.database.db,
          sql`select left_amount as "left" from open_item where id = ${item}`,
        )
      )[0]!.left,
  };
}
