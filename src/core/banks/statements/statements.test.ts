import fc from "fast-check";
import { readInformation } from "./information";
import { describe, expect, test } from "vitest";
import { readCamt } from "./camt";
import { readMt940 } from "./mt940";
import { NO_KEYS, NO_PARTY, type BankStatement } from "./statement";
import { writeCamt053 } from "./writeCamt053";
import { writeMt940 } from "./writeMt940";
import { ACCOUNT as IBAN, statement } from "../../../../tests/someStatements";

/** A statement without its places in a file. */
const said = (s: BankStatement) => ({
  ...s,
  from: 0,
  lines: s.lines.map((l) => ({ ...l, from: 0, to: 0 })),
});
const readOf = (read: ReturnType<typeof readMt940>) => {
  if ("faults" in read) throw new Error(JSON.stringify(read.faults));
  return read.statements.map(said);
};

describe("statements as banks write them", () => {
  test("camt.053: what is written is what is read, across a year's end, with no, two and three decimals", () => {
    fc.assert(
      fc.property(fc.array(statement, { minLength: 1, maxLength: 3 }), (of) => {
        const xml = writeCamt053("M20261231", "2027-01-03T05:00:00Z", of);
        expect(readOf(readCamt(xml))).toEqual(of.map(said));
      }),
    );
  });

  test("MT940: the same, whatever ends its lines", () => {
    fc.assert(
      fc.property(
        fc.array(statement, { minLength: 1, maxLength: 3 }),
        fc.constantFrom("\r\n", "\n", "\r"),
        (of, end) => {
          const text = writeMt940("M20261231", of).replaceAll("\r\n", end);
          const numbered = readOf(readMt940(text));
          expect(numbered).toEqual(of.map(said));
        },
      ),
    );
  });

  test("MT940: a word that looks like a creditor reference and has other check digits is text", () => {
    const referenceOf = (remittance: string) =>
      readInformation(`/REMI/${remittance}`, {
        code: "NTRF",
        party: { name: "", account: "", bic: "" },
        keys: { endToEnd: "", creditorReference: "", mandate: "", cheque: "", bank: "" },
        text: "",
        returnReason: "",
      }).keys.creditorReference;
    expect(referenceOf("Rf00A")).toBe("");
    expect(referenceOf("RF00A and RF18539007547034")).toBe("RF18539007547034");
  });
});

describe("MT940, as different banks write it", () => {
  const page = (opening: string, closing: string, body: string, number = "211/1") =>
    `:20:STMT\n:25:50010517/5407324931\n:28C:${number}\n:60${opening}\n${body}\n:62${closing}\n-\n`;

  test("field 86 in subfields: account, name, references and purpose cut anywhere", () => {
    const [s] = readOf(
      readMt940(
        page(
          "F:C261102EUR1000,00",
          "F:C261103EUR1180,00",
          ":61:2611031103CR180,00N051NONREF//B26-77\n" +
            ":86:166?00GUTSCHRIFT?20EREF+NOTPROVIDED?21SVWZ+Rechn. HSF-26-R003?2298 danke?30OSTRDEFF?31DE44500105175407324931?32Sabel Tou?33rs GmbH?34000",
        ).replace("CR180", "C180"),
      ),
    );
    expect(s!.lines[0]).toMatchObject({
      amount: 18000n,
      code: "N051/166",
      party: { name: "Sabel Tours GmbH", account: IBAN, bic: "OSTRDEFF" },
      text: "GUTSCHRIFT Rechn. HSF-26-R00398 danke",
      keys: { endToEnd: "", bank: "B26-77" },
    });
  });

  test("pages are one statement, and a missing page is said", () => {
    const first = page("F:C261102EUR10,00", "M:C261103EUR15,00", ":61:261103C5,00NTRFA");
    const second = page("M:C261103EUR15,00", "F:C261103EUR12,50", ":61:261103D2,50NTRFB", "211/2");
    const [s, ...more] = readOf(readMt940(first + second));
    expect(more).toEqual([]);
    expect(s!.lines.map((l) => l.amount)).toEqual([500n, -250n]);
    expect(readMt940(first)).toEqual({
      faults: [{ line: 1, what: "Statement 211 has no last page (:62F:)" }],
    });
    expect(readMt940(second)).toMatchObject({ faults: [{ line: 1 }] });
  });

  test("a statement whose lines do not lead to its closing balance is refused, with the figures", () => {
    const file = page("F:C261102EUR10,00", "F:C261103EUR15,01", ":61:261103C5,00NTRFA");
    expect(readMt940(file)).toEqual({
      faults: [
        {
          line: 1,
          what:
            "Statement 211: opening 10.00 EUR and lines of 5.00 EUR come to 15.00 EUR, " +
            "but it closes with 15.01 EUR",
        },
      ],
    });
  });

  test.each([
    [":61:261131C5,00NTRFA", "There is no day 261131"],
    [":61:261103C5,005NTRFA", "“5,005” is no amount in EUR"],
    [":61:261103X5,00NTRFA", "“261103X5,00NTRFA” is no line of a statement"],
    [":99:strange", "Field :99: is not known in a statement"],
  ])("%s: %s", (body, what) => {
    expect(readMt940(page("F:C261102EUR10,00", "F:C261103EUR15,00", body))).toEqual({
      faults: [{ line: 5, what }],
    });
  });

  test("what takes a credit back is a debit", () => {
    const body = ":61:261103RC5,00NTRFA";
    const [s] = readOf(readMt940(page("F:C261102EUR10,00", "F:C261103EUR5,00", body)));
    expect(s!.lines[0]).toMatchObject({ amount: -500n, takesBack: true });
  });
});

describe("camt.053, as different banks write it", () => {
  const entry = (extra: string, amount = "5.00", side = "CRDT") =>
    `<Ntry><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts>BOOK</Sts>
     <BookgDt><Dt>2026-11-03</Dt></BookgDt><ValDt><DtTm>2026-11-03T10:00:00</DtTm></ValDt>${extra}</Ntry>`;
  const file = (entries: string, closing = "15.00", version = "02", before = "") =>
    `<?xml version="1.0"?>${before}<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.${version}"><BkToCstmrStmt>
     <GrpHdr><MsgId>M1</MsgId></GrpHdr><Stmt><Id>S1</Id><ElctrncSeqNb>211</ElctrncSeqNb>
     <Acct><Id><IBAN>${IBAN}</IBAN></Id><Ccy>EUR</Ccy></Acct>
     <Bal><Tp><CdOrPrtry><Cd>PRCD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">10.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-02</Dt></Dt></Bal>
     <Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">${closing}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-03</Dt></Dt></Bal>
     ${entries}</Stmt></BkToCstmrStmt></Document>`;

  test("version 02: parties, references, and the code of the movement", () => {
    const [s] = readOf(
      readCamt(
        file(
          entry(`<BkTxCd><Domn><Cd>PMNT</Cd><Fmly><Cd>RCDT</Cd><SubFmlyCd>ESCT</SubFmlyCd></Fmly></Domn></BkTxCd>
          <NtryDtls><TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs>
          <RltdPties><Dbtr><Nm>Fennick Freight</Nm></Dbtr><DbtrAcct><Id><IBAN>${IBAN}</IBAN></Id></DbtrAcct></RltdPties>
          <RmtInf><Ustrd>INV 26-R00417</Ustrd><Ustrd>LESS 2PC</Ustrd></RmtInf></TxDtls></NtryDtls>`),
        ),
      ),
    );
    expect(s).toMatchObject({ number: "211", account: IBAN, opening: { amount: 1000n } });
    expect(s!.lines[0]).toMatchObject({
      code: "PMNT-RCDT-ESCT",
      party: { name: "Fennick Freight", account: IBAN },
      keys: { endToEnd: "" },
      text: "INV 26-R00417 LESS 2PC",
      details: [],
    });
  });

  test("a batch keeps its parts, and is refused where they are not the batch", () => {
    const part = (amount: string) =>
      `<TxDtls><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd></TxDtls>`;
    const batch = (...amounts: string[]) =>
      file(entry(`<NtryDtls>${amounts.map(part).join("")}</NtryDtls>`));
    const [s] = readOf(readCamt(batch("2.00", "3.00")));
    expect(s!.lines[0]!.details.map((d) => d.amount)).toEqual([200n, 300n]);
    expect(readCamt(batch("2.00", "3.01"))).toMatchObject({
      faults: [{ what: "Its 2 parts come to 5.01 EUR, the line to 5.00 EUR" }],
    });
  });

  test("a notice beside the statements (camt.054) is none, and names the parts of a batch", () => {
    const part = `<TxDtls><Amt Ccy="EUR">2.50</Amt><CdtDbtInd>CRDT</CdtDbtInd></TxDtls>`;
    const notice = (entries: string) =>
      file(entries)
        .replace("camt.053", "camt.054")
        .replaceAll("BkToCstmrStmt", "BkToCstmrDbtCdtNtfctn")
        .replaceAll("Stmt>", "Ntfctn>");
    const read = readCamt(notice(entry(`<NtryDtls>${part}${part}</NtryDtls>`)));
    expect(read).toMatchObject({
      statements: [],
      notices: [{ account: IBAN, currency: "EUR", lines: [{ amount: 500n }] }],
    });
    expect(readCamt(notice(entry(`<NtryDtls>${part}${part}${part}</NtryDtls>`)))).toMatchObject({
      faults: [{ what: "Its 3 parts come to 7.50 EUR, the line to 5.00 EUR" }],
    });
  });

  test("what is only pending is left out", () => {
    const pending = entry("").replace("BOOK", "PDNG");
    expect(readOf(readCamt(file(pending + entry(""))))[0]!.lines.length).toBe(1);
  });

  test.each([
    [
      "a document type",
      file(entry(""), "15.00", "08", "<!DOCTYPE a [<!ENTITY b 'c'>]>"),
      /document type/,
    ],
    ["another message", file(entry("")).replace("camt.053", "pain.001"), /pain.001.001.02/],
    ["a version that is not known", file(entry(""), "15.00", "14"), /camt.053.001.14/],
    ["an amount with a comma", file(entry("", "5,00")), /no amount in EUR/],
    [
      "another currency",
      file(entry("").replace('Ccy="EUR"', 'Ccy="USD"')),
      /USD on a statement in EUR/,
    ],
    ["a cut file", file(entry("")).slice(0, -30), /no whole XML/],
    ["no side", file(entry("", "5.00", "")), /neither CRDT nor DBIT/],
    ["sums that do not lead to the closing balance", file(entry(""), "15.01"), /closes with 15.01/],
  ])("refused: %s", (_name, xml, what) => {
    const read = readCamt(xml);
    expect("faults" in read && read.faults[0]!.what).toMatch(what);
  });

  test("nothing is a line of nothing: no party, no keys", () => {
    const [s] = readOf(readCamt(file(entry(""))));
    expect(s!.lines[0]).toMatchObject({ party: NO_PARTY, keys: NO_KEYS, text: "" });
  });
});
