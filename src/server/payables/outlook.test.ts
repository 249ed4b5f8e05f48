import { beforeAll, expect, test } from "vitest";
import { callerOf, must, codes, BANK_OF_ALPHA } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount, reversePayment } from "../banks";
import { ageing, holdItem, openItems } from "../openItems";
import { savePartner, saveTerms } from "../partners";
import { saveTaxCode } from "../taxes";
import { cashNeeded, createInvoice, discountsLost, makePayment } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const bill = async (number: string, net: string, more: object = {}) =>
  must(
    await createInvoice(await clerk(), {
      company: "ALP",
      supplier: "ROPE",
      number,
      date: "2026-10-01",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net, taxCode: "Z" }],
      post: true,
      ...more,
    }),
  );
const item = async (reference: string) =>
  must(
    await openItems(await clerk(), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      partner: "ROPE",
    }),
  ).find((i) => i.reference === reference)!;

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await saveTerms(await clerk(), {
      code: "3-2",
      name: "3 % in 7, 2 % in 14 days",
      terms: {
        instalments: [{ percent: "100", days: 30 }],
        discounts: [
          { percent: "3", days: 7 },
          { percent: "2", days: 14 },
        ],
      },
    }),
  );
  must(
    await savePartner(await clerk(), {
      code: "ROPE",
      name: "Rope Works",
      supplier: true,
      country: "IE",
      method: "cheque",
    }),
  );
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      lastCheque: 40,
    }),
  );
});

test("what falls due stands in its week: overdue, by weeks from Monday on, held apart, later; a credit note lowers its week; the weeks are the control account", async () => {
  // The 15th of October 2026 is a Thursday; its week begins on the 12th.
  for (const [number, net, due] of [
    ["LATE", "100.00", "2026-10-14"],
    ["NOW", "200.00", "2026-10-15"],
    ["SUN", "300.00", "2026-10-18"],
    ["MON", "400.00", "2026-10-19"],
    ["FAR", "500.00", "2027-03-01"],
  ])
    await bill(number!, net!, { dueDate: due });
  await bill("CREDIT", "50.00", { kind: "credit note", dueDate: "2026-10-20" });
  must(await holdItem(await clerk(), { id: (await item("SUN")).id, reason: "two crates missing" }));
  await bill("DISC", "1,000.00", { terms: "3-2", date: "2026-10-12" });
  const cash = must(await cashNeeded(await clerk(), { company: "ALP", on: "2026-10-15" }));
  const week = (from: string) => cash.weeks.find((x) => x.from === from);
  expect([cash.weeks.length, cash.total, cash.control, cash.agrees, cash.later]).toEqual([
    14,
    245_000n,
    245_000n,
    true,
    50_000n,
  ]);
  expect(cash.weeks[0]).toMatchObject({ from: "", due: 10_000n, held: 0n, items: 1 });
  expect(week("2026-10-12")).toMatchObject({
    to: "2026-10-18",
    due: 50_000n,
    held: 30_000n,
    items: 2,
  });
  expect(week("2026-10-19")).toMatchObject({
    to: "2026-10-25",
    due: 35_000n,
    items: 2,
    discount: 3_000n,
  });
  expect(week("2026-11-09")).toMatchObject({ due: 100_000n, items: 1 });
  // What parts it from the ageing of a day is what is posted for later days, and both say so.
  for (const on of ["2026-10-05", "2026-10-12"]) {
    const owed = must(await ageing(await clerk(), { company: "ALP", area: "payables", on }));
    const needed = must(await cashNeeded(await clerk(), { company: "ALP", on }));
    expect([needed.total - needed.afterwards, owed.afterwards]).toEqual([
      owed.total,
      needed.afterwards,
    ]);
  }
  expect(codes(await cashNeeded(await clerk(), { company: "ALP", on: "the 15th" }))).toEqual([
    "DATE_INVALID",
  ]);
});

test("a discount is had or lost by the payment that settles its part: the best there ever was counts, and what is undone counts no more", async () => {
  const { id } = await item("DISC");
  const pay = async (amount: string, discount: string, date: string) =>
    must(
      await makePayment(await clerk(), {
        company: "ALP",
        bank: "MAIN",
        date,
        supplier: "ROPE",
        items: [{ id, amount, discount }],
      }),
    );
  const first = await pay("485.00", "15.00", "2026-10-16");
  const late = await pay("490.00", "10.00", "2026-10-25");
  const lost = async (from = "2026-10-01") =>
    must(await discountsLost(await clerk(), { company: "ALP", from, to: "2026-10-31" })).map(
      (l) => [l.payment, l.taken, l.had, l.lost],
    );
  expect(await lost()).toEqual([
    [late.number, 50_000n, 1_000n, 500n],
    [first.number, 50_000n, 1_500n, 0n],
  ]);
  expect(await lost("2026-10-20")).toEqual([[late.number, 50_000n, 1_000n, 500n]]);
  must(await reversePayment(await clerk(), { id: late.id, reason: "typed twice" }));
  expect((await lost()).map(([number]) => number)).toEqual([first.number]);
});
