import { composeIBAN } from "ibantools";

/**
 * Countries in whose IBAN the code of the bank and the number of the account stand one behind the
 * other and fill it (ISO 13616 registry): the length of each. Elsewhere check digits of the country
 * stand between them, which only the bank knows for sure.
 */
const PLAIN: Readonly<Record<string, readonly [bank: number, account: number]>> = {
  AT: [5, 11],
  CH: [5, 12],
  CY: [8, 16],
  CZ: [4, 16],
  DE: [8, 10],
  DK: [4, 10],
  GB: [10, 8],
  GI: [4, 15],
  GR: [7, 16],
  IE: [10, 8],
  LI: [5, 12],
  LT: [5, 11],
  LU: [3, 13],
  LV: [4, 13],
  MT: [9, 18],
  NL: [4, 10],
  RO: [4, 16],
  SK: [4, 16],
};

/** Countries whose IBAN begins with four letters of the bank's BIC, before its sort code if it has one. */
const BY_LETTERS: ReadonlySet<string> = new Set(["GB", "GI", "IE", "LV", "MT", "NL", "RO"]);

const plain = (text: string): string => text.replace(/[^A-Za-z0-9]/g, "").toUpperCase();

export interface IbanParts {
  /** ISO 3166, two letters. */
  country: string;
  /** The bank's code at home: sort code, bank code, clearing number. */
  bankCode: string;
  bic: string;
  /** The account's number at home; shorter ones are filled with noughts at the left. */
  number: string;
}

/**
 * The IBAN that a bank's code and an account's number make, with its check digits (ISO 7064, mod 97);
 * "" where the country does not build its IBAN of these two alone, where a part is missing, or where
 * one is longer than it can be.
 */
export function proposedIban(of: IbanParts): string {
  const lengths = PLAIN[of.country];
  const number = plain(of.number);
  if (!lengths || number === "") return "";
  const [bankLength, accountLength] = lengths;
  const code = plain(of.bankCode);
  const letters =
    BY_LETTERS.has(of.country) && !/^[A-Z]{4}/.test(code) ? plain(of.bic).slice(0, 4) : "";
  const bank = letters + code;
  if (bank.length !== bankLength || number.length > accountLength) return "";
  const bban = bank + number.padStart(accountLength, "0");
  return composeIBAN({ countryCode: of.country, bban }) ?? "";
}

/** What an IBAN needs of the bank and the account in a country, in words; "" where it is not built so. */
export function ibanPartsWords(country: string): string {
  const lengths = PLAIN[country];
  if (!lengths) return "";
  const bank = BY_LETTERS.has(country)
    ? lengths[0] > 4
      ? `the BIC and a bank code of ${lengths[0] - 4} figures`
      : "the BIC"
    : `a bank code of ${lengths[0]} figures`;
  return `Proposed from ${bank} and an account number of up to ${lengths[1]}`;
}
