import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { documentChain } from "../../documents";
import { createJournal } from "../../ledger";
import { savePartner } from "../../partners";
import { reverseRun } from "../../runs";
import {
  getPayment,
  getReceipt,
  listPayments,
  listReceipts,
  moneyAgainstJournals,
  reversePayment,
  saveBankAccount,
} from "../index";

const w = world();
const { treasury, root, lineOf, takeIn, decide, post, owed, left, faults } = bankDay(w);
const receipts = async () => must(await listReceipts(await treasury(), { company: "ALP" })).rows;
const payments = async () => must(await listPayments(await treasury(), { company: "ALP" })).rows;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await savePartner(await root(), { code: "OST", name: "Ostry", customer: true, country: "IE" }),
  );
});

test("what a customer has paid is a receipt with what it settles, and leads from the invoice to the bank's line", async () => {
  const first = await owed("R-10001", "70.00", "OST");
  const second = await owed("R-10002", "50.00", "OST");
  await takeIn(
    statement("1", 0n, [
      { amount: 12_500n, text: "R-10001 R-10002" },
      { amount: 300n, text: "vending" },
    ]),
  );
  must(
    await decide((await lineOf(12_500n)).id, {
      takes: [{ item: first.item }, { item: second.item }],
      onAccount: true,
    }),
  );
  const coding = { account: "4010", dimensions: { costCentre: "HARB" } };
  must(await decide((await lineOf(300n)).id, { coding }));
  const run = await post();
  const [receipt, ...others] = await receipts();
  // Money that is nobody's has no receipt.
  expect(others).toEqual([]);
  expect(receipt).toMatchObject({
    status: "posted",
    partner: "OST",
    amount: 12_500n,
    pays: "R-10001, R-10002",
  });
  const view = must(await getReceipt(await treasury(), { id: receipt!.id }));
  expect(view.items.map((i) => i.taken)).toEqual([7_000n, 5_000n]);
  expect(view.line).toMatchObject({ statement: "1" });
  const chain = must(await documentChain(await root(), { id: view.items[0]!.document.id }));
  const kinds = chain.documents.map((d) => d.kind);
  expect(kinds).toEqual(expect.arrayContaining(["receipt", "journal"]));
  expect(chain.links.map((l) => l.from)).toContain(receipt!.id);
  expect(codes(await getReceipt(await callerOf(w.database, "admin"), { id: receipt!.id }))).toEqual(
    ["FORBIDDEN"],
  );
  expect(await faults()).toEqual([]);

  must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
  expect((await receipts()).map((r) => r.status)).toEqual(["reversed"]);
  expect(await left(first.item)).toBe(7_000n);
  await post();
  const again = await receipts();
  expect(again.map((r) => r.status).sort()).toEqual(["posted", "reversed"]);
  expect(new Set(again.map((r) => r.number)).size).toBe(2);
  expect(await faults()).toEqual([]);
});

test("one that says something else than its journal is found", async () => {
  const found = async (change: string) =>
    w.database.db
      .transaction(async (tx) => {
        await tx.execute(sql.raw("set local session_replication_role = replica"));
        await tx.execute(sql.raw(change));
        const { faults: all } = await moneyAgainstJournals(tx as never);
        throw new Error(all.join() || "nothing");
      })
      .catch((e: Error) => e.message);
  const posted = "kind = 'receipt' and status = 'posted'";
  expect(await found(`update document set amount = amount + 1 where ${posted}`)).toContain("12501");
  expect(await found(`update document set status = 'reversed' where ${posted}`)).toContain(
    "stands",
  );
});

test("what a supplier has debited is a payment that the bank has made already", async () => {
  must(
    await createJournal(await root(), {
      company: "ALP",
      type: "general",
      date: "2026-10-01",
      description: "Power",
      reference: "PW-1",
      post: true,
      lines: [
        { account: "6310", debit: "40.00", credit: "", dimensions: { costCentre: "HARB" } },
        {
          account: "2110",
          partner: "PEL",
          dueDate: "2026-10-05",
          debit: "",
          credit: "40.00",
          dimensions: {},
        },
      ],
    }),
  );
  await takeIn(
    statement("2", 12_800n, [{ amount: -4_000n, text: "PW-1" }], {
      from: "2026-10-06",
      to: "2026-10-07",
    }),
  );
  const line = await lineOf(-4_000n);
  if (line.state !== "certain") {
    const { itemsForLine } = await import("../index");
    const [item] = must(await itemsForLine(await treasury(), { id: line.id, text: "PW-1" }));
    must(await decide(line.id, { takes: [{ item: item!.id }] }));
  }
  const run = await post();
  const [paid] = await payments();
  expect(paid).toMatchObject({
    status: "cleared",
    method: "debit",
    partner: "PEL",
    amount: 4_000n,
  });
  expect(must(await getPayment(await treasury(), { id: paid!.id })).items).toMatchObject([
    { reference: "PW-1", taken: -4_000n },
  ]);
  expect(codes(await reversePayment(await root(), { id: paid!.id, reason: "No" }))).toEqual([
    "IN_USE",
  ]);
  expect(await faults()).toEqual([]);
  must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
  expect((await payments()).map((p) => p.status)).toEqual(["reversed"]);
  expect(await faults()).toEqual([]);
});
