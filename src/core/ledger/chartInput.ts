import { array, boolean, object, string } from "yup";
import { textRecord } from "../shared";
import { ACCOUNT_TYPES, CONTROL_KINDS } from "./types";

const name = () =>
  string().required("A name is needed").max(80, "A name has at most 80 characters");

export const headingSchema = object({
  code: string()
    .required("A number is needed")
    .matches(/^[0-9A-Z][0-9A-Z.-]{0,19}$/, "A heading has up to 20 figures or capitals"),
  name: name(),
  parent: string().nullable().default(null),
});

export const ACCOUNT_NUMBER = /^[0-9A-Z][0-9A-Z.-]{0,19}$/;

export const accountSchema = object({
  number: string()
    .required("A number is needed")
    .matches(ACCOUNT_NUMBER, "An account number has up to 20 figures or capitals"),
  name: name(),
  type: string().oneOf(ACCOUNT_TYPES).required(),
  control: string().oneOf(CONTROL_KINDS).nullable().default(null),
  monetary: boolean().default(false),
  heading: string().required("A heading is needed"),
  blocked: boolean().default(false),
  /** Codes of the companies that use it; none for all. */
  companies: array(string().required()).default([]),
  /** The only currency that it takes; none for any. */
  currency: string().trim().uppercase().nullable().default(null),
  rules: textRecord(),
});
