import { sql } from "drizzle-orm";
import { decimalText, minor, proportion, type CalendarDate, type Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { loadCardPayments, makeDeposit, returnCheque, saveLineRule } from "@/server/banks";
import { rows, type Database } from "@/server/db";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;

/** Two slips of cheques: one that the bank has not yet, and one of which a cheque came back. */
export async function addDeposits(
  database: Database,
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const owed = await rows<{ id: bigint; partner: string; left: bigint }>(
    database.db,
    sql`select i.id, i.partner, i.left_amount as "left" from open_item i
      join company c on c.id = i.company_id and c.code = 'HSF'
      where i.area = 'receivables' and i.currency = 'EUR' and i.left_amount > 0
        and i.date <= '2026-11-02' order by i.due_date desc, i.id desc limit 4`,
  );
  const cheque = (n: number, number: string) => {
    const { id, partner, left } = owed[n]!;
    return {
      kind: "cheque",
      partner,
      cheque: number,
      amount: decimalText(minor(left), "EUR"),
      items: [Number(id)],
    };
  };
  const slip = async (date: CalendarDate, parts: object[]) =>
    must(
      await makeDeposit(await as("treasury", date, 15), {
        company: "HSF",
        bank: "HSF-MAIN",
        date,
        parts,
      }),
      "deposit",
    );
  const earlier = await slip("2026-11-03", [cheque(0, "300411"), cheque(1, "881204")]);
  must(
    await returnCheque(await as("treasury", "2026-11-05", 9), {
      id: earlier.id,
      no: 2,
      date: "2026-11-05",
      reason: "no funds",
      fee: "18.50",
      kind: "CHARGE",
    }),
    "returned cheque",
  );
  await slip("2026-11-05", [
    cheque(2, "300455"),
    cheque(3, "190077"),
    { kind: "cash", partner: owed[0]!.partner, amount: "640.00" },
  ]);
}

/** A settlement of card payments of small customers, which the bank has not yet. */
export async function settleCards(
  database: Database,
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const paid = await rows<{ invoice: string; left: bigint }>(
    database.db,
    sql`select i.reference as invoice, i.left_amount as "left" from open_item i
      join company c on c.id = i.company_id and c.code = 'HSF'
      where i.area = 'receivables' and i.currency = 'EUR' and i.kind = 'invoice'
        and i.left_amount between 10000 and 90000 and i.date <= '2026-11-02' and i.due_date > '2026-11-05'
        and not exists (select 1 from dispute d where d.item_id = i.id)
      order by i.due_date desc, i.id desc limit 3`,
  );
  must(
    await loadCardPayments(await as("treasury", "2026-11-04", 16), {
      company: "HSF",
      bank: "HSF-MAIN",
      date: "2026-11-04",
      kind: "CHARGE",
      take: true,
      rows: paid.map(({ invoice, left }, i) => ({
        number: `4417-${String(20311 + i * 7)}`,
        invoice,
        amount: decimalText(minor(left), "EUR"),
        // Kept of each: 1.4 %.
        fee: decimalText(proportion(minor(left), 14n, 1000n), "EUR"),
      })),
    }),
    "card payments",
  );
}

/** A rule that somebody has begun from a line and not put to use yet. */
export async function addLineRules(
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  must(
    await saveLineRule(await as("treasury", "2026-11-05", 9), {
      company: "HSF",
      name: "Deposits for cabins",
      place: 10,
      text: "deposit cabin",
      side: "in",
      outcome: "coding",
      account: "4020",
      dimensions: { costCentre: "A-SALES" },
      inUse: false,
    }),
    "rule",
  );
}
