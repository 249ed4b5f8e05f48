import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { expect, inject, test } from "vitest";
import { worldInFolder } from "../../../tests/folders";
import { BEFORE_GOODS_RECEIPTS } from "../../../tests/olderBooks";
import { thingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { callerOf, must } from "../../../tests/world";
import { openDatabase, rows } from "../db";
import { EVIDENCE, sealNow, sealPlace } from "../evidence";
import { verify } from "../verify";
import { listGoodsReceipts, receiveOrder } from "./index";

test.skipIf(inject("server") !== null)(
  "receipts of older books are goods receipts, numbered on, and what was sealed of them holds",
  async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-receipts-"));
    const folder = worldInFolder(path.join(scratch, "data"));
    let database = await openDatabase({ folder });
    const { order } = await thingsOfAlpha(database);
    for (const statement of BEFORE_GOODS_RECEIPTS) await database.db.execute(sql.raw(statement));
    // Sealed as the version before did.
    const documents = EVIDENCE.find((e) => e.table === "document")!;
    const lines = EVIDENCE.find((e) => e.table === "goods_receipt_line")!;
    const { final } = documents;
    documents.final = final!.replace("'goods-receipt'", "'receipt'");
    lines.table = "receipt_line";
    await sealNow(database, sealPlace(folder));
    documents.final = final!;
    lines.table = "goods_receipt_line";
    const sealed = await rows<{ name: string }>(
      database.db,
      sql`select distinct "table" as name from sealed_row where "table" like '%receipt%'`,
    );
    expect(sealed).toEqual([{ name: "receipt_line" }]);
    await database.close();

    database = await openDatabase({ folder });
    expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
    const clerk = await callerOf(database, "payables");
    const list = async () => must(await listGoodsReceipts(clerk, { company: "ALP" })).rows;
    const before = await list();
    const received = { order: order.id, date: "2026-10-20", lines: [{ no: 1, quantity: "1" }] };
    must(await receiveOrder(clerk, received));
    const numbers = (await list()).map((r) => r.number);
    expect(numbers.length).toBe(before.length + 1);
    expect(new Set(numbers).size).toBe(numbers.length);
    await sealNow(database, sealPlace(folder));
    expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
    // A receipt that says another thing than what was sealed is found under its old seal too.
    await database.db.execute(sql`set session_replication_role = replica`);
    await database.db.execute(
      sql`update document set date = date - 1 where id = (
        select min(id) from document where kind = 'goods-receipt')`,
    );
    expect((await verify(database.db)).flatMap((c) => c.faults).join()).toMatch(
      /document \d+, sealed by 1, says another thing/,
    );
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  },
);
