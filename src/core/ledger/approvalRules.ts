import type { Minor } from "../shared";

/** When a journal needs a second person. Null means any. */
export interface ApprovalRule {
  id: number;
  type: string | null;
  company: string | null;
  /** Account numbers from and to, both included, compared as text. */
  accountFrom: string | null;
  accountTo: string | null;
  /** Minor units of `currency`. */
  minimum: Minor;
  currency: string;
  /** Who approves. */
  role: string;
}

export interface JournalToApprove {
  type: string;
  company: string;
  accounts: readonly string[];
  /**
   * Sum of debits in the currency of a rule; null where no rate leads there, and then the rule
   * holds whatever its amount.
   */
  amountIn(currency: string): Minor | null;
}

/**
 * The first rule that a journal falls under, in the order in which the rules stand; undefined where
 * it needs nobody.
 */
export const approvalRuleFor = (
  rules: readonly ApprovalRule[],
  journal: JournalToApprove,
): ApprovalRule | undefined =>
  rules.find((rule) => {
    if (rule.type !== null && rule.type !== journal.type) return false;
    if (rule.company !== null && rule.company !== journal.company) return false;
    const { accountFrom: from, accountTo: to } = rule;
    if (
      (from !== null || to !== null) &&
      !journal.accounts.some(
        (a) => (from === null || a >= from) && (to === null || a <= to || a.startsWith(to)),
      )
    )
      return false;
    const amount = journal.amountIn(rule.currency);
    return amount === null || amount >= rule.minimum;
  });
