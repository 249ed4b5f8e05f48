import { describe, expect, test } from "vitest";
import { faultsOfDebitFile } from "../../../tests/strictBankFile";
import { minor } from "../shared";
import { directDebitFile, type DirectDebit } from "./directDebitFile";
import { NO_BANK_ADDRESS } from "./index";

const party = (name: string) => ({
  name,
  street: "3 Quay Ström",
  postcode: "1000",
  city: "Ostry",
  country: "IE",
});
const IBAN = "DE75512108001245126199";
const debit = (n: number, more: Partial<DirectDebit> = {}): DirectDebit => ({
  endToEndId: `HSF-26-C0000${n}`,
  amount: minor(123_456n),
  scheme: "core",
  sequence: "RCUR",
  mandate: { reference: "M-201/1", signed: "2026-01-10" },
  debtor: party("Tarn Rope & Chain"),
  from: { ...NO_BANK_ADDRESS, iban: IBAN },
  references: ["HSF-26-S00012"],
  ...more,
});
const file = (debits: DirectDebit[]) =>
  directDebitFile({
    messageId: "HSF-26-R0012",
    createdAt: "2026-11-05T09:30:00.000Z",
    date: "2026-11-20",
    creditor: party("Hollin Sound Ferries"),
    creditorId: "DE98ZZZ09999999999",
    to: { ...NO_BANK_ADDRESS, iban: IBAN, bic: "COBADEFFXXX" },
    debits,
  });

describe("directDebitFile (ISO 20022 pain.008.001.08)", () => {
  test("keeps the order, the types and the sums of the message definition, in a block for each scheme and sequence", () => {
    const xml = file([
      debit(1),
      debit(2, { amount: minor(1n), sequence: "FRST" }),
      debit(3, { scheme: "b2b" }),
      debit(4, { from: { ...NO_BANK_ADDRESS, iban: IBAN, bic: "COBADEFFXXX" } }),
    ]);
    expect(faultsOfDebitFile(xml)).toEqual([]);
    expect(xml).toContain('<InstdAmt Ccy="EUR">0.01</InstdAmt>');
    expect(
      [...xml.matchAll(/<LclInstrm>\s*<Cd>(\w+)<\/Cd>\s*<\/LclInstrm>\s*<SeqTp>(\w+)/g)].map(
        ([, scheme, sequence]) => `${scheme} ${sequence}`,
      ),
    ).toEqual(["B2B RCUR", "CORE FRST", "CORE RCUR"]);
  });
  test("names and references come out in letters that banks take", () => {
    expect(
      faultsOfDebitFile(file([debit(1, { debtor: party("Ł&ö <x>"), references: ["//a//"] })])),
    ).toEqual([]);
  });
  test("the check finds what is wrong", () => {
    const xml = file([debit(1)]);
    for (const [from, to] of [
      ["<NbOfTxs>1<", "<NbOfTxs>2<"],
      ["1234.56</CtrlSum>", "1234.57</CtrlSum>"],
      ["<SeqTp>RCUR</SeqTp>", ""],
      ["<MndtId>M-201/1</MndtId>", "<MndtId>M 201</MndtId>"],
      ["<ReqdColltnDt>2026-11-20", "<ReqdColltnDt>20 Nov"],
    ] as const)
      expect([from, faultsOfDebitFile(xml.replace(from, to)).length > 0]).toEqual([from, true]);
  });
});
