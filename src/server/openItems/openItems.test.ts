import { sql } from "drizzle-orm";
import { describe, expect, test } from "vitest";
import { bucketOf } from "@/core/openItems";
import { minor } from "@/core/shared";
import { callerOf, journal, must, runAs, codes } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { createJournal, getJournal, postDrafts, reverseJournal } from "../ledger";
import { verify } from "../verify";
import {
  addPartnerBank,
  decidePartnerBank,
  getPartner,
  loadPartners,
  partnersLike,
  savePartner,
  saveTerms,
} from "../partners";
import { switchPeriods } from "../organisation";
import { whatWaits } from "../documents";
import {
  ageing,
  allocateItems,
  holdItem,
  itemHistory,
  openItems,
  partnerGlance,
  undoAllocation,
} from "./index";

const w = world();
const clean = async () =>
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
const usd = (
  side: "debit" | "credit",
  foreign: bigint,
  functional: bigint,
  date: string,
  reference: string,
  dueDate?: string,
) => {
  const other = side === "debit" ? "credit" : "debit";
  const line = (account: string, s: "debit" | "credit", more: object) => ({
    account,
    dimensions: {},
    description: "",
    side: s,
    amount: minor(functional),
    foreignAmount: minor(foreign),
    rate: "0.9",
    ...more,
  });
  return journal({
    type: "payment",
    date,
    currency: "USD",
    reference,
    lines: [
      line("2140", side, { partner: "PEL", ...(dueDate ? { dueDate } : {}) }),
      line("1100", other, {}),
    ],
  });
};
const items = async (more: object = {}) =>
  must(
    await openItems(await callerOf(w.database, "root"), {
      company: "ALP",
      area: "payables",
      on: "2026-10-31",
      ...more,
    }),
  );
const aged = async (on = "2026-10-31", more: object = {}) =>
  must(
    await ageing(await callerOf(w.database, "root"), {
      company: "ALP",
      area: "payables",
      on,
      ...more,
    }),
  );

describe("open items", () => {
  test("a manual line on suppliers makes one, wants a partner that is there, and its reversal settles both", async () => {
    const root = await callerOf(w.database, "root");
    const entry = (partner: string) => ({
      company: "ALP",
      type: "general",
      date: "2026-10-05",
      description: "Ropes",
      reference: "R-12",
      post: true,
      lines: [
        { account: "6310", dimensions: { costCentre: "HARB" }, debit: "120.00" },
        { account: "2140", credit: "120.00", partner, dueDate: "2026-10-20" },
      ],
    });
    expect(codes(await createJournal(root, entry("Nobody")))).toEqual(["PARTNER_UNKNOWN"]);
    const made = must(await createJournal(root, entry("Tarn Rope & Chain")));
    expect((await items()).map((i) => [i.partner, i.reference, i.dueDate, i.left])).toEqual([
      ["Tarn Rope & Chain", "R-12", "2026-10-20", -12_000n],
    ]);
    expect(await aged()).toMatchObject({
      total: 12_000n,
      control: 12_000n,
      agrees: true,
      totals: [0n, 12_000n, 0n, 0n, 0n],
    });
    const { id } = (await items())[0]!;
    expect(codes(await holdItem(root, { id, reason: "no" }))).toEqual(["REASON_REQUIRED"]);
    must(await holdItem(root, { id, reason: "two crates missing" }));
    expect((await items())[0]!.hold).toBe("two crates missing");
    must(await holdItem(root, { id }));
    must(await reverseJournal(root, { key: made.number!, date: "2026-10-25" }));
    expect(await items()).toEqual([]);
    expect(codes(await holdItem(root, { id, reason: "too late now" }))).toEqual(["IN_USE"]);
    // As of a day before the reversal it is open, and the control account says so too.
    expect(await aged("2026-10-24")).toMatchObject({
      total: 12_000n,
      control: 12_000n,
      agrees: true,
    });
    await clean();
  });

  test("an invoice in dollars paid at another rate: the loss is posted, the control account and the items agree on every day, and all of it can be taken back (IAS 21.28)", async () => {
    const root = await callerOf(w.database, "root");
    const [invoice, payment] = must(
      await runAs(root, (c) =>
        postDrafts(c, [
          usd("credit", 100_000n, 90_000n, "2026-09-10", "INV-1", "2026-10-10"),
          usd("debit", 60_000n, 55_200n, "2026-10-12", "PAY-1"),
        ]),
      ),
    );
    const [inv, pay] = [
      (await items()).find((i) => i.reference === "INV-1")!,
      (await items()).find((i) => i.reference === "PAY-1")!,
    ];
    const done = must(
      await allocateItems(root, { date: "2026-10-12", pairs: [{ first: inv.id, second: pay.id }] }),
    );
    // 600 USD carried at 540.00 were paid with 552.00.
    const difference = must(await getJournal(root, { key: done.journal! }));
    expect(
      difference.kind === "posted" && difference.lines.map((l) => [l.account, l.side, l.amount]),
    ).toEqual([
      ["2140", "credit", 1_200n],
      ["8550", "debit", 1_200n],
    ]);
    expect((await items()).map((i) => [i.reference, i.left, i.leftFunctional])).toEqual([
      ["INV-1", -40_000n, -36_000n],
    ]);
    for (const day of ["2026-09-30", "2026-10-11", "2026-10-12", "2026-10-31"])
      expect([day, (await aged(day)).agrees]).toEqual([day, true]);
    expect(await aged("2026-10-31")).toMatchObject({
      total: 36_000n,
      totals: [0n, 36_000n, 0n, 0n, 0n],
    });
    // In one currency: what is left in it, and nothing of the difference.
    for (const [currency, total] of [
      ["USD", 40_000n],
      ["EUR", 0n],
    ] as const)
      expect(await aged("2026-10-31", { currency })).toMatchObject({
        currency,
        total,
        control: total,
        agrees: true,
      });
    expect(codes(await reverseJournal(root, { key: invoice!.number }))).toEqual(["ITEM_ALLOCATED"]);
    expect(
      codes(
        await allocateItems(root, {
          date: "2026-10-12",
          pairs: [{ first: inv.id, second: pay.id, amount: "1.00" }],
        }),
      ),
    ).toEqual(["ITEM_SAME_SIDE"]);
    const before = new Date().toISOString();
    await new Promise((r) => setTimeout(r, 5));
    const both = await Promise.all([
      undoAllocation(root, { id: done.id }),
      undoAllocation(root, { id: done.id }),
    ]);
    expect(both.map(codes).sort()).toEqual([[], ["IN_USE"]]);
    expect((await items()).map((i) => [i.reference, i.left])).toEqual([
      ["INV-1", -100_000n],
      ["PAY-1", 60_000n],
    ]);
    expect(must(await itemHistory(root, { id: inv.id })).map((h) => [h.kind, h.amount])).toEqual([
      ["by hand", -60_000n],
      ["undone", 60_000n],
    ]);
    for (const more of [{}, { asKnown: before }])
      expect(await aged("2026-10-31", more)).toMatchObject({
        agrees: true,
        total: "asKnown" in more ? 36_000n : 34_800n,
      });
    must(await reverseJournal(root, { key: invoice!.number }));
    must(await reverseJournal(root, { key: payment!.number }));
    await clean();
  });

  test("a partner at a glance: open by due date, invoices by month, how late they were paid; only who may see it, and what waits elsewhere is not told", async () => {
    const root = await callerOf(w.database, "root");
    const glance = (more: object = {}) =>
      partnerGlance(root, {
        company: "ALP",
        area: "payables",
        partner: "PEL",
        on: "2026-10-31",
        ...more,
      });
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          usd("credit", 100_000n, 90_000n, "2026-08-10", "G-1", "2026-09-10"),
          usd("debit", 100_000n, 90_000n, "2026-09-20", "G-1P"),
          usd("credit", 10_000n, 9_000n, "2026-10-12", "G-2", "2026-11-05"),
        ]),
      ),
    );
    const found = await items({ partner: "PEL" });
    const of = (reference: string) => found.find((i) => i.reference === reference)!;
    must(
      await allocateItems(root, {
        date: "2026-09-20",
        pairs: [{ first: of("G-1").id, second: of("G-1P").id }],
      }),
    );
    const seen = must(await glance());
    const open = await items({ partner: "PEL" });
    expect(seen.due.reduce((t, d) => t + d.amount, 0n)).toBe(
      -open.reduce((t, i) => t + i.leftFunctional, 0n),
    );
    expect(seen.due.find((d) => d.name === "In 7 days")!.amount).toBe(9_000n);
    expect(seen.months.map((m) => m.month)).toEqual([
      "2025-11",
      "2025-12",
      ...["01", "02", "03", "04", "05", "06", "07", "08", "09", "10"].map((m) => `2026-${m}`),
    ]);
    // An item that a bucket holds is found by its due dates.
    expect(
      (await items({ partner: "PEL", dueFrom: "2026-11-01", dueTo: "2026-11-07" })).map(
        (i) => i.reference,
      ),
    ).toEqual(["G-2"]);
    const stranger = await callerOf(w.database, "assets");
    expect(
      codes(
        await partnerGlance(stranger, {
          company: "ALP",
          area: "payables",
          partner: "PEL",
          on: "2026-10-31",
        }),
      ),
    ).toEqual(["FORBIDDEN"]);
    expect(codes(await glance({ company: "NO" }))).toEqual(["COMPANY_UNKNOWN"]);
    expect(must(await whatWaits(stranger))).toEqual({});
  });

  test("the database keeps items and allocations as they were made", async () => {
    await expect(
      w.database.db.execute(sql`update open_item set amount = amount - 1`),
    ).rejects.toThrow();
    await expect(w.database.db.execute(sql`delete from allocation_line`)).rejects.toThrow();
    await expect(
      w.database.db.execute(sql`update open_item set left_amount = amount - 1 where amount < 0`),
    ).rejects.toThrow();
  });

  test("a period that payables has closed takes no difference", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await runAs(root, (c) =>
        postDrafts(c, [
          usd("credit", 100n, 90n, "2026-09-10", "INV-2"),
          usd("debit", 100n, 95n, "2026-09-12", "PAY-2"),
        ]),
      ),
    );
    const two = (await items()).filter((i) => i.reference.endsWith("-2"));
    for (const to of ["closing", "closed"])
      must(
        await switchPeriods(root, {
          company: "ALP",
          book: "all",
          area: "payables",
          periods: ["2026-09"],
          to,
        }),
      );
    expect(
      codes(
        await allocateItems(await callerOf(w.database, "payables"), {
          date: "2026-09-12",
          pairs: [{ first: two[0]!.id, second: two[1]!.id }],
        }),
      ),
    ).toEqual(["PERIOD_AREA"]);
    must(
      await allocateItems(root, {
        date: "2026-10-01",
        pairs: [{ first: two[0]!.id, second: two[1]!.id }],
      }),
    );
    await clean();
  });
});

describe("partners", () => {
  test("tax numbers and bank accounts are checked by their form; what is alike is pointed out; a bank account needs a second person", async () => {
    const payables = await callerOf(w.database, "payables");
    expect(
      codes(
        await savePartner(payables, {
          code: "S-9",
          name: "Wrong",
          supplier: true,
          country: "DE",
          taxNumber: "DE12",
        }),
      ),
    ).toEqual(["INVALID"]);
    must(
      await savePartner(payables, {
        code: "S-9",
        name: "Tarn Rope and Chain Ltd",
        supplier: true,
        country: "DE",
        taxNumber: "DE 123456789",
      }),
    );
    expect(
      codes(
        await savePartner(payables, { code: "S-9", name: "Again", supplier: true, country: "DE" }),
      ),
    ).toEqual(["EXISTS"]);
    expect(
      must(await partnersLike(payables, { name: "Other name", taxNumber: "DE123456789" })),
    ).toEqual([{ code: "S-9", name: "Tarn Rope and Chain Ltd", why: "the same tax number" }]);
    expect(must(await getPartner(payables, { code: "S-9" })).alike).toEqual([
      { code: "Tarn Rope & Chain", name: "Tarn Rope & Chain", why: "a name that is alike" },
    ]);
    expect(
      codes(
        await addPartnerBank(payables, { partner: "S-9", iban: "DE88 3704 0044 0532 0130 00" }),
      ),
    ).toEqual(["INVALID"]);
    const bank = must(
      await addPartnerBank(payables, {
        partner: "S-9",
        iban: "DE89 3704 0044 0532 0130 00",
        bic: "COBADEFF",
      }),
    );
    expect(must(await getPartner(payables, { code: "S-9" }))).toMatchObject({
      bank: "waiting",
      banks: [{ mayDecide: false }],
    });
    expect(codes(await decidePartnerBank(payables, { id: bank.id, to: "confirmed" }))).toEqual([
      "FORBIDDEN",
    ]);
    must(
      await decidePartnerBank(await callerOf(w.database, "controller"), {
        id: bank.id,
        to: "confirmed",
      }),
    );
    expect(must(await getPartner(payables, { code: "S-9" })).bank).toBe("confirmed");
  });
  test("they come in from a file, all or none, and the same again changes nothing", async () => {
    const payables = await callerOf(w.database, "payables");
    must(await saveTerms(payables, { code: "30", name: "30 days net", terms: {} }));
    const file = [
      { code: "S-20", name: "Corrow Shipyard", country: "IE", terms: "30" },
      { code: "S-21", name: "Brightwater Insurance", country: "GB", method: "cheque" },
    ];
    expect(
      codes(
        await loadPartners(payables, {
          rows: [...file, { code: "S-22", name: "", country: "GB" }],
          take: true,
        }),
      ),
    ).toEqual(["INVALID"]);
    expect(must(await loadPartners(payables, { rows: file, take: true }))).toEqual({
      added: 2,
      changed: 0,
      same: 0,
    });
    expect(must(await loadPartners(payables, { rows: file, take: true }))).toEqual({
      added: 0,
      changed: 0,
      same: 2,
    });
  });
});

describe("settling several currencies and partners at once", () => {
  test("each currency and partner moves by itself: an advance in dollars and one in pounds, set against invoices in one act", async () => {
    const root = await callerOf(w.database, "root");
    must(await savePartner(root, { code: "ORL", name: "Orlow", supplier: true, country: "PL" }));
    const post = async (
      currency: string,
      partner: string,
      side: "debit" | "credit",
      account: string,
      foreign: bigint,
      functional: bigint,
      reference: string,
    ) => {
      const other = side === "debit" ? ("credit" as const) : ("debit" as const);
      const common = {
        dimensions: {},
        description: "",
        amount: minor(functional),
        foreignAmount: minor(foreign),
        rate: "0.9",
      };
      must(
        await runAs(root, (c) =>
          postDrafts(c, [
            journal({
              type: "payment",
              date: "2026-10-06",
              currency,
              reference,
              lines: [
                { ...common, account, side, partner },
                { ...common, account: "1100", side: other },
              ],
            }),
          ]),
        ),
      );
    };
    await post("USD", "PEL", "debit", "1430", 10_000n, 9_000n, "ADV-USD");
    await post("GBP", "ORL", "debit", "1430", 10_000n, 11_500n, "ADV-GBP");
    await post("USD", "PEL", "credit", "2140", 10_000n, 9_100n, "INV-USD");
    await post("GBP", "ORL", "credit", "2140", 12_000n, 13_920n, "INV-GBP");
    const of = async (reference: string) =>
      (await items()).find((i) => i.reference === reference)!.id;
    const done = must(
      await allocateItems(root, {
        date: "2026-10-12",
        pairs: [
          { first: await of("INV-USD"), second: await of("ADV-USD") },
          { first: await of("INV-GBP"), second: await of("ADV-GBP") },
        ],
      }),
    );
    await clean();
    for (const currency of ["USD", "GBP"])
      expect(await aged("2026-10-31", { currency })).toMatchObject({ agrees: true });
    const left = (await items()).filter((i) => /ADV|INV-(USD|GBP)/.test(i.reference));
    expect(left.map((i) => [i.reference, i.left, i.leftFunctional])).toEqual([
      ["INV-GBP", -2_000n, -2_320n],
    ]);
    must(await undoAllocation(root, { id: done.id }));
    await clean();
    expect((await aged("2026-10-31")).agrees).toBe(true);
  });

  test("an amount is read in the currency of its own pair", async () => {
    const root = await callerOf(w.database, "root");
    const yen = async (side: "debit" | "credit", reference: string) => {
      const other = side === "debit" ? ("credit" as const) : ("debit" as const);
      const common = {
        dimensions: {},
        description: "",
        amount: minor(6_000n),
        foreignAmount: minor(10_000n),
        rate: "0.6",
      };
      must(
        await runAs(root, (c) =>
          postDrafts(c, [
            journal({
              type: "payment",
              currency: "JPY",
              reference,
              lines: [
                { ...common, account: "2140", side, partner: "PEL" },
                { ...common, account: "1100", side: other },
              ],
            }),
          ]),
        ),
      );
      return (await items()).find((i) => i.reference === reference)!.id;
    };
    const [open, paid] = [await yen("credit", "INV-JPY"), await yen("debit", "PAY-JPY")];
    const dollars = (await items()).filter((i) => i.currency === "USD");
    const [credit, debit] = [
      dollars.find((i) => i.left < 0n)!.id,
      dollars.find((i) => i.left > 0n)!.id,
    ];
    must(
      await allocateItems(root, {
        date: "2026-10-12",
        pairs: [
          { first: credit, second: debit, amount: "1.00" },
          { first: open, second: paid, amount: "10,000" },
        ],
      }),
    );
    expect((await items()).filter((i) => i.currency === "JPY")).toEqual([]);
    await clean();
  });
});

describe("one day, one instant", () => {
  test("the adjustment period counts from the year's last day on", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await createJournal(root, {
        company: "ALP",
        type: "general",
        date: "2025-12-31",
        period: "2025-13",
        description: "Found at the audit",
        reference: "ADJ-1",
        post: true,
        lines: [
          { account: "6310", dimensions: { costCentre: "HARB" }, debit: "500.00" },
          { account: "2140", credit: "500.00", partner: "PEL", dueDate: "2026-01-20" },
        ],
      }),
    );
    for (const day of ["2025-12-30", "2025-12-31", "2026-01-15", "2026-01-30", "2026-01-31"])
      expect([day, (await aged(day)).agrees]).toEqual([day, true]);
    expect((await aged("2026-01-15")).total).toBe(50_000n);
  });

  test("as known at any instant, items equal the account, also where a clock was behind", async () => {
    const root = await callerOf(w.database, "root");
    const at = (minute: number) => new Date(Date.now() + 3_600_000 + minute * 60_000);
    const ahead = { ...root, now: () => at(10) };
    const behind = (minute: number) => ({ ...root, now: () => at(minute) });
    const bill = (caller: typeof root, side: "debit" | "credit", reference: string) =>
      runAs(caller, (c) =>
        postDrafts(c, [usd(side, 7_000n, 6_300n, "2026-10-14", reference, "2026-10-20")]),
      );
    must(await bill(ahead, "credit", "CLK-1"));
    must(await bill(behind(5), "debit", "CLK-2"));
    const of = async (reference: string) =>
      (await items()).find((i) => i.reference === reference)!.id;
    const pairs = [{ first: await of("CLK-1"), second: await of("CLK-2") }];
    must(await allocateItems(behind(6), { date: "2026-10-14", pairs }));
    must(await bill(behind(7), "credit", "CLK-3"));
    for (const minute of [4, 5.5, 6.5, 7.5, 9, 10, 11]) {
      const asKnown = at(minute).toISOString();
      expect([minute, (await aged("2026-10-31", { asKnown })).agrees]).toEqual([minute, true]);
    }
    expect(
      codes(
        await ageing(root, { company: "ALP", area: "payables", on: "2026-10-31", asKnown: "foo" }),
      ),
    ).toEqual(["DATE_INVALID"]);
  });

  test("settling without a journal asks for an open day like any posting; undone later, it counts from the first open day", async () => {
    const root = await callerOf(w.database, "root");
    const bill = (side: "debit" | "credit", reference: string) =>
      runAs(root, (c) =>
        postDrafts(c, [usd(side, 5_000n, 4_500n, "2026-01-14", reference, "2026-01-20")]),
      );
    must(await bill("credit", "SHUT-1"));
    must(await bill("debit", "SHUT-2"));
    must(await bill("credit", "SHUT-3"));
    must(await bill("debit", "SHUT-4"));
    const of = async (reference: string) =>
      (await items({ settled: true })).find((i) => i.reference === reference)!.id;
    const pair = async (a: string, b: string, date: string) =>
      allocateItems(root, { date, pairs: [{ first: await of(a), second: await of(b) }] });
    const done = must(await pair("SHUT-1", "SHUT-2", "2026-01-20"));
    const shut = async (to: string) => {
      for (const book of ["IFRS", "LOCAL", "TAX"])
        must(
          await switchPeriods(root, {
            company: "ALP",
            book,
            area: "payables",
            periods: ["2026-01"],
            to,
            ...(to === "open" ? { reason: "the test goes on" } : {}),
          }),
        );
    };
    await shut("closed");
    const before = (await aged("2026-01-31")).total;
    expect(codes(await pair("SHUT-3", "SHUT-4", "2026-01-20"))).toEqual(["PERIOD_AREA"]);
    must(await pair("SHUT-3", "SHUT-4", "2026-02-02"));
    await shut("open");
    must(await undoAllocation(root, { id: done.id }));
    expect((await aged("2026-01-31")).total).toBe(before);
  });
});

describe("the ageing", () => {
  test("that the database adds up is that of its items, on any day, from either day, in any currency, as known then", async () => {
    const days = ["2026-01-31", "2026-09-30", "2026-10-14", "2026-10-31", "2027-03-31"];
    const views = days.flatMap((on) =>
      (["due", "document"] as const).flatMap((by) =>
        [undefined, "EUR", "USD"].flatMap((currency) =>
          [undefined, new Date().toISOString()].map((asKnown) => ({ on, by, currency, asKnown })),
        ),
      ),
    );
    let counted = 0;
    for (const { on, by, currency, asKnown } of views) {
      const known = asKnown === undefined ? {} : { asKnown };
      const buckets = [5, 30, 60];
      const found = await aged(on, { by, buckets, ...known, ...(currency ? { currency } : {}) });
      const own = (await items({ on, ...known })).filter(
        (i) => !currency || i.currency === currency,
      );
      const sums = Array.from({ length: buckets.length + 2 }, () => 0n);
      for (const i of own) {
        const at = bucketOf(by === "due" ? i.dueDate : i.date, on, buckets);
        sums[at] = sums[at]! - (currency ? i.left : i.leftFunctional);
      }
      counted += own.length;
      expect([on, by, currency, found.totals]).toEqual([on, by, currency, sums]);
      expect(found.agrees).toBe(true);
      expect(found.rows.reduce((n, r) => n + r.items, 0)).toBe(own.length);
    }
    expect(counted).toBeGreaterThan(20);
  });
});
