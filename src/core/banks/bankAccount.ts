import { array, boolean, number, object, string, type InferType } from "yup";
import { textRecord } from "../shared";
import { UNDO_KINDS } from "./accountUse";
import { ACCOUNT_KINDS, newBankSchema, STATEMENT_FORMATS } from "./bankRecord";

/** A bank account of the group's own, as written. */
export const bankAccountSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(80),
  /** Current for a new one; as it was where nothing is said. */
  kind: string().oneOf(ACCOUNT_KINDS),
  /** The bank where it is kept, if it stands in the list; as it was where nothing is said. */
  bankId: number().integer().nullable(),
  /** A bank that is new and joins the list. */
  newBank: newBankSchema.nullable().default(null),
  /** Who holds it, where that is not the company. */
  holder: string().trim().max(120).default(""),
  /** The first day on which money moves there; "" for any. */
  openedOn: string().trim().nullable(),
  /** Who may sign for it at the bank, as people know them. */
  signatories: string().trim().max(400).default(""),
  /** The day from which on it is closed; "" or null while it is open; as it was if nothing is said. */
  closedOn: string().trim().nullable(),
  company: string().required("The company is missing"),
  currency: string().trim().uppercase().required("A currency is needed"),
  iban: string().trim().max(60).default(""),
  bic: string().trim().uppercase().max(11).default(""),
  /** Where there is no IBAN: number, routing code and country. */
  number: string().trim().max(40).default(""),
  routing: string().trim().max(20).default(""),
  country: string().trim().uppercase().max(2).default(""),
  bankName: string().trim().max(120).default(""),
  account: string().trim().required("The account in the ledger is missing"),
  /** Its name, where the ledger account is not in the chart yet and joins it. */
  newAccount: string().trim().max(80).default(""),
  underWayAccount: string().trim().required("The account of payments under way is missing"),
  /** How far it may be overdrawn, as an amount of its currency. */
  overdraft: string().trim().default("0"),
  /** By how much more than that before anything is said, as an amount of its currency. */
  tolerance: string().trim().default("0"),
  refuse: boolean().default(false),
  /** The largest single payment that leaves it; "" for any. */
  largestPayment: string().trim().nullable().default(""),
  lastCheque: number()
    .integer("A cheque number is a whole number")
    .min(0)
    .max(99_999_999)
    .default(0),
  chequeSort: string()
    .trim()
    .matches(/^\d{0,9}$/, "The sort code of a cheque has figures only")
    .default(""),
  chequeAccount: string()
    .trim()
    .matches(/^\d{0,12}$/, "The account of a cheque has figures only")
    .default(""),
  /** What of it is undone only once a second person has looked. */
  reviews: array(string().oneOf(UNDO_KINDS).required()).default([]),
  /** Whether what is certain of a file is posted when it comes in. */
  postsCertain: boolean().default(false),
  /** Values that what is coded of its lines has where nothing else is said, by dimension. */
  dimensions: textRecord(),
  /** In which form its statements come; a file of another form is refused. */
  statementFormat: string().oneOf(STATEMENT_FORMATS).default("any"),
  /** Whether statements of it may come by the folder of the server, or only by a person. */
  fromFolder: boolean().default(true),
  /** Whether the lines of a file are matched when it comes in. */
  matchesAtOnce: boolean().default(true),
});
export type BankAccountInput = InferType<typeof bankAccountSchema>;
