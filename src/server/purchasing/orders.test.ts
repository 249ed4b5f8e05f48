import { beforeAll, describe, expect, test } from "vitest";
import { callerOf, must, codes, proposalOf } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { verify } from "../verify";
import { cancelInvoice, createInvoice, savePayablesSettings } from "../payables";
import { getMessageFile, listOutbox } from "../letters";
import { savePartner } from "../partners";
import { loadRates } from "../rates";
import { changeRun, discardRun, postRun, proposeRun, reverseRun } from "../runs";
import { saveTaxCode } from "../taxes";
import {
  billableLines,
  closeOrder,
  commitments,
  deleteCleanUpRule,
  deleteOrder,
  getOrderPdf,
  listCleanUpRules,
  listGrni,
  listOrders,
  listGoodsReceipts,
  placeOrder,
  receiveOrder,
  saveCleanUpRule,
  saveOrder,
  sendOrder,
  tryCleanUpRule,
} from "./index";
import { savePurchaseItem } from "../trade";

// What can be seen of orders, and what becomes of what they leave behind.
const w = world();
const clerk = () => callerOf(w.database, "payables");
const root = () => callerOf(w.database, "root");
const controller = () => callerOf(w.database, "controller");
const line = (quantity: string, price: string, more: object = {}) => ({
  account: "6310",
  dimensions: { costCentre: "HARB" },
  description: "Rope",
  quantity,
  price,
  taxCode: "HALF",
  ...more,
});
async function placed(lines: object[], more: object = {}) {
  const content = {
    company: "ALP",
    supplier: "SHOP",
    date: "2026-10-01",
    description: "Deck gear",
    lines,
    ...more,
  };
  const kept = must(await saveOrder(await clerk(), { content }));
  return must(await placeOrder(await clerk(), { id: kept.id, version: kept.version, content }));
}
const receive = async (order: number, ...quantities: string[]) =>
  must(
    await receiveOrder(await clerk(), {
      order,
      date: "2026-10-05",
      lines: quantities.map((quantity, i) => ({ no: i + 1, quantity })),
    }),
  );
const committed = async (more: object = {}) =>
  must(
    await commitments(await clerk(), { companies: ["ALP"], accounts: ["6310", "6430"], ...more }),
  ).map((c) => [`${c.order}/${c.line}`, c.amount, c.functional]);
const left = async () => must(await listGrni(await clerk(), { company: "ALP", on: "2026-10-31" }));

beforeAll(async () => {
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
  must(
    await saveTaxCode(await root(), {
      code: "Z",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await savePartner(await clerk(), {
      code: "SHOP",
      name: "Deck Shop",
      supplier: true,
      country: "IE",
      street: "4 Slip Lane",
      city: "Ostry",
      email: "orders@deck.example",
    }),
  );
  must(
    await savePartner(await clerk(), {
      code: "MUTE",
      name: "Quiet Chandlers",
      supplier: true,
      country: "IE",
    }),
  );
  must(
    await savePurchaseItem(await clerk(), {
      code: "SURVEY",
      name: "Survey, day",
      kind: "service",
      account: "6430",
      dimensions: { costCentre: "HARB" },
      taxCode: "Z",
      unit: "day",
    }),
  );
  must(
    await loadRates(await root(), {
      rows: [
        ["2026-10-01", "0.90"],
        ["2026-10-08", "0.92"],
      ].map(([date, rate]) => ({ kind: "spot", base: "USD", quote: "EUR", date, rate })),
      take: true,
    }),
  );
});

describe("what orders commit", () => {
  test("what is still to come, with the tax that can't be recovered, at today's rate; a closed order commits nothing until it is opened again", async () => {
    // 123.40, 28.38 of tax, half of it a cost; and 200.00 USD at the rate of 8 October, the newest
    // on the 15th.
    const own = await placed([line("10", "12.34")]);
    const foreign = await placed(
      [line("2", "100.00", { account: "6430", taxCode: "Z", dimensions: { costCentre: "VESS" } })],
      { currency: "USD" },
    );
    expect(await committed()).toEqual([
      [`${own.number}/1`, 13_759n, 13_759n],
      [`${foreign.number}/1`, 20_000n, 18_400n],
    ]);
    await receive(own.id, "4");
    // Six tenths of 137.59 are 82.554.
    expect(await committed({ accounts: ["6310"] })).toEqual([[`${own.number}/1`, 8_255n, 8_255n]]);
    expect(await committed({ values: ["VESS"] })).toEqual([
      [`${foreign.number}/1`, 20_000n, 18_400n],
    ]);
    expect(await committed({ values: ["ADM"] })).toEqual([]);
    const list = must(await listOrders(await clerk(), { company: "ALP" })).rows;
    expect(list.map((o) => [o.number, o.supplierName, o.net, o.outstanding])).toEqual([
      [foreign.number, "Deck Shop", 20_000n, 20_000n],
      [own.number, "Deck Shop", 12_340n, 7_404n],
    ]);
    must(await closeOrder(await clerk(), { id: foreign.id, to: "closed" }));
    expect(codes(await closeOrder(await clerk(), { id: foreign.id, to: "closed" }))).toEqual([
      "IN_USE",
    ]);
    expect(await committed({ accounts: ["6430"] })).toEqual([]);
    expect(
      must(await listOrders(await clerk(), { company: "ALP", status: "closed" })).rows.map((o) => [
        o.number,
        o.outstanding,
      ]),
    ).toEqual([[foreign.number, 0n]]);
    must(await closeOrder(await clerk(), { id: foreign.id, to: "open" }));
    expect((await committed({ accounts: ["6430"] })).length).toBe(1);
    expect(
      codes(await commitments(await clerk(), { companies: ["NIL"], accounts: ["6310"] })),
    ).toEqual(["COMPANY_UNKNOWN"]);
  });

  test("a service commits until it is invoiced, and is taken back with its invoice; goods can be billed as far as they have come", async () => {
    const service = await placed([line("5", "40.00", { item: "SURVEY", taxCode: "Z" })], {
      description: "Survey",
    });
    const own = async () =>
      (await committed())
        .filter(([ref]) => String(ref).startsWith(service.number))
        .map(([, amount]) => amount);
    expect(await own()).toEqual([20_000n]);
    const bill = must(
      await createInvoice(await clerk(), {
        company: "ALP",
        supplier: "SHOP",
        number: "SV-1",
        date: "2026-10-06",
        lines: [{ order: `${service.number}/1`, quantity: "3", net: "120.00", taxCode: "Z" }],
        post: true,
      }),
    );
    expect([bill.status, await own()]).toEqual(["posted", [8_000n]]);
    const billable = async () =>
      must(await billableLines(await clerk(), { company: "ALP" }))
        .filter((b) => b.supplier === "SHOP")
        .map((b) => [b.ref, b.quantity, b.net]);
    expect(await billable()).toContainEqual([`${service.number}/1`, 2_000n, 8_000n]);
    must(await cancelInvoice(await clerk(), { id: bill.id, reason: "another order" }));
    expect(await own()).toEqual([20_000n]);
    expect((await billable()).find(([ref]) => ref === "ALP-26-O00001/1")).toEqual([
      "ALP-26-O00001/1",
      4_000n,
      4_936n,
    ]);
    expect(
      must(await listGoodsReceipts(await clerk(), { company: "ALP", text: "g00001" })).rows.map(
        (r) => [r.number, r.order, r.amount],
      ),
    ).toEqual([["ALP-26-G00001", "ALP-26-O00001", 5_504n]]);
    expect(
      must(await listGoodsReceipts(await clerk(), { company: "ALP", from: "2026-10-06" })).rows,
    ).toEqual([]);
  });
});

describe("an order as a paper", () => {
  test("goes to the supplier's address as a PDF and can be read in the mailbox; without an address it says what to do; a draft is no paper, but can be deleted", async () => {
    const sent = await placed([line("3", "20.00")]);
    expect(must(await sendOrder(await clerk(), { id: sent.id })).to).toBe("orders@deck.example");
    const [message] = must(await listOutbox(await clerk(), { company: "ALP" }));
    expect(message).toMatchObject({
      to: "orders@deck.example",
      subject: `Order ${sent.number}`,
      files: [{ no: 1, name: `${sent.number}.pdf` }],
      document: { id: sent.id, kind: "order" },
    });
    const file = must(await getMessageFile(await clerk(), { id: message!.id }));
    expect([file.name, file.content.subarray(0, 5).toString()]).toEqual([
      `${sent.number}.pdf`,
      "%PDF-",
    ]);
    expect(codes(await getMessageFile(await clerk(), { id: 999_999 }))).toEqual(["NOT_FOUND"]);
    const mute = await placed([line("1", "20.00")], { supplier: "MUTE" });
    const refused = await sendOrder(await clerk(), { id: mute.id });
    expect(!refused.ok && refused.problems).toMatchObject([
      {
        code: "INVALID",
        what: "Quiet Chandlers has no e-mail address; enter one, or download the PDF",
      },
    ]);
    expect(must(await getOrderPdf(await clerk(), { id: mute.id })).name).toBe(`${mute.number}.pdf`);
    const draft = must(
      await saveOrder(await clerk(), {
        content: { company: "ALP", supplier: "", date: "", description: "Not sure yet", lines: [] },
      }),
    );
    expect(
      codes(await getOrderPdf(await clerk(), { id: draft.id, version: draft.version })),
    ).toEqual(["NOT_FOUND"]);
    must(await deleteOrder(await clerk(), { id: draft.id, version: draft.version }));
    expect(
      codes(await deleteOrder(await clerk(), { id: draft.id, version: draft.version })),
    ).toEqual(["NOT_FOUND"]);
    expect((await deleteOrder(await clerk(), { id: sent.id, version: 1 })).ok).toBe(false);
  });
});

describe("clean-up rules in a run", () => {
  test("one that puts leftovers before a person takes nothing until an amount is typed; the order of the rules decides; the limit of a clerk holds", async () => {
    const order = await placed([
      line("1", "8.00", { taxCode: "Z" }),
      line("1", "30.00", { taxCode: "Z" }),
    ]);
    const receipt = await receive(order.id, "1", "1");
    const rule = (place: number, name: string, most: string, more: object = {}) => ({
      place,
      name,
      conditions: [{ part: "amount", by: "at most", value: most }],
      ...more,
    });
    const ask = must(
      await saveCleanUpRule(await root(), rule(2, "look at it", "100.00", { action: "ask" })),
    );
    const small = must(
      await saveCleanUpRule(
        await root(),
        rule(1, "small", "10.00", {
          action: "account",
          account: "7420",
          dimensions: { costCentre: "ADM" },
        }),
      ),
    );
    expect(
      codes(
        await saveCleanUpRule(
          await root(),
          rule(3, "nowhere", "1.00", { action: "account", account: "9999" }),
        ),
      ),
    ).toEqual(["ACCOUNT_UNKNOWN"]);
    expect(
      must(await listCleanUpRules(await clerk(), {})).map((r) => [r.rule.name, r.problems]),
    ).toEqual([
      ["small", []],
      ["look at it", []],
    ]);
    const trial = must(
      await tryCleanUpRule(await clerk(), {
        company: "ALP",
        rule: { ...rule(2, "look at it", "100.00", { action: "ask" }), id: ask.id },
      }),
    );
    const mine = <T extends { leftover: { receipt: string } }>(list: T[]) =>
      list.filter((t) => t.leftover.receipt === receipt.number);
    expect([
      mine(trial.takes).map((t) => t.leftover.leftover),
      mine(trial.before).map((b) => [b.leftover.leftover, b.rule]),
    ]).toEqual([[3_000n], [[800n, "small"]]]);

    const run = must(
      await proposeRun(await clerk(), {
        kind: "clean-up",
        params: { company: "ALP", date: "2026-10-15" },
      }),
    );
    const items = async () =>
      (await proposalOf(await clerk(), run.id)).items.filter((i) =>
        i.label.startsWith(receipt.number),
      );
    const [eight, thirty] = await items();
    expect([eight!.drafts, thirty!.drafts, thirty!.leftOut]).toEqual([
      [0],
      undefined,
      "its rule puts it before a person: type the amount to write it off",
    ]);
    const type = async (amount: string) =>
      must(
        await changeRun(await clerk(), {
          key: String(run.id),
          dropped: [],
          amounts: { [thirty!.asks![0]!.key]: amount },
        }),
      );
    await type("30.01");
    expect((await items())[1]!.leftOut).toBe("the amount cannot be written off");
    await type("12.00");
    expect((await items())[1]).toMatchObject({ amount: 1_200n, drafts: [0] });

    must(
      await savePayablesSettings(await root(), {
        discountTo: "owing",
        differenceTo: "owing",
        cleanUpLimit: "19.99",
      }),
    );
    expect(
      codes(
        await savePayablesSettings(await root(), {
          discountTo: "owing",
          differenceTo: "owing",
          cleanUpLimit: "a lot",
        }),
      ),
    ).toEqual(["AMOUNT_NOT_NUMBER"]);
    const refused = await postRun(await clerk(), { key: String(run.id) });
    expect(!refused.ok && refused.problems).toMatchObject([
      {
        code: "RUN_STANDS_IN_WAY",
        what: "You may write off 19.99 EUR a day; with this it comes to 20.00. A controller can post it",
      },
    ]);
    must(await postRun(await controller(), { key: String(run.id) }));
    const rest = async () =>
      (await left()).rows.filter((r) => r.receipt === receipt.number).map((r) => r.leftover);
    expect([await rest(), (await left()).agrees]).toEqual([[1_800n], true]);
    must(await reverseRun(await controller(), { key: String(run.id), reason: "still expected" }));
    expect([(await rest()).sort(), (await left()).agrees]).toEqual([[3_000n, 800n], true]);
    // In two runs of one day it is the same: eight alone, and twelve after it.
    const propose = async () =>
      must(
        await proposeRun(await clerk(), {
          kind: "clean-up",
          params: { company: "ALP", date: "2026-10-15" },
        }),
      );
    must(await postRun(await clerk(), { key: String((await propose()).id) }));
    const second = await propose();
    const left12 = (await proposalOf(await clerk(), second.id)).items.find((i) =>
      i.label.startsWith(receipt.number),
    )!;
    must(
      await changeRun(await clerk(), {
        key: String(second.id),
        amounts: { [left12.asks![0]!.key]: "12.00" },
      }),
    );
    expect(codes(await postRun(await clerk(), { key: String(second.id) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    must(await discardRun(await clerk(), { key: String(second.id) }));
    for (const { id } of [ask, small]) must(await deleteCleanUpRule(await root(), { id }));
    expect(codes(await deleteCleanUpRule(await root(), { id: ask.id }))).toEqual(["NOT_FOUND"]);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });
});
