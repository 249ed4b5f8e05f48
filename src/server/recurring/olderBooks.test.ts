import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { expect, inject, test } from "vitest";
import { worldInFolder } from "../../../tests/folders";
import { BEFORE_RECURRING_DOCUMENTS } from "../../../tests/olderBooks";
import { thingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, must } from "../../../tests/world";
import { openDatabase } from "../db";
import { getRecurring, skipRecurring } from "../ledger";
import { getRecurringInvoice, skipRecurringInvoice } from "../payables";

test.skipIf(inject("server") !== null)(
  "recurring journals and invoices of older books say what they said, with their dates, their reasons and what they have made",
  async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-recurring-"));
    const folder = worldInFolder(path.join(scratch, "data"));
    let database = await openDatabase({ folder });
    const { recurring, recurringInvoice } = await thingsOfAlpha(database);
    const root = () => callerOf(database, "root");
    const skip = { date: "2026-09-30", reason: "laid up" };
    must(await skipRecurring(await root(), { id: recurring.id, ...skip }));
    must(await skipRecurringInvoice(await root(), { id: recurringInvoice.id, ...skip }));
    const read = async () => [
      must(await getRecurring(await root(), { id: recurring.id, upTo: "2026-12-31" })),
      must(
        await getRecurringInvoice(await root(), { id: recurringInvoice.id, upTo: "2026-12-31" }),
      ),
    ];
    const before = await read();
    expect(before.map((b) => [Object.keys(b.skipped), b.due.length > 0])).toEqual([
      [["2026-09-30"], true],
      [["2026-09-30"], true],
    ]);
    for (const statement of BEFORE_RECURRING_DOCUMENTS)
      await database.db.execute(sql.raw(statement));
    await database.close();
    database = await openDatabase({ folder });
    expect(await read()).toEqual(before);
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  },
);
