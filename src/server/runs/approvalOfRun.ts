import type { Proposal } from "@/core/runs";
import type { Context } from "../access";
import { ruleFor, whyOf } from "../ledger";
import type { RunKind } from "./kind";

/**
 * Who has to look at a run before it posts: the first rule that one of its journals falls under.
 */
export async function approvalOfRun(
  context: Context,
  kind: Pick<RunKind, "approved">,
  proposal: Proposal,
): Promise<{ role: string; why: string } | null> {
  if (!kind.approved) return null;
  const functionalOf = (company: string): string =>
    context.masters.companyByCode.get(company)!.currency;
  const [first] = proposal.drafts;
  const whole = first && {
    type: first.type,
    company: first.company,
    date: first.date,
    currency: functionalOf(first.company),
    lines: proposal.drafts
      .filter((d) => d.company === first.company)
      .flatMap((d) => d.lines.map((l) => ({ account: l.account, side: l.side, amount: l.amount }))),
  };
  const rules = await ruleFor(
    context,
    kind.approved === "as one"
      ? whole
        ? [whole]
        : []
      : proposal.drafts.map((d) => ({
          type: d.type,
          company: d.company,
          date: d.date,
          currency: d.currency ?? functionalOf(d.company),
          lines: d.lines.map((l) => ({
            account: l.account,
            side: l.side,
            amount: l.foreignAmount ?? l.amount,
          })),
        })),
  );
  const rule = rules.find((r) => r !== undefined);
  return rule ? { role: rule.role, why: whyOf(rule) } : null;
}
