import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { faultsOfTransferFile } from "../../../tests/strictTransferFile";
import { minor } from "../shared";
import { bankText, creditTransferFile, type Transfer } from "./creditTransferFile";

const party = (name: string) => ({
  name,
  street: "3 Quay Ström",
  postcode: "1000",
  city: "Ostry",
  country: "IE",
});
const file = (transfers: Transfer[]) =>
  creditTransferFile({
    messageId: "HSF-26-R0012",
    createdAt: "2026-11-05T09:30:00.000Z",
    date: "2026-11-06",
    debtor: party("Hollin Sound Ferries"),
    iban: "DE75512108001245126199",
    bic: "",
    transfers,
  });
const transfer = (n: number, more: Partial<Transfer> = {}): Transfer => ({
  endToEndId: `HSF-26-Z0000${n}`,
  amount: minor(123_456n),
  currency: "EUR",
  creditor: party("Tarn Rope & Chain"),
  iban: "DE75512108001245126199",
  bic: "",
  purpose: "SUPP",
  remittance: "TR-4471",
  ...more,
});

describe("creditTransferFile (ISO 20022 pain.001.001.09)", () => {
  test("keeps the order, the types and the sums of the message definition, in a block for each currency", () => {
    const xml = file([
      transfer(1),
      transfer(2, { amount: minor(1n), bic: "COBADEFFXXX" }),
      transfer(3, { currency: "USD" }),
      transfer(4, { currency: "JPY", amount: minor(500n) }),
    ]);
    expect(faultsOfTransferFile(xml)).toEqual([]);
    expect(xml).toContain('<InstdAmt Ccy="EUR">1234.56</InstdAmt>');
    expect(xml).toContain('<InstdAmt Ccy="JPY">500</InstdAmt>');
    expect(xml.match(/<PmtInf>/g)).toHaveLength(3);
    expect(xml.match(/<Cd>SEPA<\/Cd>/g)).toHaveLength(1);
  });
  test("the check finds what is wrong", () => {
    const xml = file([transfer(1)]);
    for (const [from, to] of [
      ["<NbOfTxs>1<", "<NbOfTxs>2<"],
      ["1234.56</CtrlSum>", "1234.57</CtrlSum>"],
      ["DE7551", "DE7651"],
      ["<PmtMtd>TRF</PmtMtd>", ""],
      ["<Nm>Tarn", "<Nm>Ta<x/>rn"],
      ["TR-4471", "TR{4471"],
    ] as const)
      expect([from, faultsOfTransferFile(xml.replace(from, to)).length > 0]).toEqual([from, true]);
  });
  test("any names and references come out in letters that banks take", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", minLength: 1, maxLength: 300 }), (name) => {
        expect(bankText(name, 140)).toMatch(
          /^([A-Za-z0-9\-?:().,'+]([A-Za-z0-9/\-?:().,'+ ]{0,138}[A-Za-z0-9\-?:().,'+])?)?$/,
        );
      }),
    );
    expect(bankText("Größe & Søn//Łódź", 140)).toBe("Grosse + Son/Lodz");
    expect(
      faultsOfTransferFile(
        file([transfer(1, { creditor: party("R&D <Ropes>"), remittance: "//a//" })]),
      ),
    ).toEqual([]);
  });
});
