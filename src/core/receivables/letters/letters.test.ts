import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, minor } from "../../shared";
import {
  lateInterest,
  procedureAmount,
  remind,
  usualReminders,
  type RemindableItem,
} from "./index";

const RATES = [
  { from: "2025-07-01", percent: "10.15" },
  { from: "2026-01-01", percent: "10.4" },
  { from: "2026-07-01", percent: "9.9" },
];

describe("interest on what is paid late", () => {
  test("a year at one rate is that rate; a day before the first rate has none", () => {
    const flat = [{ from: "2020-01-01", percent: "10" }];
    expect(lateInterest(minor(100_000n), "2025-03-01", "2026-03-01", flat)).toBe(10_000n);
    // 31 days of 10 % on 1,000.00: 8.4931…
    expect(lateInterest(minor(100_000n), "2025-12-31", "2026-01-31", flat)).toBe(849n);
    expect(lateInterest(minor(100_000n), "2025-06-30", "2025-07-31", RATES)).not.toBeNull();
    expect(lateInterest(minor(100_000n), "2025-06-29", "2025-07-31", RATES)).toBeNull();
    expect(lateInterest(minor(100_000n), "2026-02-01", "2026-02-01", [])).toBe(0n);
  });

  test("the half years count by their own rates: 92 days of one and 30 of the next", () => {
    const amount = minor(36_500_000n);
    // 365,000.00 earns 10.00 a day for each per cent.
    expect(lateInterest(amount, "2025-12-01", "2026-01-31", RATES)).toBe(
      30n * 10_150n + 31n * 10_400n,
    );
  });

  test("charged in two goes it comes to the same but for a rounded unit, whatever the days", () => {
    const day = fc.integer({ min: 0, max: 500 }).map((n) => addDays("2025-06-30", n));
    fc.assert(
      fc.property(fc.bigInt({ min: 0n, max: 10n ** 12n }), day, day, day, (amount, ...days) => {
        const [a, b, c] = days.sort() as [string, string, string];
        const whole = lateInterest(minor(amount), a, c, RATES)!;
        const parts =
          lateInterest(minor(amount), a, b, RATES)! + lateInterest(minor(amount), b, c, RATES)!;
        const off = whole - parts;
        expect(off >= -1n && off <= 1n).toBe(true);
      }),
    );
  });
});

const ON = "2026-11-05";
const item = (more: Partial<RemindableItem>): RemindableItem => ({
  id: 1,
  due: "2026-10-06",
  left: minor(100_000n),
  functional: minor(100_000n),
  disputed: minor(0n),
  promised: minor(0n),
  promisedFor: null,
  level: 0,
  remindedOn: null,
  interestTo: null,
  charge: false,
  ...more,
});
const reminded = (items: RemindableItem[], more: Partial<Parameters<typeof remind>[1]> = {}) =>
  remind(items, {
    on: ON,
    currency: "EUR",
    procedure: usualReminders(),
    minimum: minor(2_000n),
    fees: [minor(0n), minor(0n), minor(4_000n)],
    rates: RATES,
    blocked: "",
    dropped: new Set(),
    ...more,
  });
const outs = (items: RemindableItem[], more = {}) =>
  reminded(items, more).items.map((i) => i.leftOut);

describe("what a reminder takes", () => {
  test("each item goes to its next level, the letter to the highest, which says fee and interest on all", () => {
    const found = reminded([
      item({ id: 1 }),
      item({ id: 2, level: 2, remindedOn: "2026-10-22", due: "2026-08-05" }),
    ]);
    expect(found.items.map((i) => i.level)).toEqual([1, 3]);
    expect(found).toMatchObject({ level: 3, total: 200_000n, fee: 4_000n });
    // 30 and 92 days of 9.9 % on 1,000.00: 8.136… and 24.953…
    expect(found.items.map((i) => i.interest)).toEqual([814n, 2_495n]);
    expect(found.interest).toBe(3_309n);
    // What was charged before is not charged again, and nothing on charges.
    const charge = item({ level: 2, remindedOn: "2026-10-22", charge: true });
    expect(reminded([charge])).toMatchObject({ interest: 0n, fee: 4_000n, rateMissing: false });
    const again = reminded([
      item({ level: 2, remindedOn: "2026-10-22", interestTo: "2026-10-22" }),
    ]);
    expect(again.interest).toBe(380n);
  });

  test("an item waits its days, from its due date and from the level before; after the last none comes", () => {
    expect(outs([item({ due: "2026-10-30" }), item({ id: 2 })])).toEqual([
      "level 1 comes on 6 Nov 2026",
      null,
    ]);
    expect(
      outs([
        item({ due: "2026-10-29" }),
        item({ id: 2, level: 1, remindedOn: "2026-10-23" }),
        item({ id: 3, level: 3, remindedOn: "2026-10-01" }),
      ]),
    ).toEqual([null, "level 2 comes on 6 Nov 2026", "had the last level on 1 Oct 2026"]);
  });

  test("what is disputed or promised stays out, in part too, and converts as the whole item does", () => {
    const part = reminded([
      item({ functional: minor(80_000n), disputed: minor(25_000n), promisedFor: null }),
      item({ id: 2, promised: minor(100_000n), promisedFor: "2026-11-13" }),
    ]);
    expect(part.items[0]).toMatchObject({ amount: 75_000n, functional: 60_000n, leftOut: null });
    expect(part.items[1]!.leftOut).toBe("promised for 13 Nov 2026");
    expect(part.total).toBe(60_000n);
  });

  test("credits are taken off; a letter that they cover, or that is below the minimum, is not sent", () => {
    const credit = (left: bigint) => item({ id: 9, left: minor(left), functional: minor(left) });
    expect(reminded([item({}), credit(-40_000n)])).toMatchObject({ total: 60_000n, level: 1 });
    expect(outs([item({}), credit(-100_000n)])).toEqual(
      Array(2).fill("credits cover what is overdue"),
    );
    expect(outs([item({}), credit(-98_001n)])).toEqual(
      Array(2).fill("19.99 EUR is below the minimum of 20.00"),
    );
    expect(outs([credit(-5n)])).toEqual(["nothing else of this customer is reminded"]);
  });

  test("whoever is blocked gets nothing; what a person takes out leaves its level and charges with it", () => {
    expect(outs([item({})], { blocked: "blocked for reminders: in court" })).toEqual([
      "blocked for reminders: in court",
    ]);
    const two = [item({}), item({ id: 2, level: 2, remindedOn: "2026-10-01" })];
    const dropped = reminded(two, { dropped: new Set([2]) });
    expect(dropped).toMatchObject({ level: 1, fee: 0n, interest: 0n, total: 100_000n });
    // The one that is taken out can be put back.
    expect(dropped.items[1]!.leftOut).toBeNull();
    expect(outs(two, { dropped: new Set([1, 2]) })).toEqual([null, null]);
  });

  test("interest for days without a rate is not charged, and that is said", () => {
    const early = item({ due: "2025-05-01", level: 2, remindedOn: "2026-10-01" });
    expect(reminded([early])).toMatchObject({ interest: 0n, rateMissing: true, fee: 4_000n });
    // Taken out by hand, it stands in nobody's way.
    const late = item({ id: 2, level: 2, remindedOn: "2026-10-01" });
    expect(reminded([early, late], { dropped: new Set([1]) })).toMatchObject({
      interest: 814n,
      rateMissing: false,
    });
  });
});

test("amounts of a procedure hold in currencies with other decimals", () => {
  expect((["EUR", "JPY", "KWD"] as const).map((c) => procedureAmount("12.5", c))).toEqual([
    1_250n,
    13n,
    12_500n,
  ]);
  expect(procedureAmount("40", "JPY")).toBe(40n);
});
