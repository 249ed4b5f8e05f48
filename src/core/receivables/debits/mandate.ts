import { number, object, string, type InferType } from "yup";
import { addDays, addMonths, dateText, dayField, type CalendarDate } from "../../shared";

/** The scheme that a mandate is given under (EPC 016-06, EPC 222-07). */
export const DEBIT_SCHEMES = ["core", "b2b"] as const;
export type DebitScheme = (typeof DEBIT_SCHEMES)[number];
export const DEBIT_SCHEME_NAMES: Readonly<Record<DebitScheme, string>> = {
  core: "Core: can be claimed back for eight weeks",
  b2b: "Between businesses: cannot be claimed back",
};

/** For how many direct debits a mandate is good. */
export const MANDATE_KINDS = ["recurrent", "one-off"] as const;
export type MandateKind = (typeof MANDATE_KINDS)[number];

/** How a direct debit stands in the sequence of its mandate (ISO 20022 SequenceType3Code). */
export const DEBIT_SEQUENCES = ["FRST", "RCUR", "OOFF"] as const;
export type DebitSequence = (typeof DEBIT_SEQUENCES)[number];

/** Days before which a customer is told, where nothing else was agreed (EPC 016-06, 4.3.1). */
export const USUAL_NOTICE = 14;
/** A mandate that is not used for so many months has lost its force (EPC 016-06, 4.1). */
const UNUSED_MONTHS = 36;

/** A mandate as it is entered from what the customer has signed. */
export const mandateSchema = object({
  company: string().required(),
  partner: string().trim().required("Say whose mandate it is").max(60),
  reference: string()
    .trim()
    .required("A reference is needed")
    .matches(
      /^[A-Za-z0-9+?/:().,'-]{1,35}$/,
      "A reference has up to 35 letters, figures and + ? / - : ( ) . , '",
    ),
  signed: dayField().required("Say when it was signed"),
  scheme: string().oneOf(DEBIT_SCHEMES).required(),
  kind: string().oneOf(MANDATE_KINDS).required(),
  iban: string().trim().required("An IBAN is needed").max(60),
  bic: string().trim().max(20).default(""),
  /** Who holds the account; "" for the customer. */
  holder: string().trim().max(70).default(""),
  /** Days before which the customer is told of a direct debit, as was agreed. */
  notice: number()
    .typeError("Days are a whole number")
    .integer("Days are a whole number")
    .min(1, "At least one day before")
    .max(90, "At most 90 days before")
    .default(USUAL_NOTICE),
});
export type MandateInput = InferType<typeof mandateSchema>;

/** What is known of a mandate when something is to be debited by it. */
export interface MandateUse {
  signed: CalendarDate;
  kind: MandateKind;
  notice: number;
  ended: CalendarDate | null;
  /** The day of the last direct debit by it; null before the first. */
  lastUsed: CalendarDate | null;
}

/** The last day on which a mandate can be used, if it is not used again before. */
export const mandateHoldsUntil = ({
  signed,
  lastUsed,
}: Pick<MandateUse, "signed" | "lastUsed">): CalendarDate =>
  addMonths(lastUsed ?? signed, UNUSED_MONTHS);

/** Why nothing can be debited by a mandate on a day; null where it can. */
export function againstMandate(mandate: MandateUse, day: CalendarDate): string | null {
  if (mandate.ended !== null && mandate.ended <= day)
    return `its mandate ended on ${dateText(mandate.ended)}`;
  if (day < mandate.signed) return `its mandate is of ${dateText(mandate.signed)}`;
  if (mandate.kind === "one-off" && mandate.lastUsed !== null)
    return `its mandate was for one direct debit, on ${dateText(mandate.lastUsed)}`;
  return day > mandateHoldsUntil(mandate)
    ? `its mandate was last used on ${dateText(mandate.lastUsed ?? mandate.signed)}, and has expired`
    : null;
}

/** Where the next direct debit by a mandate stands in its sequence. */
export const sequenceOf = ({ kind, lastUsed }: MandateUse): DebitSequence =>
  kind === "one-off" ? "OOFF" : lastUsed === null ? "FRST" : "RCUR";

/** The first day that can still be told of in time, when it is told today. */
export const firstDayToTell = (today: CalendarDate, notice: number): CalendarDate =>
  addDays(today, notice);
