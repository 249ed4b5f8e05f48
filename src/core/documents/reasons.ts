import { array, boolean, number, object, string, type InferType } from "yup";

/** Where reasons are offered to whoever takes something back, with what people call it. */
export const REASON_PLACES = {
  payments: "Payments undone",
  cheques: "Cheques cancelled",
  deposits: "Deposits cancelled, cheques returned",
  invoices: "Invoices cancelled",
  runs: "Runs reversed",
  statements: "Files of statements taken back",
  writeOffs: "Differences written off",
} as const;
export type ReasonPlace = keyof typeof REASON_PLACES;
export const isReasonPlace = (text: string): text is ReasonPlace =>
  Object.hasOwn(REASON_PLACES, text);

/** A reason for taking something back, as written: one list for all areas. */
export const reasonSchema = object({
  id: number().integer(),
  version: number().integer(),
  text: string()
    .trim()
    .required("Say the reason")
    .min(5, "A reason has five letters at least")
    .max(200),
  places: array(
    string()
      .oneOf(Object.keys(REASON_PLACES) as ReasonPlace[])
      .required(),
  )
    .min(1, "Say where it is offered")
    .default([]),
  /** Not offered any more; what was undone with it keeps it. */
  blocked: boolean().default(false),
});
export type ReasonInput = InferType<typeof reasonSchema>;
