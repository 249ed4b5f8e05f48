import { beforeAll, expect, test } from "vitest";
import type { Result } from "@/core/shared";
import { callerOf, must, BANK_OF_ALPHA, proposalOf } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount, listPayments, paymentsOfRun, printCheques } from "../banks";
import { verify } from "../verify";
import { ageing, openItems } from "../openItems";
import { savePartner } from "../partners";
import { listGrni, placeOrder, receiveOrder, saveOrder } from "../purchasing";
import { postRun, proposeRun } from "../runs";
import { saveTaxCode } from "../taxes";
import { cancelInvoice, createInvoice, makePayment } from "./index";

// Several people at the same moment. On the embedded database they come one after the other, on a
// server they really meet.
const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
let n = 0;
const bill = async (supplier: string, net = "100.00", more: object = {}) =>
  must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier,
      number: `T-${++n}`,
      date: "2026-09-01",
      postingDate: "2026-10-02",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "Z" }],
      post: true,
      ...more,
    }),
  );
const items = async (partner: string) =>
  must(
    await openItems(await root(), { company: "ALP", area: "payables", on: "2026-10-31", partner }),
  );
/** The same thing done by several at once: how many got it. */
const atOnce = async <T>(acts: (() => Promise<Result<T>>)[]): Promise<T[]> =>
  (await Promise.all(acts.map((act) => act()))).flatMap((r) => (r.ok ? [r.value] : []));
const propose = async (more: object = {}) =>
  proposeRun(await clerk(), {
    kind: "payment",
    params: { company: "ALP", bank: "MAIN", date: "2026-10-15", next: "2026-10-22", ...more },
  });
const order = async (quantity: string) => {
  const content = {
    company: "ALP",
    supplier: "ONE",
    date: "2026-10-01",
    currency: "EUR",
    description: "Rope",
    lines: [
      {
        account: "6310",
        dimensions: { costCentre: "HARB" },
        description: "Rope",
        quantity,
        price: "10.00",
        taxCode: "Z",
      },
    ],
  };
  const kept = must(await saveOrder(await clerk(), { content }));
  return must(await placeOrder(await clerk(), { id: kept.id, version: kept.version, content }));
};
const whole = async () => {
  expect(
    must(await ageing(await root(), { company: "ALP", area: "payables", on: "2026-10-31" })).agrees,
  ).toBe(true);
  expect(must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" })).agrees).toBe(
    true,
  );
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
};

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  for (const [code, method] of [
    ["ONE", "manual"],
    ["TWO", "manual"],
    ["CHQ", "cheque"],
    ["CH2", "cheque"],
  ])
    must(
      await savePartner(await clerk(), {
        code,
        name: `Supplier ${code}`,
        supplier: true,
        country: "IE",
        method,
      }),
    );
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      lastCheque: 100,
    }),
  );
});

test("runs proposed at once: an item is in one of them; the same run posted at once pays once", async () => {
  for (const supplier of ["ONE", "ONE", "TWO"]) await bill(supplier);
  const runs = await atOnce([
    () => propose({ suppliers: ["ONE"] }),
    () => propose({ suppliers: ["ONE", "TWO"] }),
    () => propose({ suppliers: ["TWO", "ONE"] }),
  ]);
  const views = await Promise.all(
    runs.map(async (r) => ({
      number: r.number,
      ...(await proposalOf(await root(), r.id)),
    })),
  );
  const taken = views.flatMap((v) =>
    v.items.filter((i) => i.leftOut === undefined).map((i) => i.key),
  );
  expect([taken.length, new Set(taken).size]).toEqual([3, 3]);
  for (const v of views.filter((x) => x.drafts.length > 0))
    expect(
      (await atOnce([1, 2, 3].map(() => async () => postRun(await clerk(), { key: v.number }))))
        .length,
    ).toBe(1);
  expect([await items("ONE"), await items("TWO")]).toEqual([[], []]);
  expect(must(await listPayments(await clerk(), { company: "ALP" })).totals).toEqual([
    { currency: "EUR", sums: { amount: 30_000n, discount: 0n } },
  ]);
  await whole();
});

test("an item is paid once, and either paid or cancelled", async () => {
  await bill("TWO");
  const [item] = await items("TWO");
  const pay = (id: number) => async () =>
    makePayment(await clerk(), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-15",
      supplier: "TWO",
      items: [{ id }],
    });
  expect((await atOnce([pay(item!.id), pay(item!.id), pay(item!.id)])).length).toBe(1);
  const other = await bill("TWO");
  const [left] = await items("TWO");
  expect(
    (
      await atOnce<unknown>([
        pay(left!.id),
        async () => cancelInvoice(await clerk(), { id: other.id, reason: "entered twice" }),
      ])
    ).length,
  ).toBe(1);
  expect(await items("TWO")).toEqual([]);
  await whole();
});

test("what is ordered is received once and billed once", async () => {
  const { id, number } = await order("5");
  expect(
    (
      await atOnce(
        [1, 2, 3].map(
          () => async () =>
            receiveOrder(await clerk(), {
              order: id,
              date: "2026-10-03",
              lines: [{ no: 1, quantity: "5" }],
            }),
        ),
      )
    ).length,
  ).toBe(1);
  const billed = await Promise.all(
    [1, 2].map(() =>
      bill("ONE", "50.00", {
        lines: [{ order: `${number}/1`, quantity: "5", net: "50.00", taxCode: "Z" }],
      }),
    ),
  );
  expect(billed.map((b) => b.status).sort()).toEqual(["held", "posted"]);
  expect(must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" })).total).toBe(0n);
  await whole();
});

test("a leftover is written off once; a cheque number is given once", async () => {
  const { id } = await order("3");
  must(
    await receiveOrder(await clerk(), {
      order: id,
      date: "2026-10-03",
      lines: [{ no: 1, quantity: "3" }],
    }),
  );
  const [line] = must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" })).rows;
  const runs = await atOnce(
    [1, 2].map(
      () => async () =>
        proposeRun(await clerk(), {
          kind: "clean-up",
          params: {
            company: "ALP",
            date: "2026-10-15",
            lines: [line!.receiptLine],
            reason: "supplier has waived it",
          },
        }),
    ),
  );
  expect(
    (await atOnce(runs.map((r) => async () => postRun(await clerk(), { key: String(r.id) }))))
      .length,
  ).toBe(1);
  expect(must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" })).total).toBe(0n);
  await bill("CHQ");
  await bill("CH2");
  const payments = await Promise.all(
    [["CHQ"], ["CH2"]].map(async (suppliers) => must(await propose({ suppliers }))),
  );
  expect(
    (
      await atOnce(
        payments.map((p) => async () => printCheques(await clerk(), { run: p.id, first: 101 })),
      )
    ).length,
  ).toBe(1);
  const numbers = await Promise.all(
    payments.map(async (p) =>
      must(await paymentsOfRun(await clerk(), { run: p.id })).cheques.map((c) => c.number),
    ),
  );
  expect(numbers.flat()).toEqual([101]);
  await whole();
});
