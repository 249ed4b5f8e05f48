import { beforeAll, describe, expect, test } from "vitest";
import { callerOf, must, codes, STANDARD_TAX } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { approveDocument, saveApprovalRule } from "../approvals";
import { verify } from "../verify";
import { cancelInvoice, createInvoice, getInvoice, releaseInvoice } from "../payables";
import { documentChain } from "../documents";
import { loadRates } from "../rates";
import { sql } from "drizzle-orm";
import { rows } from "../db";
import {
  changeRun,
  discardRun,
  getRun,
  getSchedule,
  postRun,
  proposeRun,
  reverseRun,
  runDueSchedules,
  saveSchedule,
} from "../runs";
import { saveTaxCode } from "../taxes";
import {
  cancelGoodsReceipt,
  changeOrder,
  closeOrder,
  getOrder,
  getGoodsReceipt,
  listCleaned,
  listGrni,
  placeOrder,
  receiveOrder,
  saveCleanUpRule,
  saveOrder,
  saveShares,
  saveTolerance,
  submitOrder,
  tryCleanUpRule,
} from "./index";
import { savePurchaseItem } from "../trade";

const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const content = (lines: object[], more: object = {}) => ({
  company: "ALP",
  supplier: "Tarn Rope & Chain",
  date: "2026-10-01",
  description: "Ropes",
  lines,
  ...more,
});
const rope = (quantity: string, price = "10.00") => ({ item: "ROPE", quantity, price });
async function placed(lines: object[], more: object = {}) {
  const order = content(lines, more);
  const kept = must(await saveOrder(await clerk(), { content: order }));
  return must(
    await placeOrder(await clerk(), { id: kept.id, version: kept.version, content: order }),
  );
}
const receive = async (order: number, quantity: string, more: object = {}) =>
  receiveOrder(await clerk(), { order, date: "2026-10-05", lines: [{ no: 1, quantity }], ...more });
let n = 0;
const bill = async (order: string, quantity: string, net: string, more: object = {}) =>
  createInvoice(await clerk(), {
    company: "ALP",
    supplier: "Tarn Rope & Chain",
    number: `B-${++n}`,
    date: "2026-10-08",
    lines: [{ order: `${order}/1`, quantity, net, taxCode: "S" }],
    post: true,
    ...more,
  });
const grni = async () => must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" }));
const whole = async () =>
  expect([(await grni()).agrees, (await verify(w.database.db)).flatMap((c) => c.faults)]).toEqual([
    true,
    [],
  ]);

beforeAll(async () => {
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(
    await savePurchaseItem(await clerk(), {
      code: "ROPE",
      name: "Mooring rope",
      account: "6310",
      dimensions: { costCentre: "HARB" },
      taxCode: "S",
      unit: "m",
      group: "deck",
    }),
  );
  must(
    await loadRates(await root(), {
      rows: [
        { kind: "spot", base: "USD", quote: "EUR", date: "2026-10-01", rate: "0.90" },
        { kind: "spot", base: "USD", quote: "EUR", date: "2026-10-08", rate: "0.92" },
      ],
      take: true,
    }),
  );
});

describe("orders, receipts and matching", () => {
  test("a request becomes an order that is approved, changed with its history, received in part, and never below what has come", async () => {
    must(
      await saveApprovalRule(await root(), {
        type: "purchase",
        minimum: "5,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const asked = content([rope("600")], { supplier: "" });
    const request = must(await saveOrder(await clerk(), { kind: "request", content: asked }));
    expect(
      codes(
        await placeOrder(await clerk(), {
          id: request.id,
          version: request.version,
          content: asked,
        }),
      ),
    ).toEqual(["APPROVAL_NEEDED"]);
    must(
      await submitOrder(await clerk(), {
        id: request.id,
        version: request.version,
        content: asked,
      }),
    );
    expect(
      must(await approveDocument(await callerOf(w.database, "controller"), { id: request.id }))
        .number,
    ).toBe("ALP-26-Q00001");
    const order = await placed([rope("10"), rope("5")]);
    expect(order.number).toBe("ALP-26-O00001");
    must(await receive(order.id, "4"));
    expect(codes(await receive(order.id, "7"))).toEqual(["INVALID"]);
    expect(
      codes(
        await receiveOrder(await clerk(), {
          order: order.id,
          date: "2026-10-05",
          lines: [
            { no: 1, quantity: "5" },
            { no: 1, quantity: "5" },
          ],
        }),
      ),
    ).toEqual(["INVALID"]);
    const view = must(await getOrder(await clerk(), { id: order.id }));
    const change = async (lines: object[]) =>
      changeOrder(await clerk(), {
        id: order.id,
        version: must(await getOrder(await clerk(), { id: order.id })).version,
        content: { ...view.content, lines },
        reason: "fewer are needed",
      });
    expect(codes(await change([{ ...view.content.lines[0]!, quantity: "3" }]))).toEqual(["IN_USE"]);
    expect(codes(await change([{ ...view.content.lines[1]! }]))).toEqual(["IN_USE"]);
    must(await change([{ ...view.content.lines[0]!, quantity: "6" }, rope("1", "99.00")]));
    const after = must(await getOrder(await clerk(), { id: order.id }));
    expect([
      after.lines.map((l) => [l.no, l.quantity, l.received]),
      after.versions.length,
      after.receipts.length,
    ]).toEqual([
      [
        [1, 6000n, 4000n],
        [3, 1000n, 0n],
      ],
      1,
      1,
    ]);
    must(await receive(order.id, "-4"));
    expect(codes(await receive(order.id, "-1"))).toEqual(["INVALID"]);
    must(await closeOrder(await clerk(), { id: order.id, to: "closed" }));
    expect(codes(await receive(order.id, "1"))).toEqual(["IN_USE"]);
    await whole();
    expect((await grni()).total).toBe(0n);
  });

  test("billed above the ordered price it is held and released by another person; what was not billed is left, cleaned by a rule, and stands again when it is billed after all", async () => {
    const order = await placed([rope("10")]);
    const early = must(await bill(order.number, "10", "100.00"));
    expect([early.status, early.held]).toEqual([
      "held",
      [`${order.number}/1: 10 are invoiced, nothing is received and not invoiced yet.`],
    ]);
    const receipt = must(await receive(order.id, "10"));
    // What it was held for has come.
    expect(must(await getInvoice(await clerk(), { id: early.id })).status).toBe("draft");
    const dear = must(await bill(order.number, "9", "99.00"));
    expect(dear.held![0]).toContain("9 are invoiced at 11.00, ordered at 10.00");
    expect(
      codes(await releaseInvoice(await clerk(), { id: dear.id, reason: "agreed by phone" })),
    ).toEqual(["FORBIDDEN"]);
    must(
      await releaseInvoice(await callerOf(w.database, "controller"), {
        id: dear.id,
        reason: "agreed by phone",
      }),
    );
    expect((await grni()).rows.map((l) => [l.receipt, l.received, l.invoiced, l.leftover])).toEqual(
      [[receipt.number, 10_000n, 9_000n, 1_000n]],
    );
    await whole();
    expect(
      codes(await cancelGoodsReceipt(await clerk(), { id: receipt.id, reason: "entered twice" })),
    ).toEqual(["IN_USE"]);
    expect(
      codes(await saveCleanUpRule(await root(), { place: 1, name: "all", conditions: [] })),
    ).toEqual(["INVALID"]);
    const rule = {
      place: 1,
      name: "small leftovers",
      conditions: [
        { part: "amount", by: "at most", value: "20.00" },
        { part: "age", by: "at least", value: "5" },
      ],
    };
    expect(
      must(await tryCleanUpRule(await clerk(), { company: "ALP", rule })).takes.map((t) => t.why),
    ).toEqual(["10.00 is at most 20.00, 10 days is at least 5"]);
    must(await saveCleanUpRule(await root(), rule));
    const propose = async (more = {}) =>
      must(
        await proposeRun(await clerk(), {
          kind: "clean-up",
          params: { company: "ALP", date: "2026-10-15", ...more },
        }),
      );
    const run = await propose();
    must(await postRun(await clerk(), { key: String(run.id) }));
    expect([
      (await grni()).total,
      must(await listCleaned(await clerk(), { company: "ALP" })).map((c) => [
        c.reason,
        c.amount,
        c.run.number,
      ]),
    ]).toEqual([0n, [["small leftovers", 1_000n, run.number]]]);
    await whole();
    const picture = async () =>
      must(await documentChain(await clerk(), { id: order.id }))
        .documents.filter((d) => d.status !== "draft")
        .map((d) => [d.kind, d.outstanding, d.note]);
    expect(await picture()).toEqual(
      expect.arrayContaining([
        ["order", "", ""],
        ["goods-receipt", "", "10.00 EUR written off"],
        ["invoice", "not paid", ""],
      ]),
    );
    const late = must(await bill(order.number, "1", "10.00"));
    // What was written off and comes back with its cost is for somebody to decide.
    expect(late.status).toBe("held");
    must(await releaseInvoice(await root(), { id: late.id, reason: "it did come after all" }));
    expect((await grni()).total).toBe(0n);
    await whole();
    expect(
      codes(await reverseRun(await clerk(), { key: String(run.id), reason: "billed after all" })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);
    must(await cancelInvoice(await clerk(), { id: late.id, reason: "sent by mistake" }));
    must(await reverseRun(await clerk(), { key: String(run.id), reason: "still expected" }));
    expect((await grni()).total).toBe(1_000n);
    // As of a day on which all ten were not billed yet, only what still stands is taken.
    const [back] = (await grni()).rows;
    const earlier = await propose({
      date: "2026-10-06",
      lines: [back!.receiptLine],
      reason: "supplier has waived it",
    });
    expect(
      must(await getRun(await clerk(), { key: String(earlier.id) })).head.figures[0]!.amount,
    ).toBe(1_000n);
    must(await discardRun(await clerk(), { key: String(earlier.id) }));
    // By hand, in part.
    const [line] = (await grni()).rows;
    const hand = await propose({ lines: [line!.receiptLine], reason: "supplier has waived it" });
    must(
      await changeRun(await clerk(), {
        key: String(hand.id),
        dropped: [],
        amounts: { [`part|${line!.receiptLine}`]: "4.00" },
      }),
    );
    expect(
      must(await getRun(await clerk(), { key: String(hand.id) })).head.figures[0]!.amount,
    ).toBe(400n);
    must(await postRun(await clerk(), { key: String(hand.id) }));
    expect((await grni()).total).toBe(600n);
    expect(await picture()).toEqual(
      expect.arrayContaining([
        ["order", "1 to be invoiced", ""],
        ["goods-receipt", "6.00 EUR not invoiced", "4.00 EUR written off"],
      ]),
    );
    await whole();
    // By itself: once for each date, however many look; up to the preview, or posted.
    const schedule = (mode: string) =>
      clerk().then((c) =>
        saveSchedule(c, {
          company: "ALP",
          kind: "clean-up",
          rhythm: { every: 1, unit: "month", first: "2026-09-15" },
          mode,
        }),
      );
    must(await schedule("preview"));
    expect([await runDueSchedules(w.database), await runDueSchedules(w.database)]).toEqual([1, 0]);
    const seen = must(await getSchedule(await clerk(), { company: "ALP", kind: "clean-up" }))!;
    expect([seen.lastDate, seen.lastOutcome, seen.next]).toEqual([
      "2026-10-15",
      expect.stringContaining("waits to be looked at"),
      "2026-11-15",
    ]);
    must(await discardRun(await clerk(), { key: String(seen.lastRunId) }));
    must(await schedule("post"));
    // Not for somebody who has left: nothing is proposed, and the schedule says why.
    const access = (active: boolean) =>
      w.database.db.execute(sql`update person set active = ${active} where login = 'payables'`);
    await w.database.db.execute(sql`update run_schedule set last_date = null`);
    await access(false);
    await runDueSchedules(w.database);
    await access(true);
    const left = must(await getSchedule(await clerk(), { company: "ALP", kind: "clean-up" }))!;
    expect([left.lastOutcome, left.lastRunId]).toEqual([
      "Person payables has no access any more; somebody else can set it up",
      null,
    ]);
    await w.database.db.execute(sql`update run_schedule set last_date = null`);
    await runDueSchedules(w.database);
    expect((await grni()).total).toBe(0n);
    await whole();
  });

  test("what comes free of charge accrues nothing and stands in nobody's way; billed after all, it is held", async () => {
    const order = await placed([rope("2", "0.00"), rope("5")]);
    must(
      await receiveOrder(await clerk(), {
        order: order.id,
        date: "2026-10-05",
        lines: [
          { no: 1, quantity: "2" },
          { no: 2, quantity: "5" },
        ],
      }),
    );
    const billed = async (free: string) =>
      createInvoice(await clerk(), {
        company: "ALP",
        supplier: "Tarn Rope & Chain",
        number: `B-${++n}`,
        date: "2026-10-08",
        lines: [
          { order: `${order.number}/1`, quantity: "2", net: free, taxCode: "S" },
          { order: `${order.number}/2`, quantity: "5", net: "50.00", taxCode: "S" },
        ],
        post: true,
      });
    const dear = must(await billed("8.00"));
    expect(dear.held).toEqual([
      `${order.number}/1: 2 are invoiced at 4.00, ordered at 0.00; that is 8.00 EUR more than ordered.`,
    ]);
    const own = async () =>
      (await grni()).rows.filter((l) => l.order === order.number).map((l) => l.leftover);
    expect(await own()).toEqual([5_000n]);
    must(await billed("0.00"));
    expect(await own()).toEqual([]);
    await whole();
  });

  test("in a foreign currency the receipt is cleared at its own rate; the exchange difference is realised, the price difference is not in it", async () => {
    must(await saveTolerance(await root(), { supplier: "PEL", pricePercent: "10" }));
    const order = await placed([rope("100")], { supplier: "PEL", currency: "USD" });
    must(await receive(order.id, "100"));
    const made = must(
      await bill(order.number, "100", "1,050.00", { supplier: "PEL", currency: "USD" }),
    );
    const view = must(await getInvoice(await clerk(), { id: made.id }));
    const { getJournal } = await import("../ledger");
    const journal = must(await getJournal(await root(), { key: view.journals[0]!.number }));
    // 1,000 USD received at 0.90 are cleared at 900; 50 USD more at 0.92 are the price; 20 EUR are
    // the rate.
    expect(
      journal.kind === "posted" &&
        journal.lines.map((l) => `${l.account} ${l.side} ${l.amount} (${l.foreignAmount})`),
    ).toEqual([
      "2145 debit 90000 (100000)",
      "5650 debit 4600 (5000)",
      "1410 debit 22218 (24150)",
      "2140 credit 118818 (129150)",
      "8550 debit 2000 (0)",
    ]);
    await whole();
  });

  test("goods that go back after they were billed wait for the credit note; shares split a line to the cent", async () => {
    const order = await placed([rope("3", "33.33")]);
    must(await receive(order.id, "3"));
    must(await bill(order.number, "3", "99.99"));
    must(await receive(order.id, "-1", { date: "2026-10-09" }));
    const waiting = (await grni()).rows.find((l) => l.order === order.number)!;
    expect(waiting.leftover).toBe(-3_333n);
    must(await bill(order.number, "1", "33.33", { kind: "credit note", date: "2026-10-10" }));
    expect((await grni()).rows.some((l) => l.order === order.number)).toBe(false);
    expect(
      must(await getGoodsReceipt(await clerk(), { id: waiting.receiptId })).lines[0],
    ).toMatchObject({ quantity: -1000n, left: 0n });
    must(
      await saveShares(await clerk(), {
        code: "PREM",
        name: "Premium",
        targets: [
          ["HARB", "55"],
          ["VESS", "30"],
          ["ADM", "15"],
        ].map(([costCentre, weight]) => ({ dimensions: { costCentre }, weight })),
      }),
    );
    expect(
      codes(
        await saveShares(await clerk(), { code: "BAD", name: "Bad", targets: [{ weight: "99" }] }),
      ),
    ).toEqual(["INVALID"]);
    const shared = must(
      await createInvoice(await clerk(), {
        company: "ALP",
        supplier: "Tarn Rope & Chain",
        number: "P-1",
        date: "2026-10-08",
        lines: [{ account: "6610", net: "100.01", taxCode: "S", shares: "prem" }],
        post: true,
      }),
    );
    const { getJournal } = await import("../ledger");
    const journal = must(
      await getJournal(await root(), {
        key: must(await getInvoice(await clerk(), { id: shared.id })).journals[0]!.number,
      }),
    );
    expect(
      journal.kind === "posted" &&
        journal.lines.slice(0, 3).map((l) => [l.dimensions.costCentre, l.amount]),
    ).toEqual([
      ["HARB", 5_501n],
      ["VESS", 3_000n],
      ["ADM", 1_500n],
    ]);
    await whole();
  });
});

test("of a receipt line no more is taken than came, not even in the database", async () => {
  const order = await placed([rope("2", "10.00")]);
  must(await receive(order.id, "2"));
  const taking = (quantity: number) =>
    w.database.db.execute(
      sql`insert into grni_entry (company_id, receipt_line_id, kind, document_id, journal_id, date,
        seq, quantity, "foreign", functional, made_by, made_at)
        select company_id, receipt_line_id, 'invoiced', document_id, journal_id, date, seq,
          ${quantity}, 0, 0, made_by, made_at from grni_entry order by id desc limit 1`,
    );
  await expect(taking(-2001)).rejects.toThrow();
});

test("what comes in thirds accrues the whole to the cent, and a closed order holds its invoice", async () => {
  const [before] = [(await grni()).total];
  const order = await placed([rope("3", "33.3345")]);
  for (const _ of [1, 2, 3]) must(await receive(order.id, "1"));
  // 3 × 33.3345 are 100.00; each by itself would have been 33.33.
  expect((await grni()).total - before).toBe(10_000n);
  must(await receive(order.id, "-1"));
  must(await receive(order.id, "1"));
  expect((await grni()).total - before).toBe(10_000n);
  await whole();
  must(
    await closeOrder(await clerk(), { id: order.id, to: "closed", reason: "nothing more comes" }),
  );
  const late = must(await bill(order.number, "3", "100.00"));
  expect(late.status).toBe("held");
});

test("what goes back out of two lots does so at the rate of each; an invoice that is cancelled leaves to read what it had billed", async () => {
  const rate = (date: string, value: string) => ({ base: "USD", quote: "EUR", date, rate: value });
  const rates = [rate("2026-10-01", "0.8"), rate("2026-10-09", "0.9"), rate("2026-10-12", "0.5")];
  must(await loadRates(await root(), { take: true, rows: rates }));
  const order = await placed([rope("10", "10.00")], { currency: "USD" });
  must(await receive(order.id, "4", { date: "2026-10-02" }));
  must(await receive(order.id, "6", { date: "2026-10-09" }));
  const back = must(await receive(order.id, "-8", { date: "2026-10-12" }));
  const lines = await rows<{ side: string; foreign: bigint; amount: bigint; rate: string }>(
    w.database.db,
    sql`select l.side, l.foreign_amount as "foreign", l.amount, l.rate::text as rate
      from journal_line l join journal j on j.id = l.journal_id
      where j.number = ${back.journal} order by l.line_no`,
  );
  // The youngest first: six at 0.9, then two at 0.8; the day's rate has no part in it.
  expect(lines.map((l) => [l.side, l.foreign, l.amount, Number(l.rate)])).toEqual([
    ["C", 6_000n, 5_400n, 0.9],
    ["D", 6_000n, 5_400n, 0.9],
    ["C", 2_000n, 1_600n, 0.8],
    ["D", 2_000n, 1_600n, 0.8],
  ]);
  await whole();
  const dollars = { currency: "USD", date: "2026-10-12" };
  const billed = must(await bill(order.number, "2", "20.00", dollars));
  must(await cancelInvoice(await root(), { id: billed.id, reason: "entered twice" }));
  const [matches] = await rows<{ n: number; sum: bigint; invoiced: bigint }>(
    w.database.db,
    sql`select count(*)::int as n, sum(m.quantity)::bigint as sum,
        (select invoiced from order_line where order_id = ${order.id}) as invoiced
      from invoice_match m where m.invoice_id = ${billed.id}`,
  );
  expect(matches).toEqual({ n: 2, sum: 0n, invoiced: 0n });
  await expect(
    w.database.db.execute(sql`delete from invoice_match where invoice_id = ${billed.id}`),
  ).rejects.toThrow();
  await whole();
});
