import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { faultsOfTransferFile } from "../../../tests/strictTransferFile";
import { minor } from "../shared";
import { bankText, isCreditorReference, remittanceText } from "./bankText";
import { creditTransferFile, type Transfer } from "./creditTransferFile";

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
  references: ["TR-4471"],
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
        file([transfer(1, { creditor: party("R&D <Ropes>"), references: ["//a//"] })]),
      ),
    ).toEqual([]);
  });

  test.each([
    ["Ελληνική Εταιρεία Α.Ε.", "Elliniki Etaireia A.E."],
    ["Москва", "Moskva"],
    ["Đorđević", "Dordevic"],
    ["œuvre", "oeuvre"],
    ["Işık", "Isik"],
    ["Größe & Søn", "Grosse + Son"],
    ["Ωmega Ąę Żółć", "Omega Ae Zolc"],
    ["船", "."],
  ])("%s is written %s (EPC 217-08)", (name, written) => expect(bankText(name, 70)).toBe(written));
  test("no element is empty, names of SEPA have 70 characters, and only accounts of its countries go under it", () => {
    const strange = { name: "/", street: "//", postcode: "/", city: " ", country: "" };
    const xml = file([
      transfer(1, { creditor: strange, references: ["/"] }),
      transfer(2, { creditor: party("A".repeat(110)), owed: "Fornitore Ceduto Srl" }),
      transfer(3, { iban: "SA0380000000608010167519" }),
      transfer(4, { references: ["RF18539007547034"] }),
    ]);
    expect(faultsOfTransferFile(xml)).toEqual([]);
    expect(xml).not.toMatch(/<(\w+)><\/\1>/);
    expect(xml).toContain(`<Nm>${"A".repeat(70)}</Nm>`);
    expect(xml).toMatch(/<UltmtCdtr>\s*<Nm>Fornitore Ceduto Srl<\/Nm>/);
    expect(xml).toMatch(/<Cd>SCOR<\/Cd>[\s\S]*<Ref>RF18539007547034<\/Ref>/);
    expect(xml.match(/<PmtInf>/g)).toHaveLength(2);
    expect(xml.match(/<Cd>SEPA<\/Cd>/g)).toHaveLength(1);
  });
  test("a long list is cut between references, with a word; creditor references are known by their check digits (ISO 11649)", () => {
    const many = Array.from({ length: 40 }, (_, i) => `INV-2026-${1000 + i}`);
    const text = remittanceText(many);
    expect(text.length).toBeLessThanOrEqual(140);
    expect(text).toMatch(/^(INV-2026-\d{4} )+and more, see advice$/);
    expect(
      ["RF18539007547034", "RF18 5390 0754 7034", "RF19539007547034", "INV-1"].map(
        isCreditorReference,
      ),
    ).toEqual([true, true, false, false]);
  });
});
