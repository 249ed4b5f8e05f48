import { describe, expect, test } from "vitest";
import { isLei } from "../shared";
import {
  bankAddressKey,
  bankAddressText,
  bankHoliday,
  bicFits,
  easterSunday,
  ibanText,
  NO_BANK_ADDRESS,
  nextBankDay,
  readBankAddress,
  readIban,
  type BankAddress,
} from "./index";

describe("accounts at banks", () => {
  test.each([
    [
      "the example of ISO 13616, with spaces and small letters",
      "gb29 nwbk 6016 1331 9268 19",
      "GB29NWBK60161331926819",
    ],
    ["wrong check digits", "GB28 NWBK 6016 1331 9268 19", null],
    ["too short for its country", "DE89 3704 0044 0532 0130", null],
    ["no account at all", "cash", null],
  ])("IBAN: %s", (_what, text, expected) => expect(readIban(text)).toBe(expected));
  test("an IBAN is shown in groups of four", () =>
    expect(ibanText("DE89370400440532013000")).toBe("DE89 3704 0044 0532 0130 00"));
  test.each([
    ["", true],
    ["COBADEFF", true],
    ["COBADEFFXXX", true],
    ["COBAFRPP", false],
    ["COBADE", false],
  ])("BIC %s", (bic, fits) => expect(bicFits(bic, "DE89370400440532013000")).toBe(fits));
  const read = (written: Partial<BankAddress>) => {
    const result = readBankAddress({ ...NO_BANK_ADDRESS, ...written });
    return result.ok ? bankAddressKey(result.address) : result.problems.map((p) => p.field).join();
  };
  test.each<[string, Partial<BankAddress>, string]>([
    ["an IBAN", { iban: "gb29 nwbk 6016 1331 9268 19" }, "GB29NWBK60161331926819"],
    ["nothing yet", {}, ""],
    [
      "a number with a routing code",
      { number: "12-345 678", routing: "021000021", country: "us" },
      "US 021000021 12345678",
    ],
    [
      "a check digit of the routing code that is wrong",
      { number: "12345678", routing: "021000022", country: "US" },
      "routing",
    ],
    [
      "a number with a BIC alone",
      { number: "0012345", bic: "KHBKKRSE", country: "KR" },
      "KR KHBKKRSE 0012345",
    ],
    ["a BIC of another country", { number: "0012345", bic: "COBADEFF", country: "KR" }, "bic"],
    [
      "a number of a country that has IBANs",
      { number: "123", bic: "COBADEFF", country: "DE" },
      "iban",
    ],
    ["a number of nowhere", { number: "123", bic: "KHBKKRSE" }, "country,bic"],
    ["neither BIC nor routing code", { number: "123", country: "US" }, "routing"],
    ["a routing code alone", { routing: "021000021", country: "US" }, "number"],
    [
      "a sort code",
      { number: "31926819", routing: "60-16-13", country: "GB" },
      "GB 601613 31926819",
    ],
  ])("%s", (_what, written, expected) => expect(read(written)).toBe(expected));
  test("an account without an IBAN is shown with its bank", () =>
    expect(
      bankAddressText({
        iban: "",
        bic: "",
        number: "12345678",
        routing: "021000021",
        country: "US",
      }),
    ).toBe("12345678 at 021000021, US"));
  test("legal entity identifiers are known by their check digits (ISO 17442)", () =>
    expect(
      ["5493001KJTIIGC8Y1R12", "5493001KJTIIGC8Y1R21", "5493001KJTIIGC8Y1R1"].map(isLei),
    ).toEqual([true, false, false]));
});

describe("days on which banks pay", () => {
  test("Easter (dates as published)", () =>
    expect([2000, 2016, 2024, 2025, 2026, 2038].map(easterSunday)).toEqual([
      "2000-04-23",
      "2016-03-27",
      "2024-03-31",
      "2025-04-20",
      "2026-04-05",
      "2038-04-25",
    ]));
  test.each([
    ["2026-04-03", "EUR", "2026-04-07"],
    ["2026-04-03", "USD", "2026-04-03"],
    ["2026-12-24", "EUR", "2026-12-24"],
    ["2026-12-25", "EUR", "2026-12-28"],
    ["2027-01-01", "EUR", "2027-01-04"],
    ["2026-11-07", "GBP", "2026-11-09"],
  ])("%s in %s: %s", (day, currency, next) => expect(nextBankDay(day, currency)).toBe(next));
  test("a bank's own holidays count for it, in any currency", () => {
    const own = ["2026-11-09", "2026-11-10"];
    expect(nextBankDay("2026-11-07", "GBP", own)).toBe("2026-11-11");
    expect(bankHoliday("2026-11-10", "USD", own)).toBe("a holiday of the bank");
  });
  test("the reason is said", () =>
    expect([bankHoliday("2026-05-01", "EUR"), bankHoliday("2026-11-07", "EUR")]).toEqual([
      "Labour Day",
      "a Saturday",
    ]));
});
