/**
 * What a payment is for: codes of the external purpose code list of ISO 20022, as far as companies pay
 * by them, with the names that the list gives them.
 */
export const PURPOSE_CODES = {
  ADVA: "Advance payment",
  AGRT: "Agricultural transfer",
  AIRB: "Air",
  BEXP: "Business expenses",
  BLDM: "Building maintenance",
  BONU: "Bonus payment",
  BUSB: "Bus",
  CASH: "Cash management transfer",
  CCRD: "Credit card payment",
  CFEE: "Cancellation fee",
  CHAR: "Charity payment",
  COMC: "Commercial payment",
  CORT: "Trade settlement payment",
  COST: "Costs",
  CPYR: "Copyright",
  DIVI: "Dividend",
  ELEC: "Electricity bill",
  FERB: "Ferry",
  FREX: "Foreign exchange",
  GASB: "Gas bill",
  GDDS: "Purchase and sale of goods",
  GOVT: "Government payment",
  HEDG: "Hedging",
  HSTX: "Housing tax",
  INSU: "Insurance premium",
  INTC: "Intra-company payment",
  INTE: "Interest",
  INTX: "Income tax",
  IVPT: "Invoice payment",
  LICF: "Licence fee",
  LOAN: "Loan",
  LOAR: "Loan repayment",
  NETT: "Netting",
  OTHR: "Other payment",
  PENS: "Pension payment",
  PHON: "Telephone bill",
  REFU: "Refund",
  RENT: "Rent",
  RLWY: "Railway",
  ROYA: "Royalties",
  SALA: "Salary payment",
  SCVE: "Purchase and sale of services",
  SUBS: "Subscription",
  SUPP: "Supplier payment",
  TAXS: "Tax payment",
  TRAD: "Trade services",
  TREA: "Treasury payment",
  VATX: "Value added tax payment",
  WHLD: "Withholding",
  WTER: "Water bill",
} as const satisfies Record<string, string>;
export type PurposeCode = keyof typeof PURPOSE_CODES;

export const isPurposeCode = (text: string): text is PurposeCode =>
  Object.hasOwn(PURPOSE_CODES, text);

/**
 * What a payment is for where nobody says more: the supplier's own purpose, else that of its kind;
 * between accounts of our own, that.
 */
export const purposeOf = (payment: { isOwn: boolean; ofPartner: string }): PurposeCode =>
  payment.isOwn ? "INTC" : isPurposeCode(payment.ofPartner) ? payment.ofPartner : "SUPP";

/** Under which a person says in a preview what a payment of it is for. */
export const purposeKey = (payment: string): string => `purpose|${payment}`;

/**
 * Transfers to banks of countries that ask what each is for, where neither the payment nor its supplier
 * has a purpose of its own: that they are for a supplier is not enough there. What stands in their way, in words.
 */
export function purposesMissing(
  transfers: readonly { payee: string; country: string; ofPartner: string }[],
  countries: readonly string[],
): string[] {
  const names = transfers
    .filter((t) => t.ofPartner === "" && countries.includes(t.country))
    .map((t) => `${t.payee} (${t.country})`);
  return [...new Set(names)].map(
    (name) =>
      `Banks there ask what ${name} is paid for; give the payment or the supplier a purpose.`,
  );
}
