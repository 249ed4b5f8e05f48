/** What people call what a run was asked for, where the word itself does not say. */
const NAMES: Readonly<Record<string, string>> = {
  bank: "Bank account",
  next: "Next run on",
  upTo: "Up to",
  discountOnPart: "Discount on part payments",
  forward: "Rates adjusted by %",
  what: "Letters",
  until: "Due through",
};

/** The name of a parameter of a run. */
export const paramName = (key: string): string =>
  NAMES[key] ??
  key
    .replace(/([A-Z])/g, " $1")
    .toLowerCase()
    .replace(/^./, (c) => c.toUpperCase());
