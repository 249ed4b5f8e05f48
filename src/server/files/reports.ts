import type { FileTable } from "@/core/files";
import { CHART_COLUMNS, type Account, type Heading } from "@/core/ledger";
import type { TrialBalance } from "../ledger";
import { CONTACT_COLUMNS, type ListedContact, type PartnerTable } from "../partners";
import { MANDATE_COLUMNS, mandateCells, type MandateRow } from "../receivables";
import type { Statement } from "../statements";

/** The trial balance as a table: accounts with their figures, and the totals. */
export function trialBalanceTable(balance: TrialBalance): FileTable {
  const money = (amount: bigint) => ({ amount, currency: balance.currency });
  return {
    name: `trial-balance-${balance.company}-${balance.period}`,
    title: "Trial balance",
    subtitle: `${balance.companyName} · ${balance.label} · ${balance.book} · ${balance.currency}`,
    headers: ["Account", "Name", "Opening", "Debits", "Credits", "Closing"],
    rows: [
      ...balance.rows
        .filter((r) => r.opening !== 0n || r.debit !== 0n || r.credit !== 0n)
        .map((r) => ({
          cells: [
            r.account,
            r.name,
            money(r.opening),
            money(r.debit),
            money(r.credit),
            money(r.closing),
          ],
        })),
      ...(balance.uncarried === 0n
        ? []
        : [
            {
              cells: [
                "",
                "Result of earlier years, year end not posted",
                money(balance.uncarried),
                money(0n),
                money(0n),
                money(balance.uncarried),
              ],
            },
          ]),
      {
        cells: [
          "",
          "All accounts",
          money(balance.totals.opening),
          money(balance.totals.debit),
          money(balance.totals.credit),
          money(balance.totals.closing),
        ],
        strong: true,
        double: true,
      },
    ],
  };
}

export function statementTable(s: Statement, unit: string): FileTable {
  return {
    name: `${s.code}-${s.company}-${s.period}`,
    title: s.name,
    subtitle: `${s.companyName} · ${s.periodName} · ${s.book} · ${unit}`,
    headers: ["", ...s.columns.map((c) => c.label)],
    rows: s.lines
      .filter((l) => l.kind === "heading" || l.kind === "total" || l.values.some((v) => v))
      .map((l) => ({
        cells: [
          l.label,
          ...l.values.map((v) => (v === null ? null : { amount: v, currency: s.currency })),
        ],
        strong: l.kind !== "accounts" && l.kind !== "result" && l.kind !== "uncarried",
        indent: l.level,
        double: l.rule === "double",
      })),
  };
}

/** The chart in the columns in which it can be loaded again: headings, then their accounts. */
export function chartTable(
  accounts: readonly Account[],
  headings: readonly Heading[],
  dimensions: readonly { id: number; code: string }[],
): FileTable {
  const codeOf = (id: number | null) => headings.find((h) => h.id === id)?.code ?? "";
  return {
    name: "chart-of-accounts",
    title: "Chart of accounts",
    subtitle: "",
    headers: [...CHART_COLUMNS, ...dimensions.map((d) => d.code)],
    rows: [
      ...headings.map((h) => ({
        cells: [
          h.code,
          h.name,
          "heading",
          "",
          "",
          codeOf(h.parentId),
          "",
          "",
          "",
          ...dimensions.map(() => ""),
        ],
      })),
      ...accounts.map((a) => ({
        cells: [
          a.number,
          a.name,
          a.type,
          a.control ?? "",
          a.monetary ? "yes" : "no",
          codeOf(a.headingId),
          a.blocked ? "yes" : "no",
          (a.usedBy ?? []).join(" "),
          a.currency ?? "",
          ...dimensions.map((d) => a.rules[d.id] ?? "allowed"),
        ],
      })),
    ],
  };
}

/** Contacts of customers in the columns in which they can be loaded again. */
export const contactsTable = (contacts: readonly ListedContact[]): FileTable => ({
  name: "contacts",
  title: "Contacts",
  subtitle: "",
  headers: [...CONTACT_COLUMNS],
  rows: contacts.map((c) => ({ cells: CONTACT_COLUMNS.map((k) => c[k]) })),
});

/** Mandates in the columns in which they can be loaded again. */
export const mandatesTable = (mandates: readonly MandateRow[]): FileTable => ({
  name: "mandates",
  title: "Mandates",
  subtitle: "",
  headers: [...MANDATE_COLUMNS],
  rows: mandates.map((m) => ({ cells: mandateCells(m) })),
});

/** Partners in the columns in which they can be loaded again. */
export const partnersTable = ({ headings, rows }: PartnerTable): FileTable => ({
  name: "partners",
  title: "Partners",
  subtitle: "",
  headers: headings,
  rows: rows.map((cells) => ({ cells })),
});
