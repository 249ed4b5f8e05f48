import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readChart, readOpening } from "@/core/ledger";
import { readEInvoice } from "@/core/trade/eInvoice/read";
import { decodeXml } from "./decodeXml";
import { readTable } from "./index";

// Files are written here from a model, by rules of RFC 4180 and XML 1.0 and by no code of the
// application; what is read has to be the model again.

const word = fc
  .string({
    unit: fc.constantFrom(..."abzAZ09 ,;.:-_/()\"'&<>éßłØ–".split("")),
    minLength: 1,
    maxLength: 24,
  })
  .map((t) => t.trim())
  // An apostrophe before what begins a formula marks a text and is none of it.
  .filter((t) => t !== "" && !/^'+[=+\-@]/.test(t));
const quoted = (cell: string, separator: string): string =>
  cell.includes(separator) || /["\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell;

interface Writing {
  separator: string;
  newline: string;
  mark: boolean;
}
const writing: fc.Arbitrary<Writing> = fc.record({
  separator: fc.constantFrom(",", ";", "\t"),
  newline: fc.constantFrom("\n", "\r\n"),
  mark: fc.boolean(),
});
/** A table with headings as a CSV file, its columns in any order. */
const csv = (columns: readonly string[], rows: readonly string[][], how: Writing): Uint8Array => {
  const line = (cells: readonly string[]) =>
    cells.map((c) => quoted(c, how.separator)).join(how.separator);
  const text = [columns, ...rows].map(line).join(how.newline);
  return new TextEncoder().encode(`${how.mark ? "\ufeff" : ""}${text}${how.newline}`);
};
const shuffled = <T>(list: readonly T[]) =>
  fc.shuffledSubarray([...list], { minLength: list.length });
const read = async (bytes: Uint8Array) => {
  const result = await readTable("a.csv", bytes);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.value;
};

/** A figure in the marks of a country, written digit by digit. */
const figure = (minor: bigint, decimal: string, group: string): string => {
  const digits = String(minor < 0n ? -minor : minor).padStart(3, "0");
  const whole = digits.slice(0, -2);
  const grouped = [...whole]
    .map((d, i) => d + ((whole.length - i) % 3 === 1 && i < whole.length - 1 ? group : ""))
    .join("");
  return `${minor < 0n ? "-" : ""}${grouped}${decimal}${digits.slice(-2)}`;
};

describe("what is written is what is read", () => {
  test("opening balances, in any marks, order of columns and separator", async () => {
    const marks = fc.constantFrom([".", ","], [",", "."], [".", "'"], [",", "\u00a0"], [".", ""]);
    const row = fc.record({
      account: fc.integer({ min: 1000, max: 9999 }).map(String),
      amount: fc.bigInt({ min: -(10n ** 11n), max: 10n ** 11n }).filter((n) => n !== 0n),
      partner: fc.option(word, { nil: "" }),
      reference: fc.option(word, { nil: "" }),
      description: word,
    });
    const columns = ["account", "amount", "partner", "reference", "description"] as const;
    await fc.assert(
      fc.asyncProperty(
        // A certain figure in each table: with groups and decimals both.
        fc.array(row, { minLength: 1, maxLength: 12 }),
        marks,
        shuffled(columns),
        writing,
        async (rows, [decimal, group], order, how) => {
          const all = [{ ...rows[0]!, amount: 123_456_789n, description: "certain" }, ...rows];
          const cells = all.map((r) =>
            order.map((c) => (c === "amount" ? figure(r.amount, decimal!, group!) : r[c])),
          );
          const opening = readOpening(await read(csv(order, cells, how)), {
            currency: "EUR",
            dimensions: [],
          });
          expect(opening.problems).toEqual([]);
          expect(
            opening.lines.map((l) => ({
              account: l.account,
              amount: l.side === "debit" ? l.amount : -l.amount,
              partner: l.partner ?? "",
              reference: l.item?.reference ?? "",
              description: l.description,
            })),
          ).toEqual(all);
        },
      ),
      { numRuns: 300 },
    );
  });

  test("a chart of accounts", async () => {
    const account = fc.record({
      number: fc.integer({ min: 1000, max: 9999 }).map(String),
      name: word,
      type: fc.constantFrom("asset", "liability", "equity", "income", "expense"),
      monetary: fc.constantFrom("yes", "no"),
      currency: fc.constantFrom("", "EUR", "JPY"),
    });
    const columns = ["number", "name", "type", "heading", "monetary", "currency"] as const;
    await fc.assert(
      fc.asyncProperty(
        fc.uniqueArray(account, { minLength: 1, maxLength: 12, selector: (a) => a.number }),
        word,
        shuffled(columns),
        writing,
        async (accounts, title, order, how) => {
          const heading = {
            number: "1",
            name: title,
            type: "heading",
            heading: "",
            monetary: "",
            currency: "",
          };
          const rows = [heading, ...accounts.map((a) => ({ ...a, heading: "1" }))];
          const cells = rows.map((r) => order.map((c) => r[c]));
          const plan = readChart(await read(csv(order, cells, how)), {
            headings: [],
            accounts: [],
            dimensions: [],
            companies: [],
          });
          if (!plan.ok) throw new Error(JSON.stringify(plan.problems));
          expect(plan.value.headings).toEqual([{ code: "1", name: title, parent: null }]);
          expect(
            plan.value.accounts.map((a) => ({
              number: a.number,
              name: a.name,
              type: a.type,
              monetary: a.monetary ? "yes" : "no",
              currency: a.currency ?? "",
            })),
          ).toEqual(accounts);
        },
      ),
      { numRuns: 200 },
    );
  });

  test("e-invoices, with any prefixes, references of characters, white space and encodings", () => {
    const decimal = fc.bigInt({ min: -(10n ** 9n), max: 10n ** 9n }).map((n) => figure(n, ".", ""));
    const model = fc.record({
      number: word,
      seller: word,
      note: fc.option(word, { nil: "" }),
      lines: fc.array(
        fc.record({ description: word, net: decimal, quantity: decimal, percent: decimal }),
        { minLength: 1, maxLength: 6 },
      ),
    });
    const how = fc.record({
      prefix: fc.constantFrom("", "cbc:", "x1:"),
      gap: fc.constantFrom("", "\n  ", "<!-- a note -->"),
      references: fc.boolean(),
      encoding: fc.constantFrom("utf-8", "utf-16le", "utf-16be", "iso-8859-1"),
    });
    fc.assert(
      fc.property(model, how, (m, h) => {
        const single = h.encoding === "iso-8859-1";
        const escaped = (t: string): string =>
          [...t]
            .map((c) =>
              "&<>\"'".includes(c) || h.references || (single && c > "\u00ff")
                ? `&#${c.codePointAt(0)};`
                : c,
            )
            .join("");
        const el = (name: string, inner: string) =>
          `<${h.prefix}${name}>${inner}</${h.prefix}${name}>${h.gap}`;
        const spaces = h.prefix === "" ? "" : ` xmlns:${h.prefix.slice(0, -1)}="urn:x"`;
        const lines = m.lines.map((l) =>
          el(
            "InvoiceLine",
            el("InvoicedQuantity", l.quantity) +
              el("LineExtensionAmount", l.net) +
              el(
                "Item",
                el("Name", escaped(l.description)) +
                  el("ClassifiedTaxCategory", el("ID", "S") + el("Percent", l.percent)),
              ),
          ),
        );
        const body =
          el("ID", escaped(m.number)) +
          el("IssueDate", "2026-10-06") +
          (m.note ? el("Note", escaped(m.note)) : "") +
          el("DocumentCurrencyCode", "EUR") +
          el(
            "AccountingSupplierParty",
            el("Party", el("PartyLegalEntity", el("RegistrationName", escaped(m.seller)))),
          ) +
          lines.join("");
        const xml = `<?xml version="1.0" encoding="${h.encoding.replace(/[lb]e$/, "")}"?>\n<${h.prefix}Invoice${spaces}>${h.gap}${body}</${h.prefix}Invoice>`;
        const bytes =
          h.encoding === "utf-8"
            ? Buffer.from(xml, "utf8")
            : single
              ? Buffer.from(xml, "latin1")
              : Buffer.from(`\ufeff${xml}`, "utf16le");
        if (h.encoding === "utf-16be") bytes.swap16();
        const result = readEInvoice(decodeXml(bytes)!);
        if (!result.ok) throw new Error(JSON.stringify(result.problems));
        const e = result.value;
        expect({
          number: e.number,
          seller: e.seller.name,
          note: e.note,
          lines: e.lines.map(({ description, net, quantity, percent }) => ({
            description,
            net,
            quantity,
            percent,
          })),
        }).toEqual(m);
      }),
      { numRuns: 300 },
    );
  });

  test("a changed byte of an e-invoice is read or refused, and never thrown on", () => {
    const xml = Buffer.from(
      `<?xml version="1.0"?><Invoice><ID>A</ID><IssueDate>2026-10-06</IssueDate><DocumentCurrencyCode>EUR</DocumentCurrencyCode><InvoiceLine><LineExtensionAmount currencyID="EUR">1.00</LineExtensionAmount><Item><Name>x &amp; y</Name></Item></InvoiceLine></Invoice>`,
    );
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(xml.length - 1), fc.nat(255)), { minLength: 1, maxLength: 4 }),
        (changes) => {
          const bytes = Buffer.from(xml);
          for (const [at, byte] of changes) bytes[at] = byte;
          const text = decodeXml(bytes);
          const result = text === null ? null : readEInvoice(text);
          if (result && !result.ok) expect(result.problems[0]).toMatchObject({ code: "INVALID" });
        },
      ),
      { numRuns: 2000 },
    );
  });
});

test("what is no table is said to be what it is, and a table that begins like it is read", async () => {
  const said = async (name: string, text: string) => {
    const result = await readTable(name, new TextEncoder().encode(text));
    return result.ok ? result.value : JSON.stringify(result.problems);
  };
  const order = `<Order xmlns="urn:oasis:names:specification:ubl:schema:xsd:Order-2">\n<ID>1</ID></Order>`;
  expect(await said("order.csv", `\ufeff<?xml version="1.0"?>\n${order}`)).toContain("is XML");
  expect(await said("order.csv", order)).toContain("is XML");
  expect(await said("order.xml", "a,b\n1,2")).toContain("is XML");
  expect(await said("page.csv", "<!DOCTYPE html>\n<p>No access</p>")).toContain("a web page");
  expect(await said("paper.csv", "%PDF-1.7\n1 0 obj")).toContain("a PDF");
  expect(await said("a.csv", "<Account>,<Net>\n4130,5.00")).toEqual([
    { "<account>": "4130", "<net>": "5.00" },
  ]);
});
