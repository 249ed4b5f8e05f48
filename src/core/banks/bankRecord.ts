import { isValidBIC } from "ibantools";
import { array, boolean, number, object, string, type InferType } from "yup";
import { isCalendarDate } from "../shared";

/** In which form statements of an account come: any that can be read, or one of them. */
export const STATEMENT_FORMATS = ["any", "camt", "mt940", "table"] as const;
export type StatementFormat = (typeof STATEMENT_FORMATS)[number];
export const STATEMENT_FORMAT_NAMES: Readonly<Record<StatementFormat, string>> = {
  any: "any that can be read",
  camt: "camt.053 (ISO 20022)",
  mt940: "MT940",
  table: "table (CSV, XLSX)",
};

/** Whether a file is in the form that an account wants: camt.053 is a camt, MT940 an mt940. */
export const isFormat = (wanted: StatementFormat, file: string): boolean =>
  wanted === "any" || file.toLowerCase().startsWith(wanted);

/** What accounts are for: how they are gathered, and whether a bank sends statements of them. */
export const ACCOUNT_KINDS = ["current", "deposit", "card", "cash", "clearing"] as const;
export type AccountKind = (typeof ACCOUNT_KINDS)[number];

/** Whether an account is kept at a bank: nothing is sent from a cash box, or deposited in it. */
export const isAtBank = (account: { kind: AccountKind }): boolean => account.kind !== "cash";

const OF_BANK = {
  name: string().trim().required("A name is needed").max(120),
  /** ISO 3166, two letters. */
  country: string()
    .trim()
    .uppercase()
    .required("The country is needed")
    .matches(/^[A-Z]{2}$/, "Two letters, like IE"),
  /** At home: sort code, bank code, routing code. */
  nationalCode: string()
    .trim()
    .transform((t: string) => t.replace(/[\s-]/g, "").toUpperCase())
    .matches(/^[A-Z0-9]{0,20}$/, "A bank's code has letters and figures")
    .default(""),
  bic: string()
    .trim()
    .uppercase()
    .default("")
    .test("bic", "This has not the form of a BIC", (t) => !t || isValidBIC(t)),
};

/** What has to be known of a bank to open an account there. */
export const newBankSchema = object(OF_BANK);

/** A bank, as written: once for all accounts that the group has there. */
export const bankRecordSchema = object({
  ...OF_BANK,
  id: number().integer(),
  version: number().integer(),
  address: string().trim().max(400).default(""),
  contact: string().trim().max(200).default(""),
  /** Time of the day until which it takes payments for the same day. */
  cutOff: string()
    .trim()
    .matches(/^([01]\d|2[0-3]):[0-5]\d$|^$/, "A time, like 14:30")
    .default(""),
  /** Days on which it pays nothing, beside weekends and the days of its currency. */
  holidays: array(
    string()
      .required()
      .test("date", "This is no day", (t) => isCalendarDate(t)),
  )
    .max(400)
    .default([]),
  /** Whether accounts that have what the bank had until now change with it. */
  withAccounts: boolean().default(true),
});
export type BankRecordInput = InferType<typeof bankRecordSchema>;
