import { sql } from "drizzle-orm";
import type { JournalDraft } from "../src/core/ledger";
import { minor } from "../src/core/shared";
import { NO_OVERRIDES } from "../src/core/runs";
import { runAs } from "../src/server/access";
import { openDatabase, rows } from "../src/server/db";
import { postDrafts } from "../src/server/ledger";
import { runKind } from "../src/server/runs";
import { prepare } from "./ledger";
import { compare, type Bar } from "./measure";

const COUNT = 20_000;
const SUPPLIERS = 400;

/**
 * A payment proposal over 20,000 open items and a clean-up preview over 20,000 leftovers, each held
 * against reading those rows.
 */
export async function measurePayables(say: (line: string) => void): Promise<Bar[]> {
  const database = await openDatabase({});
  const { db } = database;
  const caller = await prepare(database);
  await db.execute(
    sql`insert into partner (code, name, supplier, country, method)
      select 'S' || g, 'Supplier ' || g, true, 'IE', 'manual'
      from generate_series(1, ${SUPPLIERS}) g`,
  );
  await db.execute(
    sql`insert into bank_account (code, name, company_id, currency, account, under_way_account,
      overdraft) select 'BANK', 'Bank', id, 'EUR', '1110', '1120', 9000000000000 from company
      where code = 'ONE'`,
  );
  const drafts = Array.from({ length: COUNT / 50 }, (_, j): JournalDraft => ({
    company: "ONE",
    type: "purchase",
    book: null,
    date: "2026-05-05",
    description: `Invoices ${j}`,
    lines: [
      {
        account: "6310",
        dimensions: {},
        description: "",
        side: "debit",
        amount: minor(50n * 10_000n),
      },
      ...Array.from({ length: 50 }, (_u, k) => ({
        account: "2140",
        dimensions: {},
        description: "",
        side: "credit" as const,
        amount: minor(10_000n),
        partner: `S${1 + ((j * 50 + k) % SUPPLIERS)}`,
        dueDate: "2026-06-04",
        item: {
          kind: "invoice" as const,
          reference: `N-${j}-${k}`,
          discounts:
            k % 5 === 0 ? [{ until: "2026-12-31", percent: "2", amount: minor(200n) }] : [],
        },
      })),
    ],
  }));
  const posted = await runAs(caller, (c) => postDrafts(c, drafts));
  if (!posted.ok) throw new Error(JSON.stringify(posted.problems.slice(0, 2)));
  // Leftovers are written as they lie; what is measured is reading and deciding, not receiving.
  await db.execute(sql`with o as (insert into document (kind, number, company_id, date, amount,
    currency, title, search, created_by, status) select 'order', 'ONE-26-O' || g, c.id,
    '2026-05-05', 100, 'EUR', '', '', 1, case when g % 2 = 0 then 'open' else 'closed' end
    from generate_series(1, ${COUNT}) g, company c where c.code = 'ONE' returning id)
    insert into purchase_order (document_id, partner_id, content, updated_by, updated_at)
      select o.id, 1 + (o.id % ${SUPPLIERS})::int, '{}', 1, now() from o`);
  await db.execute(
    sql`insert into order_line (order_id, no, item, kind, item_group, account, dimensions,
      description, quantity, unit, price, net, burden, tax_code, deliveries) select document_id, 1,
      '', 'goods', '', '6310', '{}', 'Rope', 1000, '', '1', 100, 0, '', '[]' from purchase_order`,
  );
  await db.execute(sql`with r as (insert into document (kind, number, company_id, date, amount,
    currency, title, search, created_by, status) select 'goods-receipt', 'ONE-26-G' || l.id, c.id,
    '2026-05-05', 100, 'EUR', l.id::text, '', 1, 'posted' from order_line l, company c
    where c.code = 'ONE' returning id, title)
    insert into goods_receipt_line (receipt_id, order_line_id, quantity, date)
      select r.id, r.title::bigint, 1000, '2026-05-05' from r`);
  await db.execute(
    sql`insert into grni_entry (company_id, receipt_line_id, kind, document_id, journal_id, date,
      seq, quantity, "foreign", functional, made_by, made_at) select c.id, r.id, 'received',
      r.receipt_id, 1, '2026-05-05', 1, 1000, 100, 50 + r.id % 5000, 1, now() from goods_receipt_line r,
      company c where c.code = 'ONE'`,
  );
  await db.execute(
    sql`insert into clean_up_rule (place, name, conditions, action)
      values (1, 'small',
      '[{"part":"amount","by":"at most","value":"5.00"},{"part":"age","by":"at least","value":"30"}]',
      'coding'),
      (2, 'closed',
      '[{"part":"order","by":"is","value":"closed"},{"part":"percent","by":"at most","value":"100"}]',
      'coding'), (3, 'rest', '[{"part":"age","by":"at least","value":"1"}]', 'ask')`,
  );
  await db.execute(sql`analyze`);

  const propose = (id: string, params: object) => async () => {
    const kind = (await runKind(id))!;
    if (kind.parts) throw new Error(`${id} is not proposed at once`);
    const done = await runAs(caller, async (c) =>
      kind.propose(c, kind.schema.cast(params), NO_OVERRIDES),
    );
    if (!done.ok) throw new Error(JSON.stringify(done.problems.slice(0, 2)));
    if ((done.value as { items: unknown[] }).items.length !== COUNT)
      throw new Error("not every row was looked at");
  };
  const bars: Bar[] = [];
  const held = async (
    work: string,
    against: string,
    run: () => Promise<unknown>,
    read: () => Promise<unknown>,
  ): Promise<void> => {
    const t = await compare(run, read, 7);
    bars.push({
      work,
      against,
      kind: "atMost",
      bar: 3,
      measured: t.work / t.against,
      workMs: t.work,
      againstMs: t.against,
    });
    say(`  ${work}: ${t.work.toFixed(1)} ms, against ${t.against.toFixed(1)} ms`);
  };
  await held(
    "payment proposal over 20,000 open items",
    "reading those items",
    propose("payment", { company: "ONE", bank: "BANK", date: "2026-06-01", next: "2026-06-08" }),
    () =>
      rows(
        db,
        sql`select i.*, p.name, p.method from open_item i join partner p on p.code = i.partner
          where i.left_amount <> 0`,
      ),
  );
  await held(
    "clean-up preview over 20,000 leftovers",
    "reading those leftovers",
    propose("clean-up", { company: "ONE", date: "2026-12-01" }),
    () =>
      rows(
        db,
        sql`select e.*, r.date as received, g.number, l.description, l.account, l.dimensions,
          l.kind as item_kind, d.number as order_number, d.status, p.code, p.name from grni_entry e
          join goods_receipt_line r on r.id = e.receipt_line_id join document g on g.id = r.receipt_id
          join order_line l on l.id = r.order_line_id join document d on d.id = l.order_id
          join purchase_order o on o.document_id = d.id join partner p on p.id = o.partner_id`,
      ),
  );
  await database.close();
  return bars;
}
