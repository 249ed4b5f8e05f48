import { number, object, string, type InferType } from "yup";
import { textRecord } from "../shared";

const CASH_SIDES = ["in", "out"] as const;

/** What a cash entry is: by a kind of movement, by a coding, or money to or from a bank account. */
const CASH_USES = ["kind", "coding", "bank"] as const;

/** An entry of a cash book, as written. */
export const cashEntrySchema = object({
  company: string().required(),
  bank: string().required("Choose a cash box"),
  date: string().required("The day is missing"),
  side: string()
    .oneOf([...CASH_SIDES])
    .required("Say whether it was put in or taken out"),
  /** As typed, without sign. */
  amount: string().trim().required("Type the amount"),
  text: string().trim().required("Say what it was for").max(200),
  /** Who got it or gave it. */
  payee: string().trim().max(140).default(""),
  is: string()
    .oneOf([...CASH_USES])
    .required(),
  kind: string().trim().max(20).default(""),
  account: string().trim().max(20).default(""),
  dimensions: textRecord(),
  tax: string().trim().uppercase().max(20).default(""),
  shares: string().trim().uppercase().max(20).default(""),
  /** The bank account that it goes to or comes from. */
  other: number().integer().nullable().default(null),
});
export type CashEntryInput = InferType<typeof cashEntrySchema>;
