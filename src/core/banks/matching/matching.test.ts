import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { bankLines, judged } from "../../../../tests/bankLines";
import { nameKey } from "../../partners";
import { minor } from "../../shared";
import { NO_KEYS } from "../statements";
import { assign } from "./assign";
import { matchLines } from "./matchLines";
import { nameDiffers } from "./names";
import { textKey, type RememberedLine } from "./remembered";
import { meansLine, type LineRule } from "./rules";
import type { Candidate, MatchFacts, MatchItem, MatchLine } from "./types";

const item = (id: number, left: bigint, more: Partial<MatchItem> = {}): MatchItem => ({
  id,
  partner: "C-1",
  numbers: [`HSF-26-R${String(397 + id).padStart(5, "0")}`],
  endToEnd: "",
  cheque: "",
  left: minor(left),
  currency: "EUR",
  date: "2026-10-01",
  due: "2026-10-31",
  discounts: [],
  underWay: false,
  bank: null,
  ...more,
});
const line = (id: number, amount: bigint, more: Partial<MatchLine> = {}): MatchLine => ({
  id,
  bank: 1,
  amount: minor(amount),
  currency: "EUR",
  booked: "2026-11-04",
  party: { name: "Sable Tours", account: "", bic: "" },
  keys: NO_KEYS,
  text: "",
  code: "PMNT-RCDT-ESCT",
  isReturn: false,
  returnReason: "",
  ...more,
});
const facts = (
  lines: MatchLine[],
  items: MatchItem[],
  more: Partial<MatchFacts> = {},
): MatchFacts => ({
  lines,
  items,
  partners: [
    { code: "C-1", name: "Sable Tours GmbH", accounts: ["DE1"] },
    { code: "C-2", name: "Fennick Freight", accounts: ["DE2"] },
  ],
  kinds: [],
  rules: [],
  oneSided: [],
  ownAccounts: [],
  ...more,
});
const says = (c: Candidate | undefined) => c?.reasons.map((r) => r.says).join("; ");

describe("what is certain", () => {
  test.each([
    ["HSF-26-R00398", 100n],
    ["hsf 26 r 398", 100n],
    ["Rechn. R00398, danke", 100n],
    ["HSF26R00398", 100n],
  ])("“%s” names the item, and the amount is what is left", (text, amount) => {
    const [m] = matchLines(facts([line(1, amount, { text })], [item(1, 100n), item(2, 100n)]));
    expect([m!.verdict, m!.candidates[0]!.takes]).toEqual([
      "certain",
      [{ item: 1, amount: 100n, discount: 0n }],
    ]);
  });

  test("an amount that two items have is not, with nothing but the account", () => {
    const party = { name: "", account: "DE1", bic: "" };
    const [two] = matchLines(facts([line(1, 100n, { party })], [item(1, 100n), item(2, 100n)]));
    expect([two!.verdict, two!.candidates.length]).toEqual(["to decide", 2]);
    const [one] = matchLines(facts([line(1, 100n, { party })], [item(1, 100n), item(2, 90n)]));
    expect(one!.verdict).toBe("certain");
  });

  test("an account that is somebody else's is a doubt, however well the number fits", () => {
    const party = { name: "Sable Tours", account: "DE2", bic: "" };
    const [m] = matchLines(
      facts([line(1, 100n, { party, text: "HSF-26-R00398" })], [item(1, 100n)]),
    );
    expect(m!.verdict).toBe("to decide");
    expect(says(m!.candidates[0])).toContain("the account is known as Fennick Freight's");
  });

  test("a line that comes twice takes its item once, and neither is certain", () => {
    const twice = [1, 2].map((id) => line(id, 100n, { text: "HSF-26-R00398" }));
    const found = matchLines(facts(twice, [item(1, 100n)]));
    expect(found.map((m) => [m.verdict, m.but])).toEqual([
      ["to decide", "Another line could be for the same"],
      ["to decide", "Another line fits its items better"],
    ]);
  });

  test("two invoices, the second in part; less an agreed discount; less a charge", () => {
    const items = [item(1, 1_230_000n), item(5, 984_000n)];
    const [part] = matchLines(
      facts([line(1, 1_845_000n, { text: "rechn. R00398 + 402 teilzahlung" })], items),
    );
    expect([part!.verdict, part!.candidates[0]!.takes]).toEqual([
      "to decide",
      [
        { item: 1, amount: 1_230_000n, discount: 0n },
        { item: 5, amount: 615_000n, discount: 0n },
      ],
    ]);
    const discounts = [{ until: "2026-11-10", amount: minor(200n) }];
    const text = "HSF-26-R00398";
    const less = (amount: bigint, booked: string) =>
      matchLines(facts([line(1, amount, { text, booked })], [item(1, 10_000n, { discounts })]))[0]!;
    expect(less(9_800n, "2026-11-10")).toMatchObject({
      verdict: "certain",
      candidates: [{ takes: [{ item: 1, amount: 10_000n, discount: 200n }] }],
    });
    expect(less(9_800n, "2026-11-11")).toMatchObject({ verdict: "to decide" });
    expect(less(9_990n, "2026-11-10").candidates[0]).toMatchObject({ rest: -10n });
  });

  test("what the bank's code means, where it has a coding; a word alone is not enough", () => {
    const kinds = [
      {
        code: "CHARGE",
        name: "Bank charges",
        side: "out",
        codes: ["PMNT-MDOP"],
        words: ["FEE"],
        coded: true,
      },
    ] as const;
    const found = matchLines(
      facts(
        [
          line(1, -500n, { code: "PMNT-MDOP-CHRG" }),
          line(2, -500n, { text: "Fee", party: { name: "", account: "", bic: "" } }),
          line(3, 500n, { code: "PMNT-MDOP-CHRG" }),
        ],
        [],
        { kinds },
      ),
    );
    expect(found.map((m) => m.verdict)).toEqual(["certain", "to decide", "unexplained"]);
  });
});

test("a cheque of another account of ours is not this one, whatever its number and amount", () => {
  const cheque = item(1, -100n, { cheque: "10417", underWay: true, bank: 2 });
  const presented = line(1, -100n, {
    party: { name: "", account: "", bic: "" },
    keys: { ...NO_KEYS, cheque: "10417" },
  });
  expect(matchLines(facts([presented], [cheque]))[0]!.verdict).toBe("unexplained");
  expect(matchLines(facts([{ ...presented, bank: 2 }], [cheque]))[0]!.verdict).toBe("certain");
});

describe("a rule of the company's own", () => {
  const rule = (more: Partial<LineRule> = {}): LineRule => ({
    id: 1,
    name: "Harbour dues",
    bank: null,
    text: "harbour dues",
    party: "",
    code: "",
    side: "both",
    from: "",
    to: "",
    outcome: { is: "coding", coding: { account: "6310", dimensions: {}, text: "" } },
    ...more,
  });
  const verdict = (rules: LineRule[], text: string, amount = -500n, items: MatchItem[] = []) => {
    const [m] = matchLines(facts([line(1, amount, { text })], items, { rules }));
    return [m!.verdict, m!.candidates[0]?.coding?.account ?? m!.but];
  };

  test("means whole words, a name, a code, a side and a range of amounts, all of them", () => {
    const said = { text: "HARBOUR-DUES  11/26", bank: 1, code: "PMNT-X", currency: "EUR" };
    const of = (more: Partial<LineRule>, amount = -500n, name = "Port of Ostry") =>
      meansLine(rule(more), { ...said, amount: minor(amount), party: { name } });
    expect(of({})).toBe(true);
    expect(of({ text: "harbour due" })).toBe(false);
    expect(of({ bank: 2 })).toBe(false);
    expect(of({ side: "in" })).toBe(false);
    expect(of({ party: "port ostry" })).toBe(false);
    expect(of({ party: "OSTRY" })).toBe(true);
    expect(of({ code: "PMNT" })).toBe(true);
    expect(of({ code: "ACMT" })).toBe(false);
    expect([of({ from: "5.00", to: "5.00" }), of({ from: "5.01" }), of({ to: "4.99" })]).toEqual([
      true,
      false,
      false,
    ]);
    // An amount that the currency of the line cannot hold means no line.
    expect(
      meansLine(rule({ from: "4.50" }), {
        ...said,
        currency: "JPY",
        amount: minor(-500n),
        party: { name: "" },
      }),
    ).toBe(false);
  });

  test("decides alone; the first in order counts, and what we gave an id ourselves comes before", () => {
    expect(verdict([rule()], "Harbour dues")).toEqual(["certain", "6310"]);
    const other = rule({ outcome: { is: "leave" } });
    expect(verdict([rule(), other], "Harbour dues")).toEqual(["certain", "6310"]);
    expect(verdict([other, rule()], "Harbour dues")[0]).toBe("unexplained");
    // An item whose number stands in the text is as likely: a person looks.
    expect(
      verdict([rule({ side: "in" })], "Harbour dues HSF-26-R00398", 100n, [item(1, 100n)])[0],
    ).toBe("to decide");
  });

  test("names the partner of what has no number, and an amount that only one item has is certain", () => {
    const items = [item(1, 100n, { partner: "C-1" }), item(2, 100n, { partner: "C-2" })];
    const [m] = matchLines(
      facts(
        [line(1, 100n, { text: "cabin harbour dues", party: { name: "", account: "", bic: "" } })],
        items,
        { rules: [rule({ outcome: { is: "partner", partner: "C-2" } })] },
      ),
    );
    expect([m!.verdict, m!.candidates[0]!.takes[0]!.item]).toEqual(["certain", 2]);
    expect(says(m!.candidates[0])).toContain("a rule of yours says that it is Fennick Freight's");
  });
});

describe("money between accounts of our own", () => {
  const own = (bank: number, account: string) => ({
    account,
    bank,
    code: `B-${bank}`,
    isNear: true,
    facing: "",
  });
  const accounts = [own(1, "OWN1"), own(2, "OWN2"), own(3, "OWN3")];
  const side = (id: number, bank: number, amount: bigint, account: string, booked = "2026-11-04") =>
    line(id, amount, { bank, booked, party: { name: "", account, bic: "" } });
  const of = (lines: MatchLine[], oneSided: MatchLine[] = []) =>
    matchLines(facts(lines, [], { ownAccounts: accounts, oneSided })).map((m) => [
      m.verdict,
      m.candidates[0]?.transfer?.line ?? null,
    ]);

  test("pairs both sides, where one names the other, within days; never two with one", () => {
    expect(of([side(1, 1, -500n, "OWN2"), side(2, 2, 500n, "")])).toEqual([
      ["certain", 2],
      ["certain", 1],
    ]);
    expect(of([side(1, 1, -500n, "OWN2"), side(2, 3, 500n, "")])).toEqual([
      ["to decide", null],
      ["unexplained", null],
    ]);
    expect(of([side(1, 1, -500n, ""), side(2, 2, 500n, "")])[0]).toEqual(["unexplained", null]);
    expect(of([side(1, 1, -500n, "OWN2"), side(2, 2, 500n, "", "2026-11-14")])[0]).toEqual([
      "to decide",
      null,
    ]);
    const twice = of([
      side(1, 1, -500n, "OWN2"),
      side(2, 1, -500n, "OWN2"),
      side(3, 2, 500n, "OWN1"),
    ]);
    expect(twice.map(([verdict]) => verdict)).not.toContain("certain");
  });

  test("what names another company's account is due from it or to it, beyond doubt", () => {
    const others = [{ account: "THEIRS", bank: 7, code: "B-7", isNear: false, facing: "BET" }];
    const found = matchLines(
      facts([side(1, 1, -500n, "THEIRS"), side(2, 1, 300n, "THEIRS")], [], { ownAccounts: others }),
    );
    expect(found.map((m) => [m.verdict, m.candidates[0]!.transfer?.company])).toEqual([
      ["certain", "BET"],
      ["certain", "BET"],
    ]);
    expect(says(found[0]!.candidates[0])).toContain("due from that company");
    expect(says(found[1]!.candidates[0])).toContain("due to that company");
  });

  test("finds its other side among lines of earlier days", () => {
    expect(of([side(2, 2, 500n, "OWN1")], [side(1, 1, -500n, "OWN2", "2026-11-02")])).toEqual([
      ["certain", 1],
    ]);
  });
});

describe("what people have decided before", () => {
  const before = (over: Partial<RememberedLine> = {}): RememberedLine => ({
    party: "Ostry Vending",
    text: "Statement 4711 October",
    isIn: true,
    booked: "2026-10-05",
    partner: "",
    kind: "",
    coding: { account: "4020", dimensions: {}, text: "" },
    ...over,
  });
  const of = (
    text: string,
    remembered: RememberedLine[],
    amount = 5_000n,
    items: MatchItem[] = [],
  ) =>
    matchLines(
      facts(
        [line(1, amount, { party: { name: "Ostry Vending", account: "", bic: "" }, text })],
        items,
        {
          remembered,
        },
      ),
    )[0]!;

  test("is proposed for a line of the same text, whatever figures and months it has, and never certain", () => {
    const found = of("Statement 4712, November", [before(), before({ booked: "2026-09-04" })]);
    expect(found.verdict).toBe("to decide");
    expect(found.candidates).toMatchObject([{ coding: { account: "4020" }, rest: 5_000n }]);
    expect(says(found.candidates[0])).toBe(
      "a line of this text was posted so on 5 Oct 2026, 2 times in a row",
    );
  });

  test.each([
    ["another text", "Refund 4712 November", 5_000n],
    ["money out", "Statement 4712 November", -5_000n],
  ])("is not proposed for %s", (_what, text, amount) => {
    expect(of(text, [before()], amount).verdict).toBe("unexplained");
  });

  test("the last decision counts, and a text of nothing but figures is none", () => {
    const coding = { account: "4030", dimensions: {}, text: "" };
    const found = of("Statement 1", [before(), before({ booked: "2026-10-09", coding })]);
    expect(found.candidates).toMatchObject([{ coding: { account: "4030" } }]);
    expect(textKey("", "4711 / 12 Nov")).toBeNull();
  });

  test("tells whose items a line could pay, and says so", () => {
    const item1 = item(9, 5_000n, { partner: "C-2", numbers: [] });
    const found = of("Statement 9", [before({ partner: "C-2", coding: null })], 5_000n, [item1]);
    expect(found.verdict).toBe("to decide");
    expect(found.candidates[0]!.takes).toMatchObject([{ item: 9 }]);
    expect(says(found.candidates[0])).toContain("a line of this text was Fennick Freight's");
  });
});

describe("what is expected", () => {
  const rent = {
    what: "Berth lease",
    days: ["2026-10-31", "2026-11-30"],
    amount: minor(-420_000n),
    partner: "C-2",
    coding: null,
  };
  const pay = {
    what: "Net pay",
    days: ["2026-11-01"],
    amount: minor(-900_000n),
    partner: "",
    coding: { account: "2310", dimensions: {}, text: "Net pay" },
  };
  const of = (amount: bigint, booked: string, name = "Fennick Freight") =>
    matchLines(
      facts([line(1, amount, { booked, party: { name, account: "", bic: "" }, code: "" })], [], {
        expected: [rent, pay],
      }),
    )[0]!;

  test("is proposed near its day for the very amount, and never certain", () => {
    const found = of(-420_000n, "2026-11-02");
    expect(found.verdict).toBe("to decide");
    expect(found.candidates).toMatchObject([{ partner: "C-2", onAccount: true, rest: -420_000n }]);
    expect(says(found.candidates[0])).toContain("Berth lease is expected on 31 Oct 2026");
    expect(of(-900_000n, "2026-10-30", "SALARIES").candidates).toMatchObject([
      { partner: "", coding: { account: "2310" }, onAccount: false },
    ]);
  });

  test.each([
    ["another amount", -420_001n, "2026-10-31", "Fennick Freight"],
    ["money in", 420_000n, "2026-10-31", "Fennick Freight"],
    ["another day", -420_000n, "2026-11-10", "Fennick Freight"],
    ["somebody else", -420_000n, "2026-10-31", "Sable Tours"],
  ])("is not proposed for %s", (_what, amount, booked, name) => {
    expect(of(amount, booked, name).verdict).toBe("unexplained");
  });

  test("stands behind an open item of the same amount", () => {
    const found = matchLines(
      facts(
        [
          line(1, -420_000n, {
            booked: "2026-10-31",
            party: { name: "Fennick Freight", account: "", bic: "" },
            text: "HSF-26-R00401",
          }),
        ],
        [item(4, -420_000n, { partner: "C-2" })],
        { expected: [rent] },
      ),
    )[0]!;
    expect(found.candidates[0]!.takes).toMatchObject([{ item: 4 }]);
  });
});

describe("all lines together", () => {
  const taking = (score: number, takes: readonly (readonly [number, bigint])[]): Candidate => ({
    takes: takes.map(([i, amount]) => ({ item: i, amount: minor(amount), discount: minor(0n) })),
    partner: "",
    kind: "",
    coding: null,
    transfer: null,
    rest: minor(0n),
    score,
    reasons: [],
    sure: true,
  });
  const candidate = (score: number, ...items: number[]) =>
    taking(
      score,
      items.map((i) => [i, 1n]),
    );

  test("not first come, first served: the second line's only item is left to it", () => {
    const given = assign(
      [
        { line: 1, candidates: [candidate(90, 1), candidate(80, 2)] },
        { line: 2, candidates: [candidate(85, 1)] },
      ],
      () => 1n,
    );
    expect([...given]).toEqual([
      [1, 1],
      [2, 0],
    ]);
  });

  test("of no item more is taken than is left, and no other way would be better", () => {
    const LEFT = 3n;
    const claims = fc.array(
      fc.array(
        fc.tuple(
          fc.integer({ min: 1, max: 100 }),
          fc.uniqueArray(fc.tuple(fc.integer({ min: 1, max: 6 }), fc.bigInt(1n, LEFT)), {
            minLength: 1,
            maxLength: 2,
            selector: ([item]) => item,
          }),
        ),
        { maxLength: 3 },
      ),
      { maxLength: 5 },
    );
    type Taken = ReadonlyMap<number, bigint>;
    const withTakes = (taken: Taken, c: Candidate): Taken =>
      new Map([
        ...taken,
        ...c.takes.map((t) => [t.item, (taken.get(t.item) ?? 0n) + t.amount] as const),
      ]);
    const isPossible = (taken: Taken) => [...taken.values()].every((t) => t <= LEFT);
    fc.assert(
      fc.property(claims, (of) => {
        const lines = of.map((cs, i) => ({
          line: i,
          candidates: cs
            .map(([score, takes]) => taking(score, takes))
            .sort((a, b) => b.score - a.score),
        }));
        const given = assign(lines, () => LEFT);
        const chosen = [...given].map(([l, c]) => lines[l]!.candidates[c]!);
        expect(isPossible(chosen.reduce(withTakes, new Map() as Taken))).toBe(true);
        // Every way there is, written out.
        const most = (i: number, taken: Taken): number =>
          i === lines.length
            ? 0
            : Math.max(
                most(i + 1, taken),
                ...lines[i]!.candidates.flatMap((c) => {
                  const after = withTakes(taken, c);
                  return isPossible(after) ? [c.score + most(i + 1, after)] : [];
                }),
              );
        expect(chosen.reduce((t, c) => t + c.score, 0)).toBe(most(0, new Map()));
      }),
    );
  });

  test("an item paid by several lines: each takes its part, and says that they are the whole", () => {
    const text = "HSF-26-R00398";
    const of = (...amounts: bigint[]) =>
      matchLines(
        facts(
          amounts.map((a, i) => line(i + 1, a, { text })),
          [item(1, 100n)],
        ),
      );
    const whole = of(60n, 40n);
    expect(whole.map((m) => [m.verdict, m.candidates[0]!.takes[0]!.amount])).toEqual([
      ["to decide", 60n],
      ["to decide", 40n],
    ]);
    for (const m of whole)
      expect(says(m.candidates[0])).toContain(
        "with the other line for it, it is exactly what is left",
      );
    const short = of(60n, 30n);
    expect(short.map((m) => m.candidates[0]!.takes[0]!.amount)).toEqual([60n, 30n]);
    for (const m of short) expect(says(m.candidates[0])).not.toContain("exactly what is left");
  });

  test("of generated lines whose truth is known, none is certain and wrong", () => {
    for (const seed of [1, 2, 3]) {
      const generated = bankLines({ lines: 800, items: 4_000 }, seed);
      const found = matchLines(generated);
      const { wrong, clear, clearFound, named, first } = judged(generated.truth, found);
      expect(wrong).toEqual([]);
      expect(clearFound / clear).toBeGreaterThan(0.9);
      expect(first / named).toBeGreaterThan(0.95);
    }
  });
});

describe("names", () => {
  test("slips of the pen are forgiven, names of other people are not", () => {
    const differ = (a: string, b: string) => nameDiffers(nameKey(a), nameKey(b));
    expect(differ("Corrow Shipyard Ltd", "CORROW SHIPYRAD")).toBe(1);
    expect(differ("Fräulein Möwe & Co. GmbH", "fraulein mowe")).toBe(0);
    expect(differ("Tarn", "Torn")).toBe(null);
  });
});
