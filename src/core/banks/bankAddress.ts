import { electronicFormatIBAN, isValidBIC, isValidIBAN } from "ibantools";
import { banksIn, isSepaCountry } from "./countries";
import { routingOf, routingProblem } from "./routing";

/**
 * Where money goes to or comes from: an IBAN with the bank's BIC where it is known; or, where the
 * country has no IBAN, the account's number with the bank's BIC or its routing code at home.
 */
export interface BankAddress {
  iban: string;
  bic: string;
  number: string;
  routing: string;
  /** ISO 3166, of the bank; of an IBAN its first two letters. */
  country: string;
}
export const NO_BANK_ADDRESS: BankAddress = {
  iban: "",
  bic: "",
  number: "",
  routing: "",
  country: "",
};

/**
 * An IBAN as it is kept: without spaces, in capitals; null where its form or its check digits are
 * wrong (ISO 13616).
 */
export function readIban(text: string): string | null {
  const plain = electronicFormatIBAN(text);
  return plain && isValidIBAN(plain) ? plain : null;
}

/** An IBAN for people, in groups of four. */
export const ibanText = (iban: string): string => iban.replace(/(.{4})(?=.)/g, "$1 ");

/**
 * Whether a bank's code has its form (ISO 9362), and its country keeps accounts with the IBAN's: its
 * own, or those of the state that it belongs to.
 */
export const bicFits = (bic: string, iban: string): boolean =>
  bic === "" ||
  (isValidBIC(bic.toUpperCase()) && banksIn(bic.slice(4, 6).toUpperCase(), iban.slice(0, 2)));

/** Whether a transfer goes under the rules of SEPA: euro between accounts of its countries. */
export const isSepaTransfer = (
  currency: string,
  from: Pick<BankAddress, "iban">,
  to: Pick<BankAddress, "iban">,
): boolean => currency === "EUR" && [from, to].every(({ iban }) => isSepaCountry(iban.slice(0, 2)));

/** What tells one account from all others; empty where nothing is known. */
export const bankAddressKey = (a: BankAddress): string =>
  a.iban || (a.number && [a.country, a.routing || a.bic, a.number].join(" "));

/** An account for people: the IBAN in groups, or the number with its bank. */
export const bankAddressText = (a: BankAddress): string =>
  a.iban
    ? ibanText(a.iban)
    : a.number && `${a.number} at ${[a.routing || a.bic, a.country].filter(Boolean).join(", ")}`;

export interface AddressProblem {
  field: keyof BankAddress;
  what: string;
}

/**
 * An account as a person wrote it. Spaces and dashes are no part of numbers. Each problem names its
 * field. Where nothing at all is written, the address is empty: whether one is needed, the caller
 * says.
 */
export function readBankAddress(
  written: BankAddress,
): { ok: true; address: BankAddress } | { ok: false; problems: AddressProblem[] } {
  const bic = written.bic.replace(/\s/g, "").toUpperCase();
  const number = written.number.replace(/[\s-]/g, "").toUpperCase();
  const routing = written.routing.replace(/[\s-]/g, "").toUpperCase();
  const problems: AddressProblem[] = [];
  const bad = (field: keyof BankAddress, what: string) => problems.push({ field, what });
  const done = (address: BankAddress) =>
    problems.length > 0 ? { ok: false as const, problems } : { ok: true as const, address };
  if (written.iban.trim() !== "") {
    const iban = readIban(written.iban);
    if (iban === null)
      bad("iban", `“${written.iban}” is no IBAN: its form or its check digits are wrong`);
    else if (!bicFits(bic, iban))
      bad("bic", `“${written.bic}” is no BIC of a bank in ${iban.slice(0, 2)}`);
    if (number !== "" && !iban?.includes(number))
      bad("number", "An IBAN holds the account's number: give one of the two");
    return done({
      iban: iban ?? "",
      bic,
      number: "",
      routing: "",
      country: iban?.slice(0, 2) ?? "",
    });
  }
  const country = written.country.trim().toUpperCase();
  if (number === "") {
    if (routing !== "") bad("number", "The number of the account is missing");
    if (bic !== "" && !isValidBIC(bic)) bad("bic", `“${written.bic}” has not the form of a BIC`);
    return done({ ...NO_BANK_ADDRESS, bic });
  }
  if (!/^[A-Z0-9]{1,34}$/.test(number))
    bad("number", "The number of an account has up to 34 letters and figures");
  if (!/^[A-Z]{2}$/.test(country))
    bad("country", "The country of the bank is missing: two letters, like US");
  else if (isSepaCountry(country) && !routingOf(country))
    bad("iban", `Accounts in ${country} have an IBAN`);
  if (bic !== "" && !isValidBIC(bic)) bad("bic", `“${written.bic}” has not the form of a BIC`);
  else if (bic !== "" && !banksIn(bic.slice(4, 6), country))
    bad("bic", `“${written.bic}” is no BIC of a bank in ${country}`);
  if (routing === "" && bic === "")
    bad("routing", "Without an IBAN, a BIC or routing code is needed");
  const fault = routing === "" ? null : routingProblem(routing, country);
  if (fault) bad("routing", fault);
  return done({ iban: "", bic, number, routing, country });
}
