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

/** Whether a rule speaks of a journal at all, whatever its amount. */
export function concerns(
  { type, company, accountFrom: from, accountTo: to }: ApprovalRule,
  journal: Omit<JournalToApprove, "amountIn">,
): boolean {
  if (type !== null && type !== journal.type) return false;
  if (company !== null && company !== journal.company) return false;
  if (from === null && to === null) return true;
  return journal.accounts.some(
    (a) => (from === null || a >= from) && (to === null || a <= to || a.startsWith(to)),
  );
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
    if (!concerns(rule, journal)) return false;
    const amount = journal.amountIn(rule.currency);
    return amount === null || amount >= rule.minimum;
  });
