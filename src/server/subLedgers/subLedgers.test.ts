import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, inject, test } from "vitest";
import { minor } from "@/core/shared";
import { worldInFolder } from "../../../tests/folders";
import { callerOf, codes, journal, BANK_OF_ALPHA, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount, reversePayment } from "../banks";
import { openDatabase, rows, type Database } from "../db";
import { sealNow, sealPlace } from "../evidence";
import { createJournal, postDrafts } from "../ledger";
import { allocateItems, openItems } from "../openItems";
import { makePayment } from "../payables";
import { loadRates } from "../rates";
import { verify } from "../verify";
import { reconcileSubLedgers } from "./index";

const ON = "2026-10-31";
const root = (database: Database) => callerOf(database, "root");
const withBankAccount = async (database: Database) =>
  must(await saveBankAccount(await root(database), BANK_OF_ALPHA));

/** Pays something that is coded, without an invoice: so much leaves the account for the payee. */
const pay = async (database: Database, amount: string, more: object = {}) =>
  must(
    await makePayment(await callerOf(database, "payables"), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
      ...more,
    }),
  );
const underWay = async (database: Database) =>
  must(await openItems(await root(database), { company: "ALP", area: "transit", on: ON })).map(
    (i) => ({ id: i.id, partner: i.partner, currency: i.currency, left: i.left }),
  );
const faults = async ({ db }: Database) => (await verify(db)).flatMap((c) => c.faults);
const reconciled = async (database: Database) =>
  must(await reconcileSubLedgers(await root(database), { company: "ALP", on: ON }));
const apart = async (database: Database) =>
  (await reconciled(database)).rows.filter((r) => r.held !== r.listed).map((r) => r.control);

/** What the bank says: so much of what was under way has left the account. */
const left = async (database: Database, amount: bigint) => {
  const line = (account: string, side: "debit" | "credit") => ({
    account,
    dimensions: {},
    description: "",
    side,
    amount: minor(amount),
  });
  const draft = journal({
    type: "bank",
    lines: [{ ...line("1120", "debit"), partner: "PEL" }, line("1110", "credit")],
  });
  return must(await runAs(await root(database), (c) => postDrafts(c, [draft])));
};

const w = world();
describe("money under way", () => {
  beforeAll(() => withBankAccount(w.database));

  test("is an item for each payment, with its payee; undone it is settled", async () => {
    const first = await pay(w.database, "100.00");
    await pay(w.database, "40.00");
    expect(await underWay(w.database)).toMatchObject([
      { partner: "PEL", currency: "EUR", left: -10_000n },
      { partner: "PEL", currency: "EUR", left: -4_000n },
    ]);
    must(
      await reversePayment(await callerOf(w.database, "payables"), {
        id: first.id,
        reason: "paid twice by mistake",
      }),
    );
    expect(await underWay(w.database)).toMatchObject([{ left: -4_000n }]);
    expect([await apart(w.database), await faults(w.database)]).toEqual([[], []]);
  });

  test("is cleared by the bank in part; then the payment cannot be undone", async () => {
    const paid = await pay(w.database, "70.00");
    await left(w.database, 3_000n);
    const items = await underWay(w.database);
    const [cleared] = items.filter((i) => i.left > 0n);
    const [ours] = items.filter((i) => i.left === -7_000n);
    must(
      await allocateItems(await root(w.database), {
        date: "2026-10-05",
        pairs: [{ first: cleared!.id, second: ours!.id }],
      }),
    );
    expect((await underWay(w.database)).map((i) => i.left)).toContain(-4_000n);
    const undone = await reversePayment(await callerOf(w.database, "payables"), {
      id: paid.id,
      reason: "the bank has it already",
    });
    expect(codes(undone)).toEqual(["ITEM_ALLOCATED"]);
    expect([await apart(w.database), await faults(w.database)]).toEqual([[], []]);
  });

  test("is told apart by currency", async () => {
    must(
      await loadRates(await root(w.database), {
        take: true,
        rows: [{ base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.8" }],
      }),
    );
    await pay(w.database, "50.00", { currency: "USD" });
    const dollars = (await underWay(w.database)).filter((i) => i.currency === "USD");
    expect(dollars).toMatchObject([{ left: -5_000n }]);
    expect([await apart(w.database), await faults(w.database)]).toEqual([[], []]);
  });

  test("takes nothing that a person writes", async () => {
    const written = await createJournal(await root(w.database), {
      company: "ALP",
      type: "general",
      date: "2026-10-05",
      description: "By hand",
      post: true,
      lines: [
        { account: "1120", dimensions: {}, debit: "1.00" },
        { account: "2410", dimensions: {}, credit: "1.00" },
      ],
    });
    expect(codes(written)).toContain("CONTROL_ACCOUNT");
  });
});

describe("a list that no longer is what its account holds", () => {
  test("is named with partner and currency, by verify and by the reconciliation", async () => {
    await w.database.db.execute(sql.raw("set session_replication_role = replica"));
    await w.database.db.execute(
      sql`update open_item set partner = 'BET', amount = amount - 100,
        left_amount = left_amount - 100 where area = 'transit' and currency = 'USD'`,
    );
    await w.database.db.execute(sql.raw("set session_replication_role = default"));
    const found = await faults(w.database);
    expect(found.filter((f) => f.includes("USD")).sort()).toEqual([
      "ALP account 1120 BET USD: the accounts hold 0 = 0, the list -5100 = -4000",
      "ALP account 1120 PEL USD: the accounts hold -5000 = -4000, the list 0 = 0",
    ]);
  });
});

describe.runIf(inject("server") === null)("books from before money under way had items", () => {
  test("get them when they are opened, settled where the payment was undone, and what was sealed holds", async () => {
    const scratch = mkdtempSync(path.join(tmpdir(), "yellow-anchor-under-way-"));
    const folder = worldInFolder(scratch);
    const seals = sealPlace(folder);
    let database = await openDatabase({ folder });
    await withBankAccount(database);
    const undone = await pay(database, "100.00");
    await pay(database, "40.00");
    must(
      await reversePayment(await callerOf(database, "payables"), {
        id: undone.id,
        reason: "paid twice by mistake",
      }),
    );
    // As the version before left them.
    for (const statement of [
      "set session_replication_role = replica",
      `delete from allocation_line where item_id in (select id from open_item where area = 'transit')`,
      `delete from open_item where area = 'transit'`,
      `update account set control = null where number = '1120' or control = 'intake'`,
      `update journal_type set controls = controls - 'transit'`,
      `delete from migration where tag like '0041%'`,
      "set session_replication_role = default",
    ])
      await database.db.execute(sql.raw(statement));
    await sealNow(database, seals);
    await database.close();
    database = await openDatabase({ folder });
    expect(await underWay(database)).toMatchObject([{ left: -4_000n }]);
    expect([await apart(database), await faults(database)]).toEqual([[], []]);
    expect(await rows(database.db, sql`select 1 from sealed_row limit 1`)).toHaveLength(1);
    await database.close();
    rmSync(scratch, { recursive: true, force: true });
  });
});
