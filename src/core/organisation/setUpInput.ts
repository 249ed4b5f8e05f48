import { boolean, object, string } from "yup";
import { leiField } from "../partners";
import { isCreditorId, textRecord } from "../shared";

/** What names something in journals: capitals, figures and dashes. `what` begins the sentence. */
const code = (what: string) =>
  string()
    .required(`${what} is needed`)
    .max(20, `${what} has at most 20 characters`)
    .matches(/^[A-Z0-9][A-Z0-9-]*$/, `${what} has capital letters, figures and dashes`);

const name = (most: number) =>
  string().required("A name is needed").max(most, `A name has at most ${most} characters`);

/** A creditor identifier of direct debits as people write it; "" where there is none. */
const creditorIdField = () =>
  string()
    .transform((v: unknown) => (typeof v === "string" ? v.replace(/\s/g, "").toUpperCase() : v))
    .default("")
    .test(
      "creditor-id",
      "Its check digits do not fit: a creditor identifier is like DE98 ZZZ0 9999 9999 99",
      (v) => v === "" || isCreditorId(v),
    );

export const companySchema = object({
  code: code("A code").max(6, "A company's code has at most six characters"),
  name: name(80),
  currency: string().required("A currency is needed").length(3, "A currency has three letters"),
  country: string()
    .required("A country is needed")
    .length(2, "A country has two letters")
    .trim()
    .uppercase(),
  street: string().trim().max(70).default(""),
  postcode: string().trim().max(16).default(""),
  city: string().trim().max(35).default(""),
  taxNumber: string().trim().max(30).default(""),
  lei: leiField(),
  creditorId: creditorIdField(),
});

export const bookSchema = object({
  code: string()
    .required("A code is needed")
    .matches(/^[A-Z0-9][A-Z0-9-]{0,9}$/, "A code has up to ten capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(60, "A name has at most 60 characters"),
  ended: boolean().default(false),
});

export const dimensionSchema = object({
  code: string()
    .required("A code is needed")
    .matches(
      /^[a-z][A-Za-z0-9]{1,29}$/,
      "A dimension's code starts with a small letter and has letters and figures, like costCentre",
    ),
  name: name(40),
  balancing: string().oneOf(["no", "refuse", "add"] as const),
  balancingAccount: string().nullable(),
});

export const dimensionValueSchema = object({
  dimension: string().required(),
  code: code("A code"),
  name: name(80),
  parent: string().nullable().default(null),
  activeFrom: string().nullable().default(null),
  activeTo: string().nullable().default(null),
  blocked: boolean().default(false),
  responsible: string().nullable(),
  proposes: textRecord(),
});

/** Two companies that trade with each other, and the accounts on which they face each other. */
export const pairSchema = object({
  first: string().required("A company is needed"),
  second: string().required("A company is needed"),
  firstDueFrom: string().required("An account is needed"),
  firstDueTo: string().required("An account is needed"),
  secondDueFrom: string().required("An account is needed"),
  secondDueTo: string().required("An account is needed"),
  type: string().default("group"),
});
