import { sql } from "drizzle-orm";
import { saleInput } from "../src/core/receivables";
import { rows, type Database } from "../src/server/db";
import { createSale } from "../src/server/receivables";
import { callerOf, must } from "./world";

/** Posts an invoice to a customer, of Alpha where nothing else is said, with its open item. */
export async function soldTo(
  database: Database,
  customer: string,
  date: string,
  net: string,
  more: { company?: string; taxCode?: string; currency?: string; terms?: string } = {},
): Promise<{ id: number; number: string; item: number }> {
  const { company = "ALP", taxCode = "NO", ...head } = more;
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, net, taxCode };
  const { id, number } = must(
    await createSale(await callerOf(database, "receivables"), {
      ...saleInput({ company, customer, date, ...head, lines: [line] }),
      post: true,
    }),
  );
  const [item] = await rows<{ id: bigint }>(
    database.db,
    sql`select id from open_item where document_id = ${id} or reference = ${number!}`,
  );
  return { id, number: number!, item: Number(item!.id) };
}
