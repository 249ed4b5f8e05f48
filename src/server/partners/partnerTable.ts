import { object, string } from "yup";
import { NO_BANK_ADDRESS, type BankAddress } from "@/core/banks";
import { cellAt, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { banksInForce } from "./bankInForce";
import { readPartners, type PartnerRow } from "./partnerRow";
import { READ } from "./rights";

/** Columns that say the same as a field of a partner, in and out. */
const PLAIN_COLUMNS = [
  "code",
  "name",
  "street",
  "postcode",
  "city",
  "country",
  "email",
  "deliveryName",
  "deliveryStreet",
  "deliveryPostcode",
  "deliveryCity",
  "deliveryCountry",
  "statementName",
  "statementStreet",
  "statementPostcode",
  "statementCity",
  "statementCountry",
  "statementEmail",
  "taxNumber",
  "lei",
  "language",
  "currency",
  "terms",
  "method",
  "purpose",
  "account",
  "taxCode",
  "shares",
  "hold",
  "creditLimit",
  "creditCurrency",
  "insurer",
  "insuredAmount",
  "insuredUntil",
  "grade",
  "collector",
  "standIn",
  "customerGroup",
  "headOffice",
  "blockReason",
] as const;
/** What it is blocked for, in one cell: “orders, reminders”. */
const BLOCKS = "blocks";

/** Its bank account in columns: where the table has the name, and where the account has it. */
const BANK_COLUMNS = {
  iban: "iban",
  bic: "bic",
  accountNumber: "number",
  routing: "routing",
  bankCountry: "country",
  accountHolder: "holder",
} as const;
export type HeldAccount = BankAddress & { holder: string };

const OWN: ReadonlySet<string> = new Set(
  [...PLAIN_COLUMNS, BLOCKS, ...Object.keys(BANK_COLUMNS)].map((c) => c.toLowerCase()),
);

/** Dimensions that are columns under their codes: one that is called like a column of ours is none. */
export const columnsOfDimensions = (dimensions: readonly { code: string }[]): string[] =>
  dimensions.map((d) => d.code).filter((code) => !OWN.has(code.toLowerCase()));

/** Headings of partners as a table, in the order in which they go out. */
const headingsOf = (dimensions: readonly string[]): string[] => [
  ...PLAIN_COLUMNS,
  BLOCKS,
  ...dimensions,
  ...Object.keys(BANK_COLUMNS),
];

type Row = Readonly<Record<string, string>>;

/** What a row says of a partner: the fields whose columns the table has, as they were typed. */
export function fieldsOfRow(
  row: Row,
  before: PartnerRow | undefined,
  dimensions: readonly string[],
) {
  const plain = PLAIN_COLUMNS.flatMap((c) => {
    const cell = cellAt(row, c);
    if (cell === undefined) return [];
    return [[c, c === "currency" || c === "terms" ? cell || null : cell]];
  });
  const blocks = cellAt(row, BLOCKS);
  const coded = dimensions.flatMap((d) => {
    const cell = cellAt(row, d)?.trim();
    return cell === undefined ? [] : [[d, cell]];
  });
  return {
    ...Object.fromEntries(plain),
    ...(blocks === undefined ? {} : { blocks: blocks.split(/[\s,;]+/).filter(Boolean) }),
    ...(coded.length === 0
      ? {}
      : { dimensions: filled({ ...before?.dimensions, ...Object.fromEntries(coded) }) }),
  };
}

const filled = (values: Record<string, string>) =>
  Object.fromEntries(Object.entries(values).filter(([, v]) => v !== ""));

/** The bank account that a row names; null where it names none. */
export function accountOfRow(row: Row): HeldAccount | null {
  const parts = Object.entries(BANK_COLUMNS).map(([c, field]) => [field, cellAt(row, c) ?? ""]);
  const account = { ...NO_BANK_ADDRESS, ...Object.fromEntries(parts) } as HeldAccount;
  return Object.values(account).some((text) => text.trim() !== "") ? account : null;
}

/** Whether a partner says what it said before, in all that a table has. */
export function isSame(now: Omit<PartnerRow, "id" | "version" | "bank">, before: PartnerRow) {
  const told = (p: typeof now) =>
    JSON.stringify([
      PLAIN_COLUMNS.map((c) => p[c] ?? ""),
      p.supplier,
      p.customer,
      [...p.blocks].sort(),
      Object.entries(filled(p.dimensions)).sort(),
    ]);
  return told(now) === told(before);
}

/** Partners in the columns in which they can be loaded again. */
export interface PartnerTable {
  headings: string[];
  rows: string[][];
}

/** All suppliers or customers as a table, with the bank account of each. */
export const partnerTable = defineUseCase({
  name: "partnerTable",
  kind: "read",
  rights: READ,
  what: "see suppliers and customers",
  of: "shared",
  schema: object({
    role: string()
      .oneOf(["supplier", "customer"] as const)
      .required(),
  }),
  run: async ({ tx, masters }, { role }): Promise<Result<PartnerTable>> => {
    const partners = (await readPartners(tx)).filter((p) => p[role]);
    const banks = await banksInForce(tx);
    const dimensions = columnsOfDimensions(masters.dimensions);
    return ok({
      headings: headingsOf(dimensions),
      rows: partners
        .sort((a, b) => (a.code < b.code ? -1 : 1))
        .map((p) => {
          const bank = banks.get(p.id)?.[0];
          return [
            ...PLAIN_COLUMNS.map((c) => p[c] ?? ""),
            p.blocks.join(", "),
            ...dimensions.map((d) => p.dimensions[d] ?? ""),
            ...Object.values(BANK_COLUMNS).map((field) => bank?.[field] ?? ""),
          ];
        }),
    });
  },
});
