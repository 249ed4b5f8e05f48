import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { describe, expect, inject, test } from "vitest";
import { worldInFolder } from "../../../tests/folders";
import { BEFORE_GOODS_RECEIPTS } from "../../../tests/olderBooks";
import { callerOf, must } from "../../../tests/world";
import { thingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { openDatabase, rows, type Database } from "../db";
import { createBatch, getBatch } from "../ledger";
import { verify } from "../verify";

const registered = (database: Database) =>
  rows<{ kind: string; number: string; partner: string | null; due: string | null }>(
    database.db,
    sql`select d.kind, d.number, p.code as partner, d.due from document d
      left join partner p on p.id = d.partner_id
      where d.number is not null and d.kind in ('invoice', 'payment', 'order', 'goods-receipt')
      order by d.id`,
  );

describe.runIf(inject("server") === null)("the register", () => {
  test("knows whom a document is with and when it is due, also of books from before it did", async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-register-"));
    const folder = worldInFolder(scratch);
    let database = await openDatabase({ folder });
    await thingsOfAlpha(database);
    const controls = [
      { currency: "EUR", amount: "1,500.25" },
      { currency: "JPY", amount: "20,000" },
    ];
    const { id } = must(
      await createBatch(await callerOf(database, "root"), {
        company: "ALP",
        period: "2026-10",
        controls,
      }),
    );
    const before = await registered(database);
    expect(new Set(before.map((d) => d.kind))).toEqual(
      new Set(["invoice", "order", "goods-receipt", "payment"]),
    );
    expect(before.filter((d) => d.partner === null)).toEqual([]);
    expect(before.filter((d) => d.kind === "invoice" && d.due === null)).toEqual([]);
    // As the version before left them.
    for (const statement of [
      ...BEFORE_GOODS_RECEIPTS,
      "alter table document drop column partner_id, drop column due",
      `alter table batch add column period text, add column description text not null default '',
        add column controls jsonb not null default '[]'`,
      `update batch set period = content->>'period', description = content->>'description',
        controls = '[{"currency":"EUR","amount":"150025"},{"currency":"JPY","amount":"20000"}]'`,
      "drop trigger batch_written on batch",
      "drop trigger batch_rewritten on batch",
      "alter table batch drop column content, drop column updated_by, drop column updated_at",
      "delete from migration where tag like '0044%' or tag like '0045%'",
    ])
      await database.db.execute(sql.raw(statement));
    await database.close();
    database = await openDatabase({ folder });
    expect(await registered(database)).toEqual(before);
    expect(must(await getBatch(await callerOf(database, "root"), { id })).lines).toMatchObject([
      { currency: "EUR", control: 150025n },
      { currency: "JPY", control: 20000n },
    ]);
    expect((await verify(database.db)).flatMap((c) => c.faults)).toEqual([]);
    // Whoever changes whom a posted invoice is with is found.
    await database.db.execute(sql`set session_replication_role = replica`);
    await database.db.execute(
      sql`update document set partner_id = (select max(id) from partner where id <> partner_id)
        where id = (select min(id) from document where kind = 'invoice' and number is not null)`,
    );
    expect((await verify(database.db)).flatMap((c) => c.faults).join()).toContain(
      "another partner",
    );
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  });
});
