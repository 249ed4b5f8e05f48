import type { Area } from "../access";
import type { CalendarDate, Minor } from "../shared";

export const ACCOUNT_TYPES = [
  "asset",
  "liability",
  "equity",
  "income",
  "expense",
  "units",
] as const;
export type AccountType = (typeof ACCOUNT_TYPES)[number];

export const CONTROL_KINDS = [
  "payables",
  "receivables",
  "bank",
  "asset",
  "intake",
  "stock",
  "GRNI",
  "tax",
  "intercompany",
  "transit",
] as const;
export type ControlKind = (typeof CONTROL_KINDS)[number];

export type DimensionRule = "required" | "allowed" | "forbidden";

export interface Account {
  id: number;
  number: string;
  name: string;
  type: AccountType;
  control: ControlKind | null;
  /** Money or a claim to a fixed sum of it; decides on currency revaluation. */
  monetary: boolean;
  /** The only currency that it takes; any where nothing is said. */
  currency?: string | null;
  headingId: number;
  blocked: boolean;
  /** Codes of the companies that use it; null for all. */
  usedBy: readonly string[] | null;
  /** By dimension id; a dimension that is not named is allowed. */
  rules: Readonly<Record<number, DimensionRule>>;
}

/** A knot of the chart's tree: headings hold headings and accounts. */
export interface Heading {
  id: number;
  code: string;
  name: string;
  parentId: number | null;
  sort: number;
}

export interface Dimension {
  id: number;
  /** Where its values stand in a coding, 1 to 16. */
  slot: number;
  code: string;
  name: string;
  /**
   * Whether a journal balances for each of its values: not, refused where it does not, or by lines
   * that are added.
   */
  balancing: "no" | "refuse" | "add";
  /** The account of the lines that are added between the values. */
  balancingAccount: string | null;
}

export interface DimensionValue {
  id: number;
  dimensionId: number;
  code: string;
  name: string;
  parentId: number | null;
  activeFrom: CalendarDate | null;
  activeTo: CalendarDate | null;
  /** A value that only sums the ones below it, or that is no longer used, takes no postings. */
  blocked: boolean;
  responsibleId: number | null;
  /** Values of other dimensions that are proposed with this one, by dimension code. */
  proposes: Readonly<Record<string, string>>;
}

export interface JournalType {
  id: number;
  code: string;
  name: string;
  area: Area;
  series: string;
  /** Letters before the numbers of its series. */
  prefix: string;
  /** Whether a person may enter journals of this type; the others come from documents and runs. */
  manual: boolean;
  reversal: "swap" | "negative";
  /** The control accounts that journals of this type may reach. */
  controls: readonly ControlKind[];
  /** How descriptions are proposed: text with {month}, {year} and {company}. */
  naming: string;
  /**
   * Whether journals of this type are reversed on the first day of the next period unless they say
   * otherwise.
   */
  reverses: boolean;
  /** Whether due reversals post by themselves when their period opens. */
  autoReverse: boolean;
  /**
   * Codes of the only books that a journal of this type may belong to; with none named, any of
   * them, and all together.
   */
  books: readonly string[];
  /** Whether such journals need a second person: as the rules say, always, or never. */
  approval: "rules" | "always" | "never";
}

/**
 * What can be deducted from an open item for paying by a day: minor units of its currency,
 * positive.
 */
export interface ItemDiscount {
  until: CalendarDate;
  percent: string;
  amount: Minor;
}

export const OPEN_ITEM_KINDS = [
  "invoice",
  "credit note",
  "payment",
  "receipt",
  "prepayment",
  "journal",
] as const;
export type OpenItemKind = (typeof OPEN_ITEM_KINDS)[number];

export type Side = "debit" | "credit";

/** A line on its way to the ledger: accounts and values by the codes that people use. */
export interface DraftLine {
  account: string;
  /** Value code by dimension code. */
  dimensions: Readonly<Record<string, string>>;
  description: string;
  side: Side;
  /**
   * In minor units of the functional currency; negative where a reversal is made by negative
   * amounts.
   */
  amount: Minor;
  /**
   * In minor units of the journal's currency, where that is not the functional one. Zero on lines
   * that only settle a difference.
   */
  foreignAmount?: Minor;
  /**
   * The currency of the line alone, where the lines of one journal have several: opening balances.
   * The journal then balances in functional currency.
   */
  currency?: string;
  /** Functional units for one unit of the journal's currency, as a decimal. */
  rate?: string;
  /** The company of the group that the line concerns. */
  counterparty?: string;
  /**
   * In thousandths. On an account of type units it stands for the amount; elsewhere it stands
   * beside it.
   */
  quantity?: bigint;
  note?: string;
  partner?: string;
  dueDate?: CalendarDate;
  /**
   * On a partner's control account: what the open item is called and of which kind it is; else the
   * journal says.
   */
  item?: { kind: OpenItemKind; reference: string; discounts?: readonly ItemDiscount[] };
  /** A person chose the account, in a document: it then is no account that a list stands behind. */
  written?: true;
  /** On an account of assets: whoever posts it lists what it moves, by asset. */
  listed?: true;
  /**
   * Why the system added the line: it then may reach control accounts. A difference of an
   * allocation leaves no open item.
   */
  added?: "pair" | "rounding" | "balance" | "difference";
}

/** A journal on its way to the ledger. Everything that posts builds one of these. */
export interface JournalDraft {
  company: string;
  type: string;
  /** Code of the one book it belongs to, or null for all. */
  book: string | null;
  date: CalendarDate;
  /** Key of an adjustment period; otherwise the date decides. */
  period?: string;
  /** Transaction currency; functional when left out. */
  currency?: string;
  description: string;
  reference?: string;
  lines: readonly DraftLine[];
  /** The day on which the journal is to be reversed by itself. */
  reverseOn?: CalendarDate;
  /** Id of the journal that this one reverses. */
  reverses?: number;
  /** The register id of the document or run that this journal comes from. */
  origin?: number;
  /** Year-end closing: carries results and is left out of the closed year's income statement. */
  closing?: boolean;
}

/**
 * Two companies that trade inside the group: the accounts of each side, and the type of the journal
 * made on the other side.
 */
export interface CompanyPair {
  first: string;
  second: string;
  firstDueFrom: string;
  firstDueTo: string;
  secondDueFrom: string;
  secondDueTo: string;
  type: string;
}

/** What the system posts to by itself, by purpose. */
export const ACCOUNT_PURPOSES = [
  "rounding",
  "exchangeGain",
  "exchangeLoss",
  "discountReceived",
  "discountAllowed",
  "writeOff",
  "badDebts",
  "lossAllowance",
  "billsReceivable",
  "billsPayable",
  "priceVariance",
  "quantityVariance",
] as const;
export type AccountPurpose = (typeof ACCOUNT_PURPOSES)[number];

/** The kind of control account that a purpose wants; all others are posted to freely. */
export const CONTROL_OF_PURPOSE: Readonly<Partial<Record<AccountPurpose, ControlKind>>> = {
  billsReceivable: "transit",
  billsPayable: "transit",
};

/** The currency code under which quantities are kept: ISO 4217's code for no currency. */
export const NO_CURRENCY = "XXX";
/** Quantities are kept in thousandths. */
export const QUANTITY_DECIMALS = 3;

export const resultTypes: ReadonlySet<AccountType> = new Set(["income", "expense"]);
/** Whether the account opens each year at zero. */
export const isResult = (type: AccountType): boolean => resultTypes.has(type);
