import { array, number, object, string, type InferType } from "yup";
import { textRecord } from "../shared";
import { MOVEMENT_SIDES, type LineCoding } from "./lineState";

/** A kind of bank movement, as written. */
export const movementKindSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(80),
  group: string().trim().max(60).default(""),
  side: string().oneOf(MOVEMENT_SIDES).required("Say whether money comes in or goes out"),
  codes: array(string().trim().max(40).required()).max(40).default([]),
  words: array(string().trim().uppercase().min(3).max(40).required()).max(40).default([]),
  account: string().trim().max(20).default(""),
  dimensions: textRecord(),
  taxCode: string().trim().uppercase().max(20).default(""),
  version: number().integer(),
});
export type MovementKindInput = InferType<typeof movementKindSchema>;

/** What a kind makes of an amount, with a text of its own where one is given. */
export const codingOfKind = (
  kind: Pick<MovementKindInput, "name" | "account" | "dimensions" | "taxCode">,
  text = "",
): LineCoding => ({
  account: kind.account,
  dimensions: kind.dimensions,
  text: text || kind.name,
  ...(kind.taxCode === "" ? {} : { tax: kind.taxCode }),
});
