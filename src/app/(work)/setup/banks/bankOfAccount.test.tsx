import { expect, test } from "vitest";
import type { BankRecord } from "@/server/banks";
import { followsFromBank, inputOf, NEW_BANK } from "./bankOfAccount";

const bank = (id: number, more: Partial<BankRecord>): BankRecord => ({
  id,
  name: `Bank ${id}`,
  country: "DE",
  nationalCode: "37040044",
  bic: "ZZZZDE2D",
  address: "",
  contact: "",
  cutOff: "",
  holidays: [],
  accounts: 0,
  version: 1,
  ...more,
});
const banks = [bank(1, {}), bank(2, { country: "US", nationalCode: "999999992", bic: "ZZZZUS33" })];
const derive = followsFromBank(banks);
const empty = {
  bankId: "1",
  number: "",
  iban: "",
  bic: "",
  bankName: "",
  country: "",
  routing: "",
};
const typed = (before: Record<string, string>, changed: Record<string, string>) => {
  const [key] = Object.keys(changed);
  const now = { ...before, ...changed };
  return { ...now, ...derive(now, key!, before) } as Record<string, string>;
};

test("the IBAN follows the number and the bank until somebody has written another", () => {
  const first = typed(empty, { number: "532013000" });
  expect(first.iban).toBe("DE89 3704 0044 0532 0130 00");
  const second = typed(first, { number: "532013001" });
  expect(second.iban).toBe("DE62 3704 0044 0532 0130 01");
  const own = typed(second, { iban: "IE04 ZZZZ 9999 9950 0000 01" });
  expect(typed(own, { number: "532013002" }).iban).toBe("IE04 ZZZZ 9999 9950 0000 01");
});

test("usual values of its lines go by the code of their dimension", () => {
  const input = inputOf({ ...empty, "dimensions.costCentre": "HARB" });
  expect(input).toMatchObject({ bankId: 1, dimensions: { costCentre: "HARB" } });
  expect(input).not.toHaveProperty(["dimensions.costCentre"]);
});

test("another bank brings what it says of itself; where there is no IBAN, its routing code", () => {
  const german = typed(empty, { number: "532013000" });
  expect(typed(german, { bankId: "2" })).toMatchObject({
    bankName: "Bank 2",
    bic: "ZZZZUS33",
    country: "US",
    routing: "999999992",
    iban: "",
  });
});

test("a new bank joins the list with the account", () => {
  const at = { ...empty, bankId: NEW_BANK, "newBank.nationalCode": "37040044", "newBank.bic": "" };
  const written = typed(
    { ...at, "newBank.name": "Quay Bank", "newBank.country": "de" },
    { number: "532013000" },
  );
  expect(written.iban).toBe("DE89 3704 0044 0532 0130 00");
  expect(inputOf(written)).toMatchObject({
    newBank: { name: "Quay Bank", country: "de", nationalCode: "37040044" },
    bankName: "Quay Bank",
    iban: written.iban,
    routing: "",
  });
  expect(inputOf({ ...empty, bankId: "2" })).toMatchObject({ bankId: 2 });
});
