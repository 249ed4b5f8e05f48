import type { CodingFacts, LineCoding } from "@/core/banks";
import type { BankCodings } from "@/server/banks";
import type { Derive, RecordField, RecordValues } from "@/ui/form";

const NOTHING = { value: "", text: "None" };

/** The fields of a coding of the bank's amounts: account or shortcut, values, tax and shares. */
export const codingFields = (codings: BankCodings): RecordField[] => [
  {
    key: "account",
    label: "Account",
    kind: "select",
    free: true,
    required: true,
    hint: codings.shortcuts.length > 0 ? "By number, name or shortcut" : "By number or name",
    options: [
      ...codings.accounts.map((a) => ({ value: a.code, text: `${a.code} ${a.name}` })),
      ...codings.shortcuts.map((s) => ({ value: `@${s.name}`, text: `@${s.name} ${s.account}` })),
    ],
  },
  ...codings.dimensions.map((d): RecordField => ({
    key: d.code,
    label: d.name,
    kind: "select",
    free: true,
    options: [NOTHING, ...d.values.map((v) => ({ value: v.code, text: `${v.code} ${v.name}` }))],
  })),
  {
    key: "tax",
    label: "Tax",
    kind: "select",
    options: [
      { value: "", text: "No tax" },
      ...codings.taxCodes.map((t) => ({ value: t.code, text: `${t.code} ${t.name}` })),
    ],
  },
  ...(codings.shares.length > 0
    ? [
        {
          key: "shares",
          label: "Shares",
          kind: "select" as const,
          options: [
            { value: "", text: "Not split" },
            ...codings.shares.map((s) => ({ value: s.code, text: `${s.code} ${s.name}` })),
          ],
        },
      ]
    : []),
];

/** Names of the fields that count with the account that is chosen. */
export function codingKeys(codings: BankCodings, { account }: RecordValues): string[] {
  const forbidden = codings.accounts.find((a) => a.code === account)?.forbidden ?? [];
  const taken = codings.dimensions.map((d) => d.code).filter((c) => !forbidden.includes(c));
  return ["account", ...taken, "tax", "shares"];
}

/** A coding as the values of its fields; empty where there is none yet. */
export const codingValues = (
  codings: BankCodings,
  coding: Partial<LineCoding> | null | undefined,
): RecordValues => ({
  account: coding?.account ?? "",
  ...Object.fromEntries(
    codings.dimensions.map((d) => [d.code, coding?.dimensions?.[d.code] ?? ""]),
  ),
  tax: coding?.tax ?? "",
  shares: coding?.shares ?? "",
});

/** The coding that the values say. */
export const codingOf = (codings: BankCodings, values: RecordValues) => ({
  account: String(values.account ?? ""),
  dimensions: Object.fromEntries(
    codingKeys(codings, values)
      .filter((key) => codings.dimensions.some((d) => d.code === key) && values[key])
      .map((key) => [key, String(values[key])]),
  ),
  tax: String(values.tax ?? ""),
  shares: String(values.shares ?? ""),
});

/** A shortcut fills the coding, and its text where none is written. */
export const derivesShortcut =
  (codings: BankCodings): Derive =>
  (now, changed) => {
    const name = String(now.account ?? "");
    if (changed !== "account" || !name.startsWith("@")) return {};
    const shortcut = codings.shortcuts.find((s) => s.name === name.slice(1).toLowerCase());
    if (!shortcut) return {};
    return {
      account: shortcut.account,
      ...Object.fromEntries(
        codings.dimensions.map((d) => [d.code, shortcut.dimensions[d.code] ?? ""]),
      ),
      ...("text" in now && shortcut.description ? { text: shortcut.description } : {}),
    };
  };

export const factsOf = (codings: BankCodings): CodingFacts => ({
  company: codings.company,
  taxCodes: new Map(codings.taxCodes.map((t) => [t.code, t])),
  shares: new Map(codings.shares.map((s) => [s.code, s])),
});
