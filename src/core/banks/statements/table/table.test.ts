import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, amountText, minor } from "../../../shared";
import { proposeReading, readingFaults, statementOfTable, type TableFacts } from "./index";

const ACCOUNT = "DE02500105170137075030";
const facts = (more: Partial<TableFacts> = {}): TableFacts => ({
  account: ACCOUNT,
  currency: "EUR",
  last: null,
  taken: new Set(),
  opening: null,
  ...more,
});
const read = (cells: string[][], more: Partial<TableFacts> = {}) => {
  const proposed = proposeReading(cells)!;
  return statementOfTable(cells, proposed.reading, facts(more));
};
const table = (text: string) => text.split("\n").map((l) => l.split(";"));

/** Movements over days that go up, the first on a day that has no other reading. */
const movements = fc.array(
  fc.tuple(
    fc.integer({ min: 0, max: 2 }),
    fc.bigInt(-999_999n, 999_999n).filter((a) => a !== 0n),
  ),
  { minLength: 1, maxLength: 8 },
);
const ways = fc.record({
  comma: fc.boolean(),
  twoColumns: fc.boolean(),
  newestFirst: fc.boolean(),
  dotted: fc.boolean(),
  above: fc.integer({ min: 0, max: 3 }),
});

/** A bank's table of movements, written in one of the ways in which banks do. */
function written(
  of: readonly { day: string; amount: bigint; balance: bigint }[],
  way: {
    comma: boolean;
    twoColumns: boolean;
    newestFirst: boolean;
    dotted: boolean;
    above: number;
  },
): string[][] {
  const figure = (a: bigint) => {
    const text = amountText(minor(a), "EUR").replace("−", "-");
    return way.comma ? text.replace(/[.,]/g, (m) => (m === "." ? "," : ".")) : text;
  };
  const day = (d: string) => (way.dotted ? d.split("-").toReversed().join(".") : d);
  const rows = of.map((m) => [
    day(m.day),
    ...(way.twoColumns
      ? [m.amount < 0n ? figure(-m.amount) : "", m.amount > 0n ? figure(m.amount) : ""]
      : [figure(m.amount)]),
    figure(m.balance),
    "INV 1",
  ]);
  const headings = way.twoColumns
    ? ["Buchungstag", "Soll", "Haben", "Saldo", "Verwendungszweck"]
    : ["Buchungstag", "Betrag", "Saldo", "Verwendungszweck"];
  const above = Array.from({ length: way.above }, (_, i) => [`Konto ${i}`, "", ""]);
  return [...above, headings, ...(way.newestFirst ? rows.toReversed() : rows), ["", ""]];
}

describe("a bank's table of movements", () => {
  test("however it is written, and wherever the statement before ended: what is new comes in, once", () => {
    fc.assert(
      fc.property(
        movements,
        ways,
        fc.bigInt(-10_000n, 10_000n),
        fc.nat(),
        (of, way, opening, cut) => {
          let [day, balance] = ["2026-10-31", opening];
          const all = of.map(([days, amount]) => {
            day = addDays(day, days);
            return { day, amount, balance: (balance += amount) };
          });
          // The first day tells in which order dates are written.
          const known = all.slice(0, cut % all.length);
          const last = known.at(-1);
          const found = read(written(all, way), {
            last: last ? { date: last.day, closing: minor(last.balance) } : null,
          });
          if ("faults" in found) {
            // Movements of the same day that come to nothing leave open where it goes on.
            expect(found.faults[0]!.what).toMatch(/^More than one of its balances/);
            return;
          }
          expect(found.known).toBe(known.length);
          expect(found.statement.lines.map((l) => [l.booked, l.amount, l.text])).toEqual(
            all.slice(known.length).map((m) => [m.day, m.amount, "INV 1"]),
          );
          expect(found.statement.opening.amount).toBe(last?.balance ?? opening);
          expect(found.statement.closing).toEqual({ amount: all.at(-1)!.balance, date: day });
        },
      ),
      { numRuns: 300 },
    );
  });

  test("marks of in and out, several texts, names and accounts of the other side", () => {
    const cells = table(
      "Date;Name;Account;Counterparty account;Amount;Af/bij;Mededelingen;Omschrijving\n" +
        `20261103;Fennick Freight;${ACCOUNT};NL02 ABNA 0123456789;1,180.00;Bij;R00417;thanks\n` +
        `20261104;;${ACCOUNT};;18.50;Af;Fee;`,
    );
    const found = read(cells, { opening: minor(100n) });
    expect(found).toMatchObject({
      statement: {
        number: "2026-11-04",
        opening: { amount: 100n, date: "2026-11-02" },
        lines: [
          {
            amount: 118_000n,
            text: "R00417 thanks",
            party: { name: "Fennick Freight", account: "NL02ABNA0123456789" },
            from: 2,
          },
          { amount: -1_850n, text: "Fee" },
        ],
      },
    });
  });

  test("figures that can be read in two ways are doubted; nothing else is", () => {
    expect(proposeReading(table("Date;Amount\n2026-11-03;1,180"))!.doubts).toEqual([
      "Its figures could have a decimal point or a decimal comma",
    ]);
    expect(proposeReading(table("Date;Amount\n03/04/2026;1.50"))!.doubts).toEqual([
      "Its dates could begin with the day or with the month",
    ]);
    expect(proposeReading(table("Date;Amount\n13/04/2026;1.50"))!.doubts).toEqual([]);
    expect(proposeReading(table("Name;Sum\nA;1"))).toBeNull();
  });

  test.each([
    ["no day", "Date;Amount\nsoon;1.00", "“soon” is no booking date"],
    ["no figure", "Date;Amount\n2026-11-03;1.00\n2026-11-03;abc", "“abc” is no amount in EUR"],
    [
      "more decimals than the currency has",
      "Date;Amount\n2026-11-03;1.005;\n2026-11-03;1.01",
      "“1.005” is no amount",
    ],
    [
      "another currency",
      "Date;Amount;Currency\n2026-11-03;1.00;USD",
      "in USD; the account is kept in EUR",
    ],
    ["in and out at once", "Date;Paid in;Paid out\n2026-11-03;1.00;2.00", "Money in and money out"],
    [
      "another account",
      "Date;Amount;Our account\n2026-11-03;1.00;DE99",
      "of another account, DE99",
    ],
    [
      "balances that do not lead",
      "Date;Amount;Balance\n2026-11-03;1.00;5.00\n2026-11-04;1.00;7.00",
      "5.00 and 1.00 come to 6.00; the balance beside it is 7.00",
    ],
    [
      "days that go up and down",
      "Date;Amount\n2026-11-03;1.00\n2026-11-05;1.00\n2026-11-04;1.00",
      "out of order",
    ],
    ["nothing", "Date;Amount\n;", "no movement"],
  ])("refused: %s", (_name, text, what) => {
    expect(read(table(text), { opening: minor(0n) })).toMatchObject({
      faults: [{ what: expect.stringContaining(what) as string }],
    });
  });

  test("without balances it begins behind the statement before; with them it has to meet it", () => {
    const last = { date: "2026-11-03", closing: minor(500n) };
    const faultOf = (text: string) => {
      const found = read(table(text), { last });
      return "faults" in found ? found.faults[0]!.what : "";
    };
    expect(faultOf("Date;Amount\n2026-11-03;1.00")).toMatch(/begin behind/);
    expect(faultOf("Date;Amount\n2026-11-04;1.00")).toBe("");
    expect(faultOf("Date;Amount;Balance\n2026-11-02;1.00;4.00")).toMatch(/none of its balances/);
    expect(faultOf("Date;Amount;Balance\n2026-11-02;1.00;5.00")).toMatch(/there already/);
    expect(read(table("Date;Amount\n2026-11-04;1.00"), {})).toMatchObject({
      faults: [{ what: expect.stringContaining("type the opening balance") as string }],
    });
  });

  test("a reading needs a day and one way of amounts", () => {
    const { reading } = proposeReading(table("Date;Amount;Text\n2026-11-03;1.00;a"))!;
    expect(readingFaults(reading)).toEqual([]);
    expect(readingFaults({ ...reading, columns: [null, "amount", "in"] })).toEqual([
      "Say which column is the booking date",
      "The amount stands in one column, or in two for in and out: not in three",
    ]);
    const turned = statementOfTable(
      table("Date;Amount;Text\n2026-11-03;1.00;a"),
      { ...reading, turned: true },
      facts({ opening: minor(0n) }),
    );
    expect(turned).toMatchObject({ statement: { lines: [{ amount: -100n }] } });
  });
});
