import type { RunKindId } from "@/core/runs";
import { recurringRun, reversalsRun, yearEndRun } from "../closing";
import { paymentRunKind, recurringInvoiceRun, singlePaymentRun } from "../payables";
import { bankLinesRun, transferRun } from "../banks";
import { agreementRun, debitRun, deferralRun, lettersRun, lossesRun } from "../receivables";
import { accrualRun, cleanUpRun } from "../purchasing";
import { depreciationRun, intakeRun, retirementRun } from "../assets";
import type { RunKind } from "../runs";

/** Every kind of run there is. */
export const RUN_KINDS: Readonly<Record<RunKindId, RunKind>> = {
  "year-end": yearEndRun,
  reversals: reversalsRun,
  recurring: recurringRun,
  payment: paymentRunKind,
  "single-payment": singlePaymentRun,
  "recurring-invoice": recurringInvoiceRun,
  accrual: accrualRun,
  "bank-lines": bankLinesRun,
  transfer: transferRun,
  "credit-losses": lossesRun,
  agreement: agreementRun,
  "deferred-revenue": deferralRun,
  "direct-debit": debitRun,
  letters: lettersRun,
  "asset-intake": intakeRun,
  retirement: retirementRun,
  depreciation: depreciationRun,
  "clean-up": cleanUpRun,
};
