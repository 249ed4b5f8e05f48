import fc from "fast-check";
import { beforeAll, expect, inject, test } from "vitest";
import { callerOf, must, STANDARD_TAX } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount, reversePayment } from "../banks";
import { verify } from "../verify";
import { ageing, openItems } from "../openItems";
import { cancelInvoice, createInvoice, makePayment } from "../payables";
import { loadRates } from "../rates";
import { postRun, proposeRun, reverseRun } from "../runs";
import { saveTaxCode, taxSummary } from "../taxes";
import {
  cancelGoodsReceipt,
  listGrni,
  placeOrder,
  receiveOrder,
  saveOrder,
  saveTolerance,
} from "./index";
import { savePurchaseItem } from "../trade";

const w = world();
const SUPPLIER = "PEL";
/** Two companies of different functional currency, worked on in turn by two people. */
const COMPANIES = [
  { company: "ALP", functional: "EUR", bank: "MAIN" },
  { company: "BET", functional: "GBP", bank: "OTHER" },
] as const;
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");

beforeAll(async () => {
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(
    await saveTaxCode(await root(), {
      code: "HALF",
      name: "Half of it",
      kind: "standard",
      account: "1410",
      recoverable: "50",
      returnLine: "60",
      rates: [{ from: "2020-01-01", percent: "23" }],
    }),
  );
  for (const [code, taxCode] of [
    ["ROPE", "S"],
    ["FUEL", "HALF"],
  ])
    must(
      await savePurchaseItem(await clerk(), {
        code,
        name: code,
        account: "6310",
        dimensions: { costCentre: "HARB" },
        taxCode,
        unit: "m",
        group: "deck",
      }),
    );
  must(
    await saveTolerance(await root(), {
      supplier: SUPPLIER,
      pricePercent: "100",
      quantityPercent: "300",
      receiptPercent: "50",
    }),
  );
  for (const { company, functional, bank } of COMPANIES)
    must(
      await saveBankAccount(await root(), {
        code: bank,
        name: "Current account",
        company,
        currency: functional,
        account: "1110",
        underWayAccount: "1120",
        overdraft: "9,000,000.00",
      }),
    );
  must(
    await loadRates(await root(), {
      rows: [
        ["2026-10-01", "0.9013"],
        ["2026-10-05", "0.9217"],
        ["2026-10-12", "0.8891"],
      ].flatMap(([date, rate]) => [
        { kind: "spot", base: "USD", quote: "EUR", date, rate },
        { kind: "spot", base: "USD", quote: "GBP", date, rate: `${rate}7` },
      ]),
      take: true,
    }),
  );
});

/**
 * What must be so whatever was done: what is received and what is owed equal their accounts, and
 * taxes theirs.
 */
async function standing(company: string) {
  // On the last day, and on days between what was done, as the books then stood.
  const onDays = await Promise.all(
    ["2026-10-03", "2026-10-07", "2026-10-13", "2026-10-31"].map(async (on) => ({
      grni: must(await listGrni(await clerk(), { company, on })),
      owed: must(await ageing(await root(), { company, area: "payables", on })),
    })),
  );
  // As known by now, nothing is different.
  const known = must(
    await ageing(await root(), {
      company,
      area: "payables",
      on: "2026-10-31",
      asKnown: "2099-12-31",
    }),
  );
  const taxes = must(
    await taxSummary(await clerk(), { company, from: "2026-10-01", to: "2026-10-31" }),
  );
  expect([
    onDays.map((d) => [d.grni.agrees, d.owed.agrees]),
    taxes.accounts.every((a) => a.agrees),
    known.total,
    taxes.rows.every((r) => size(r.recoverable) <= size(r.tax)),
  ]).toEqual([onDays.map(() => [true, true]), true, onDays.at(-1)!.owed.total, true]);
  const { grni } = onDays.at(-1)!;
  return {
    leftover: grni.total,
    rows: grni.rows,
    items: must(
      await openItems(await clerk(), {
        company,
        area: "payables",
        on: "2026-10-31",
        partner: SUPPLIER,
      }),
    ),
    tax: taxes.rows.reduce((t, r) => t + r.tax, 0n),
    recoverable: taxes.accounts.reduce((t, a) => t + a.movement, 0n),
  };
}

const size = (n: bigint): bigint => (n < 0n ? -n : n);

const act = fc.record({
  what: fc.constantFrom(
    "order",
    "receive",
    "receive",
    "receive",
    "bill",
    "bill",
    "credit",
    "clean",
    "clean",
    "pay",
    "pay",
    "cancel invoice",
    "cancel receipt",
    "undo cleaning",
    "undo payment",
  ),
  which: fc.nat(20),
  quantity: fc.integer({ min: 1, max: 7 }),
  cents: fc.integer({ min: 1, max: 99_999 }),
  foreign: fc.boolean(),
  second: fc.boolean(),
});
type Act = typeof act extends fc.Arbitrary<infer A> ? A : never;

test("whatever is ordered, received, sent back, billed, credited, cleaned up, paid and undone in whatever order: accounts hold at each step, what is refused changes nothing, and all of it can be undone", async () => {
  let n = 0;
  await fc.assert(
    fc.asyncProperty(fc.array(act, { minLength: 8, maxLength: 16 }), async (acts) => {
      const orders: {
        id: number;
        number: string;
        price: string;
        currency: string;
        company: string;
      }[] = [];
      const at = (a: Act) => COMPANIES[a.second ? 1 : 0];
      const made: { kind: "receipt" | "invoice" | "cleaning" | "payment"; id: number }[] = [];
      const clerkNow = await clerk();
      const pick = <T>(list: readonly T[], which: number): T | undefined =>
        list[which % Math.max(list.length, 1)];
      const undo = {
        receipt: (id: number) => cancelGoodsReceipt(clerkNow, { id, reason: "entered wrongly" }),
        invoice: (id: number) => cancelInvoice(clerkNow, { id, reason: "entered wrongly" }),
        cleaning: (id: number) =>
          reverseRun(clerkNow, { key: String(id), reason: "still expected" }),
        payment: (id: number) => reversePayment(clerkNow, { id, reason: "not to be paid" }),
      };
      const take = async (kind: keyof typeof undo, which: number) => {
        const found = pick(
          made.filter((m) => m.kind === kind),
          which,
        );
        if (!found) return false;
        const done = (await undo[kind](found.id)).ok;
        if (done) made.splice(made.indexOf(found), 1);
        return done;
      };
      const bill = async (a: Act, credit: boolean) => {
        const order = pick(
          orders.filter((o) => o.company === at(a).company),
          a.which,
        );
        if (!order) return false;
        const net =
          (BigInt(Math.round(Number(order.price) * 100)) *
            BigInt(a.quantity) *
            BigInt(90 + (a.cents % 25))) /
          100n;
        const done = await createInvoice(a.cents % 5 === 0 ? await root() : clerkNow, {
          company: order.company,
          supplier: SUPPLIER,
          kind: credit ? "credit note" : "invoice",
          currency: order.currency,
          number: `L-${++n}`,
          date: a.foreign ? "2026-10-08" : "2026-10-06",
          lines: [
            {
              order: `${order.number}/1`,
              quantity: String(a.quantity),
              net: `${net / 100n}.${String(net % 100n).padStart(2, "0")}`,
              taxCode: a.cents % 2 ? "S" : "HALF",
            },
          ],
          post: true,
        });
        if (done.ok && done.value.status === "posted")
          made.push({ kind: "invoice", id: done.value.id });
        return done.ok && done.value.status === "posted";
      };
      const steps: Record<Act["what"], (a: Act) => Promise<boolean>> = {
        order: async (a) => {
          const { company, functional } = at(a);
          const [price, currency] = [(a.cents / 100).toFixed(2), a.foreign ? "USD" : functional];
          const content = {
            company,
            supplier: SUPPLIER,
            date: "2026-10-01",
            currency,
            description: "Gear",
            lines: [{ item: a.cents % 2 ? "ROPE" : "FUEL", quantity: "10", price }],
          };
          const kept = must(await saveOrder(clerkNow, { content }));
          orders.push({
            ...must(await placeOrder(clerkNow, { id: kept.id, version: kept.version, content })),
            price,
            currency,
            company,
          });
          return true;
        },
        receive: async (a) => {
          const order = pick(
            orders.filter((o) => o.company === at(a).company),
            a.which,
          );
          if (!order) return false;
          const done = await receiveOrder(clerkNow, {
            order: order.id,
            date: a.foreign ? "2026-10-02" : "2026-10-05",
            lines: [{ no: 1, quantity: String(a.cents % 3 === 0 ? -a.quantity : a.quantity) }],
          });
          if (done.ok) made.push({ kind: "receipt", id: done.value.id });
          return done.ok;
        },
        bill: (a) => bill(a, false),
        credit: (a) => bill(a, true),
        clean: async (a) => {
          const { company } = at(a);
          const row = pick((await standing(company)).rows, a.which);
          if (!row) return false;
          const run = await proposeRun(clerkNow, {
            kind: "clean-up",
            params: {
              company,
              date: "2026-10-15",
              lines: [row.receiptLine],
              reason: "supplier has waived it",
            },
          });
          if (!run.ok) return false;
          // A clerk is refused above the limit of 500.00, the root user is not.
          const done = (
            await postRun(a.foreign ? await root() : clerkNow, { key: String(run.value.id) })
          ).ok;
          if (done) made.push({ kind: "cleaning", id: run.value.id });
          return done;
        },
        pay: async (a) => {
          const { company, bank } = at(a);
          const item = pick(
            (await standing(company)).items.filter((i) => i.left < 0n),
            a.which,
          );
          if (!item) return false;
          const money = (n: bigint) => `${n / 100n}.${String(n % 100n).padStart(2, "0")}`;
          const part =
            a.cents % 2 === 0
              ? {}
              : { amount: money((-item.left + 1n) / 2n), discount: money(-item.left / 40n) };
          const done = await makePayment(clerkNow, {
            company,
            bank,
            date: a.foreign ? "2026-10-07" : "2026-10-12",
            supplier: SUPPLIER,
            currency: item.currency,
            items: [{ id: item.id, ...part }],
          });
          if (done.ok) made.push({ kind: "payment", id: done.value.id });
          return done.ok;
        },
        "cancel invoice": (a) => take("invoice", a.which),
        "cancel receipt": (a) => take("receipt", a.which),
        "undo cleaning": (a) => take("cleaning", a.which),
        "undo payment": (a) => take("payment", a.which),
      };
      for (const a of [
        { ...acts[0]!, what: "order" as const },
        { ...acts[1]!, what: "receive" as const },
        ...acts,
      ]) {
        const stands = () => Promise.all(COMPANIES.map((c) => standing(c.company)));
        const before = await stands();
        const done = await steps[a.what](a);
        const after = await stands();
        if (!done) expect(after).toEqual(before);
        // What is done in one company leaves the other as it is.
        else if (["order", "receive", "bill", "credit", "clean", "pay"].includes(a.what))
          expect(after[a.second ? 0 : 1]).toEqual(before[a.second ? 0 : 1]);
        expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
      }
      // Newest first, and once more where something stood in the way of something.
      for (let round = 0; round < 4 && made.length > 0; round++)
        for (const m of [...made].reverse())
          if ((await undo[m.kind](m.id)).ok) made.splice(made.indexOf(m), 1);
      expect(made).toEqual([]);
      for (const { company } of COMPANIES) {
        const end = await standing(company);
        expect([end.leftover, end.items, end.tax, end.recoverable]).toEqual([0n, [], 0n, 0n]);
      }
      expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
    }),
    { numRuns: inject("server") ? 4 : 1 },
  );
}, 300_000);
