import fc from "fast-check";
import { expect, test } from "vitest";
import { statement } from "../../../../tests/someStatements";
import { decimalText } from "../../shared";
import { checkStatement } from "./checkStatement";
import { readCamt } from "./camt";
import { readMt940 } from "./mt940";
import type { BankStatement, StatementFault } from "./statement";
import { readStatusReport } from "./statusReport";
import { proposeReading, statementOfTable } from "./table";
import { writeCamt053 } from "./writeCamt053";
import { writeMt940 } from "./writeMt940";
import { writeStatusReport } from "./writeStatusReport";

/** So many files of each format; `npm run fuzz` asks for a hundred thousand. */
const FILES = Number(process.env.FUZZ_FILES ?? 300);

const noise = fc.array(
  fc.record({
    at: fc.double({ min: 0, max: 1, noNaN: true }),
    cut: fc.integer({ min: 0, max: 40 }),
    put: fc.oneof(
      fc.string({ maxLength: 6 }),
      fc.constantFrom("0", ",", ";", "<", "C", "-", "&lol;", ":61:", "\u0000", "]]>", "RJCT"),
    ),
  }),
  { minLength: 1, maxLength: 4 },
);

const table = (s: BankStatement): string =>
  [
    "Date;Amount;Balance;Text",
    ...s.lines.map((l, i) => {
      const held = s.lines
        .slice(0, i + 1)
        .reduce((t, x) => t + x.amount, s.opening.amount as bigint);
      const figure = (a: bigint) => decimalText(a as never, s.currency);
      return [l.booked, figure(l.amount), figure(held), l.text].join(";");
    }),
  ].join("\n");

const report = (s: BankStatement): string =>
  writeStatusReport("2027-01-03T05:00:00Z", {
    message: "R1",
    original: "PR-1",
    refused: s.lines.map((l) => ({ endToEnd: l.keys.endToEnd, reason: "AC04" })),
  });

type Read = { statements: readonly BankStatement[] } | { faults: readonly StatementFault[] };

function readTable(text: string, s: BankStatement): Read {
  const cells = text.split("\n").map((l) => l.split(";"));
  const proposed = proposeReading(cells);
  if (!proposed) return { faults: [{ line: 1, what: "no headings" }] };
  const read = statementOfTable(cells, proposed.reading, {
    account: s.account,
    currency: s.currency,
    last: null,
    taken: new Set(),
    opening: null,
  });
  return "statement" in read ? { statements: [read.statement] } : read;
}

function readReport(text: string): Read {
  const read = readStatusReport(text);
  if ("faults" in read) return read;
  expect(read.report.original).not.toBe("");
  return { statements: [] };
}

test.each([
  [
    "camt.053",
    (s: BankStatement) => writeCamt053("M1", "2027-01-03T05:00:00Z", [s]),
    (text: string) => readCamt(text),
  ],
  ["MT940", (s: BankStatement) => writeMt940("M1", [s]), (text: string) => readMt940(text)],
  ["a table", table, readTable],
  ["pain.002", report, readReport],
])(
  "%s: a file with something changed in it is refused with a sentence, or still adds up",
  (_name, write, read) => {
    fc.assert(
      fc.property(statement, noise, (s, changes) => {
        let file = write(s);
        for (const { at, cut, put } of changes) {
          const place = Math.floor(at * file.length);
          file = file.slice(0, place) + put + file.slice(place + cut);
        }
        const result: Read = read(file, s);
        if ("faults" in result) {
          expect(result.faults.length).toBeGreaterThan(0);
          for (const f of result.faults) expect(f.what.length).toBeGreaterThan(3);
        } else for (const found of result.statements) expect(checkStatement(found)).toEqual([]);
      }),
      { numRuns: FILES },
    );
  },
  FILES * 60 + 10_000,
);
