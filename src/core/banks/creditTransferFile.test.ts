import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { faultsOfTransferFile } from "../../../tests/strictBankFile";
import { NO_BANK_ADDRESS, type BankAddress } from "./index";
import { minor } from "../shared";
import { bankText, isCreditorReference, remittanceText } from "./bankText";
import { transferRemarks, type TransferToLookAt } from "./transferRemarks";
import { creditTransferFile, type Transfer } from "./creditTransferFile";

const party = (name: string) => ({
  name,
  street: "3 Quay Ström",
  postcode: "1000",
  city: "Ostry",
  country: "IE",
});
const at = (address: Partial<BankAddress>): BankAddress => ({ ...NO_BANK_ADDRESS, ...address });
const file = (transfers: Transfer[]) =>
  creditTransferFile({
    messageId: "HSF-26-R0012",
    createdAt: "2026-11-05T09:30:00.000Z",
    date: "2026-11-06",
    debtor: party("Hollin Sound Ferries"),
    from: at({ iban: "DE75512108001245126199" }),
    transfers,
  });
const transfer = (n: number, more: Partial<Transfer> = {}): Transfer => ({
  endToEndId: `HSF-26-Z0000${n}`,
  amount: minor(123_456n),
  currency: "EUR",
  creditor: party("Tarn Rope & Chain"),
  to: at({ iban: "DE75512108001245126199" }),
  purpose: "SUPP",
  references: ["TR-4471"],
  ...more,
});

describe("creditTransferFile (ISO 20022 pain.001.001.09)", () => {
  test("keeps the order, the types and the sums of the message definition, in a block for each currency", () => {
    const xml = file([
      transfer(1),
      transfer(2, {
        amount: minor(1n),
        to: at({ iban: "DE75512108001245126199", bic: "COBADEFFXXX" }),
      }),
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
      transfer(3, { to: at({ iban: "SA0380000000608010167519" }) }),
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
  test("accounts without an IBAN go by number, with the bank's routing code or its BIC, and never under SEPA", () => {
    const xml = file([
      transfer(1, {
        currency: "USD",
        to: at({ number: "12345678", routing: "021000021", country: "US" }),
        creditor: { ...party("Kestle Cranes"), country: "US", lei: "5493001KJTIIGC8Y1R12" },
      }),
      transfer(2, { to: at({ number: "0012345", bic: "KHBKKRSE", country: "KR" }) }),
    ]);
    expect(faultsOfTransferFile(xml)).toEqual([]);
    expect(xml).not.toContain("<Cd>SEPA</Cd>");
    expect(xml).toMatch(/<Cd>USABA<\/Cd>\s*<\/ClrSysId>\s*<MmbId>021000021<\/MmbId>/);
    expect(xml).toMatch(/<CdtrAcct>\s*<Id>\s*<Othr>\s*<Id>12345678<\/Id>/);
    expect(xml).toContain("<LEI>5493001KJTIIGC8Y1R12</LEI>");
  });
  test("who looks at transfers reads what changes on the way to the bank", () => {
    const look = (more: Partial<TransferToLookAt>): TransferToLookAt => ({
      ...at({ iban: "DE75512108001245126199", country: "DE" }),
      payee: "Tarn Rope & Chain",
      holder: "",
      currency: "EUR",
      town: "Ostry",
      references: [],
      ...more,
    });
    const from = at({ iban: "DE75512108001245126199" });
    expect(transferRemarks([look({})], "2026-11-06", from)).toEqual({ warnings: [], blocks: [] });
    const { warnings, blocks } = transferRemarks(
      [
        look({ payee: "Đorđević" }),
        look({ payee: "A".repeat(71) }),
        look({ payee: "船" }),
        look({ payee: "船", holder: "Fune KK" }),
        look({ ...at({ number: "1", bic: "KHBKKRSE", country: "KR" }), payee: "Han", town: "" }),
        look({ references: ["RF19539007547034", "RF18539007547034"] }),
      ],
      "2026-11-07",
      from,
    );
    expect(warnings).toEqual([
      `Written in the letters of banks: “Đorđević” as “Dordevic”, “${"A".repeat(71)}” as “${"A".repeat(70)}”.`,
      "Han has no town in its address; banks abroad ask for one.",
      "“RF19539007547034” of Tarn Rope & Chain looks like a creditor reference, but its check digits are wrong: it goes as text.",
      "7 Nov 2026 is a Saturday: banks pay EUR on 9 Nov 2026.",
    ]);
    expect(blocks).toHaveLength(1);
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
