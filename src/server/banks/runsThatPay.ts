import type { Proposal } from "@/core/runs";
import type { Context } from "../access";
import type { PostedJournal } from "../ledger";
import { postedPayments, type PaymentRunDetail } from "./postedPayments";
import { UNDO_PAYMENTS } from "./undoPayments";

/** What posting and undoing mean for every kind of run whose detail are payments. */
export const RUNS_THAT_PAY = {
  ...UNDO_PAYMENTS,
  posted: (
    context: Context,
    run: {
      id: number;
      params: { company: string };
      proposal: Proposal;
      journals: readonly PostedJournal[];
      approved: boolean;
    },
  ) =>
    postedPayments(
      context,
      run.id,
      run.proposal.detail as PaymentRunDetail,
      run.params.company,
      run.journals,
      run.approved,
    ),
};
