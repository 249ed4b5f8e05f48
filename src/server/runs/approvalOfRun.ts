import { sql } from "drizzle-orm";
import type { JournalDraft } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { writersOf } from "../documents";
import { ruleFor, whyOf } from "../ledger";
import type { RunKind } from "./kind";
import type { FoundRun } from "./readRun";

export interface RunApproval {
  role: string;
  why: string;
}

/**
 * Who has to look at a run before it posts: the first rule that one of its journals falls under.
 */
export async function approvalOfRun(
  context: Context,
  kind: Pick<RunKind, "approved">,
  drafts: readonly JournalDraft[],
): Promise<RunApproval | null> {
  if (!kind.approved) return null;
  const functionalOf = (company: string): string =>
    context.masters.companyByCode.get(company)!.currency;
  const [first] = drafts;
  const whole = first && {
    type: first.type,
    company: first.company,
    date: first.date,
    currency: functionalOf(first.company),
    lines: drafts
      .filter((d) => d.company === first.company)
      .flatMap((d) => d.lines.map((l) => ({ account: l.account, side: l.side, amount: l.amount }))),
  };
  const rules = await ruleFor(
    context,
    kind.approved === "as one"
      ? whole
        ? [whole]
        : []
      : drafts.map((d) => ({
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

/**
 * Whether this person may post the run as it is: where a rule asks for a second person, somebody of
 * its role who has neither proposed nor changed it. It gives the rule, or none.
 */
export async function approvedToPost(
  context: Context,
  { definition, id, company, proposerId }: FoundRun,
  drafts: readonly JournalDraft[],
): Promise<Result<RunApproval | null>> {
  const approval = await approvalOfRun(context, definition, drafts);
  if (!approval) return ok(null);
  const { person, tx } = context;
  const [own] = await rows(
    tx,
    sql`select 1 from ${writersOf(sql`${id}::bigint`)} z where z.person_id = ${person.id}`,
  );
  const holds = person.grants.some(
    (g) => g.role === approval.role && (g.company === null || g.company === company),
  );
  return own === undefined && proposerId !== person.id && holds
    ? ok(approval)
    : fail({ code: "RUN_APPROVAL", why: approval.why });
}
