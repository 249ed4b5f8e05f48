import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { thingsOfAlpha, type ThingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { world } from "../../../tests/useWorld";
import { verify } from "../verify";
import { rows } from "./index";

const w = world();
let t: ThingsOfAlpha;
beforeAll(async () => {
  t = await thingsOfAlpha(w.database);
});

/** What the database says to a statement of somebody who owns the tables; nothing where it does it. */
async function said(statement: ReturnType<typeof sql>): Promise<string> {
  try {
    await w.database.db.transaction(async (tx) => {
      await tx.execute(statement);
    });
    return "";
  } catch (error) {
    let text = "";
    for (
      let e = error as { message?: string; cause?: unknown } | undefined;
      e;
      e = e.cause as never
    )
      text += `${e.message ?? ""} `;
    return text;
  }
}
const there = async (table: string): Promise<number> =>
  (
    await rows<{ n: number }>(w.database.db, sql`select count(*)::int as n from ${sql.raw(table)}`)
  )[0]!.n;

/** Tables that say what has happened, each with a change of one that somebody might wish for. */
const EVIDENCE: readonly [table: string, change: string][] = [
  ["open_item", "left_amount = 0, left_functional = 0 where left_amount <> 0"],
  ["allocation", "made_by = 1"],
  ["allocation_line", "amount = amount + 1"],
  ["payment", "payee = 'Somebody else', iban = 'DE02120300000000202051'"],
  ["payment_item", "taken = taken * 2"],
  ["payment_file", "content = 'other'"],
  ["cheque", "amount = amount * 10"],
  ["tax_record", "tax = tax / 2"],
  ["tax_declaration", "reference = 'other'"],
  ["grni_entry", "functional = functional + 1"],
  ["goods_receipt_line", "quantity = quantity + 1000"],
  ["remark", "text = 'other'"],
  ["approval", "why = 'other'"],
  ["document_link", "kind = 'other'"],
  ["document_writer", "person_id = 9999"],
  ["audit_event", "action = 'other'"],
  ["close_record", "reason = 'other'"],
  ["chain", "hash = 'deadbeef' where seq > 0"],
  ["number_counter", "last = last - 1 where last > 0"],
  ["period_state", "state = case when state = 'open' then 'closed' else 'open' end"],
  ["coding", "value_ids = '{}' where id > 1"],
  ["journal", "description = 'other'"],
  ["journal_line", "amount = amount + 1"],
];

describe("evidence", () => {
  test.each(EVIDENCE)("%s is neither changed nor taken out nor emptied", async (table, change) => {
    if (table === "remark")
      await w.database.db.execute(sql`insert into remark (document_id, person_id, text, mentions)
        values (${t.invoice.id}, 1, 'seen', '{}')`);
    const before = await there(table);
    expect(before).toBeGreaterThan(0);
    for (const statement of [
      `update ${table} set ${change}`,
      `delete from ${table}`,
      `truncate ${table}`,
      `truncate ${table} cascade`,
    ])
      expect([statement, (await said(sql.raw(statement))) !== ""]).toEqual([statement, true]);
    expect(await there(table)).toBe(before);
  });

  test("what is posted is no draft again, says no other thing, and keeps its papers", async () => {
    await w.database.db.execute(
      sql`insert into attachment (document_id, name, type, size, content, added_by)
        values (${t.invoice.id}, 'a.txt', 'text/plain', 1, 'x', 1)`,
    );
    for (const statement of [
      sql`update document set status = 'draft' where id = ${t.invoice.id}`,
      sql`update document set status = 'held' where id = ${t.payment.id}`,
      sql`update invoice set figures = '{}'::jsonb where document_id = ${t.invoice.id}`,
      sql`update invoice set content = '{}'::jsonb where document_id = ${t.invoice.id}`,
      sql`delete from invoice where document_id = ${t.invoice.id}`,
      sql`update attachment set content = '' where document_id = ${t.invoice.id}`,
      sql`delete from attachment where document_id = ${t.invoice.id}`,
      sql`update approval set state = 'approved', why = 'other'`,
    ])
      expect(await said(statement)).toMatch(/ledger guard/);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});
