import { approvalRuleFor, concerns, type ApprovalRule, type JournalEntry } from "@/core/ledger";
import { convert, findRate } from "@/core/rates";
import { amountText, isCalendarDate, isCurrency, minor, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { readRules } from "../approvals";
import { newestRates } from "../rates";

/** What the approval of a journal depends on. */
export type ToApprove = Pick<JournalEntry, "type" | "company" | "date" | "currency"> & {
  lines: readonly Pick<JournalEntry["lines"][number], "account" | "side" | "amount">[];
};

/**
 * The rule that an entry falls under, if any. Rates are asked for only where a rule is in another
 * currency.
 */
export async function ruleFor(
  context: Context,
  entries: readonly ToApprove[],
): Promise<(ApprovalRule | undefined)[]> {
  const rules = await readRules(context);
  const foreign = entries.some((e) => rules.some((r) => r.currency !== e.currency));
  const rates = foreign
    ? await newestRates(context.tx, [...new Set(entries.map((e) => e.date).filter(isCalendarDate))])
    : [];
  return entries.map((e) => {
    const approval = context.masters.typeByCode.get(e.type)?.approval ?? "rules";
    if (approval === "never") return undefined;
    const found = approvalRuleFor(rules, {
      type: e.type,
      company: e.company,
      accounts: e.lines.map((l) => l.account),
      amountIn: (currency): Minor | null => {
        const debits = debitsOf(e);
        if (currency === e.currency) return debits;
        const rate =
          isCalendarDate(e.date) && isCurrency(e.currency)
            ? findRate(rates, "spot", e.currency, currency, e.date)
            : null;
        return rate ? convert(debits, e.currency, currency, rate.rate) : null;
      },
    });
    return (
      found ??
      (approval === "always"
        ? {
            id: 0,
            type: e.type,
            company: null,
            accountFrom: null,
            accountTo: null,
            minimum: minor(0n),
            currency: e.currency,
            role: "controller",
          }
        : undefined)
    );
  });
}

/**
 * For each entry that nobody has to approve, the next amount from which somebody would, by rules in
 * its own currency; null where there is none.
 */
export async function limitsAbove(
  context: Context,
  entries: readonly ToApprove[],
): Promise<({ minimum: Minor; currency: string } | null)[]> {
  const rules = await readRules(context);
  return entries.map((e) => {
    if ((context.masters.typeByCode.get(e.type)?.approval ?? "rules") !== "rules") return null;
    const accounts = e.lines.map((l) => l.account);
    const own = rules.filter((r) => r.currency === e.currency && concerns(r, { ...e, accounts }));
    const debits = debitsOf(e);
    if (own.some((r) => r.minimum <= debits)) return null;
    const minimum = own.map((r) => r.minimum).sort((a, b) => (a < b ? -1 : 1))[0];
    return minimum === undefined ? null : { minimum, currency: e.currency };
  });
}

const debitsOf = (e: ToApprove): Minor =>
  minor(e.lines.reduce((sum, l) => (l.side === "debit" ? sum + l.amount : sum), 0n));

export const whyOf = (rule: ApprovalRule): string =>
  `${rule.type ? `${rule.type} journals` : "journals"}${rule.company ? ` of ${rule.company}` : ""}${rule.accountFrom || rule.accountTo ? ` on accounts ${rule.accountFrom ?? ""} to ${rule.accountTo ?? ""}` : ""}${rule.minimum > 0n ? ` from ${amountText(rule.minimum, rule.currency)} ${rule.currency}` : ""} are approved by a ${rule.role}`;
