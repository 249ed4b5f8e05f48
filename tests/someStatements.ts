import fc from "fast-check";
import { NO_KEYS, type BankStatement, type StatementLine } from "../src/core/banks/statements";
import { addDays, minor } from "../src/core/shared";

export const ACCOUNT = "DE44500105175407324931";
const word = (max: number) =>
  fc
    .stringMatching(new RegExp(`^[A-Z][A-Za-z0-9 ]{0,${max}}$`))
    .map((s) => s.trim().replace(/ +/g, " "));
const amount = fc
  .bigInt({ min: 1n, max: 10n ** 13n })
  .chain((n) => fc.boolean().map((out) => minor(out ? -n : n)));

const line: fc.Arbitrary<StatementLine> = fc
  .record({
    day: fc.integer({ min: 0, max: 5 }),
    valued: fc.integer({ min: -3, max: 3 }),
    amount,
    takesBack: fc.boolean(),
    name: word(30),
    reference: fc.stringMatching(/^[A-Z]{3}-\d{2}-Z\d{5}$/),
    text: word(60),
  })
  .map((l) => ({
    booked: addDays("2026-12-29", l.day),
    valued: addDays("2026-12-29", l.day + l.valued),
    amount: l.amount,
    takesBack: l.takesBack,
    code: "NTRF",
    party: { name: l.name, account: ACCOUNT, bic: "OSTRDEFF" },
    keys: { ...NO_KEYS, endToEnd: l.reference, bank: "B12345" },
    text: l.text,
    returnReason: "",
    details: [],
    from: 0,
    to: 0,
  }));

/** Statements of one account that add up, over the end of a year, in currencies of any decimals. */
export const statement: fc.Arbitrary<BankStatement> = fc
  .record({
    currency: fc.constantFrom("EUR", "JPY", "KWD"),
    opening: amount,
    number: fc.integer({ min: 1, max: 99_999 }),
    lines: fc.array(line, { maxLength: 8 }),
  })
  .map(({ currency, opening, number, lines }) => ({
    account: ACCOUNT,
    currency,
    number: String(number),
    message: "M20261231",
    opening: { amount: opening, date: "2026-12-28" },
    closing: {
      amount: minor(lines.reduce((t, l) => t + l.amount, opening as bigint)),
      date: "2027-01-03",
    },
    lines,
    from: 0,
  }));
