import type { EInvoice } from "./read";

/** The largest file that is read, in characters: with a PDF within it. */
export const MAX_E_INVOICE = 6_000_000;

/** Units of UNECE recommendation 20 that invoices use most, as people write them. */
const UNITS: Readonly<Record<string, string>> = {
  C62: "pieces",
  H87: "pieces",
  EA: "pieces",
  NAR: "articles",
  SET: "sets",
  PR: "pairs",
  XPK: "packages",
  XBX: "boxes",
  KGM: "kg",
  GRM: "g",
  TNE: "t",
  MTR: "m",
  CMT: "cm",
  MMT: "mm",
  KMT: "km",
  MTK: "m²",
  MTQ: "m³",
  LTR: "l",
  MLT: "ml",
  HUR: "hours",
  MIN: "minutes",
  DAY: "days",
  WEE: "weeks",
  MON: "months",
  ANN: "years",
  KWH: "kWh",
  MWH: "MWh",
};

/** A quantity with its unit in words; a code that is not known stays as it is. */
export const quantityText = (quantity: string, unit: string): string =>
  quantity === "" ? "" : [quantity, UNITS[unit] ?? unit].filter(Boolean).join(" ");

/**
 * What a paper says beside its figures, as sentences for whoever codes it: to whom it refers, its
 * contract, terms in words, tax in the currency of the tax office.
 */
export const wordsOfPaper = (e: EInvoice): string[] => [
  ...(e.buyer.reference ? [`Your reference: ${e.buyer.reference}`] : []),
  ...(e.order ? [`Order: ${e.order}`] : []),
  ...(e.contract ? [`Contract: ${e.contract}`] : []),
  ...(e.corrects ? [`Corrects: ${e.corrects}`] : []),
  ...(e.terms ? [`Terms: ${e.terms}`] : []),
  ...(e.taxThere ? [`Tax in ${e.taxThere.currency}: ${e.taxThere.amount}`] : []),
  ...(e.note ? [`Note: ${e.note}`] : []),
];
