"use server";
import { changePassword, demandSecondFactor, resetSecondFactor, savePerson } from "@/server/access";
import {
  addYear,
  deleteAccount,
  deleteHeading,
  saveBook,
  saveAccount,
  saveCompany,
  saveDimension,
  saveDimensionValue,
  saveHeading,
  saveJournalType,
  savePair,
  savePurpose,
  switchPeriods,
} from "@/server/organisation";
import { deleteApprovalRule, saveApprovalRule, saveStandIn } from "@/server/approvals";
import {
  agreeToAccount,
  forgetReading,
  saveAccountControl,
  saveBank,
  saveBankAccount,
  saveBankPaper,
  saveLineRule,
  saveMovementKind,
  saveSignature,
} from "@/server/banks";
import { saveMonthlyPayment } from "@/server/cash";
import { saveLetterLayout } from "@/server/letters";
import { saveReason, saveReasonRules } from "@/server/documents";
import { saveWriteOffLimit } from "@/server/openItems";
import { savePayablesSettings } from "@/server/payables";
import { fetchRates, loadRates, saveRateLimit } from "@/server/rates";
import { saveLateRates, saveReceivablesSettings } from "@/server/receivables";
import {
  discardOutline,
  makeOutlines,
  saveOutlineLine,
  putOutlineToUse,
} from "@/server/statements";
import { answer, type Answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

const SAVE = {
  company: saveCompany,
  year: addYear,
  book: saveBook,
  heading: saveHeading,
  account: saveAccount,
  accountGone: deleteAccount,
  headingGone: deleteHeading,
  dimension: saveDimension,
  value: saveDimensionValue,
  approvalRule: saveApprovalRule,
  approvalGone: deleteApprovalRule,
  standIn: saveStandIn,
  journalType: saveJournalType,
  outlineLine: saveOutlineLine,
  outlines: makeOutlines,
  outlineUsed: putOutlineToUse,
  outlineDropped: discardOutline,
  pair: savePair,
  purpose: savePurpose,
  bank: saveBank,
  bankAccount: saveBankAccount,
  agreement: agreeToAccount,
  accountControl: saveAccountControl,
  movementKind: saveMovementKind,
  reason: saveReason,
  reasonRules: saveReasonRules,
  writeOffLimit: saveWriteOffLimit,
  monthlyPayment: saveMonthlyPayment,
  lineRule: saveLineRule,
  payables: savePayablesSettings,
  receivables: saveReceivablesSettings,
  lateRates: saveLateRates,
  letters: saveLetterLayout,
  signature: saveSignature,
  bankPaper: saveBankPaper,
  readingGone: forgetReading,
  rate: loadRates,
  feed: fetchRates,
  rateLimit: saveRateLimit,
  person: savePerson,
  factorRoles: demandSecondFactor,
  factorGone: resetSecondFactor,
  password: changePassword,
  periods: switchPeriods,
} as const;
export type RecordKind = keyof typeof SAVE;

/** Saves one record of the set-up through its use case. */
export async function saveRecordAction(kind: RecordKind, input: unknown): Promise<Answer<unknown>> {
  if (!Object.hasOwn(SAVE, kind))
    return answer({ ok: false, problems: [{ code: "NOT_FOUND", what: "such record" }] });
  return answer(
    (await SAVE[kind](await actionCaller(), input)) as Awaited<ReturnType<typeof saveCompany>>,
  );
}
