export { importStatements } from "./importStatements";
export { takeStatementsJob } from "./comingFiles";
export type { Imported } from "./takeIn";
export { MAX_STATEMENT_FILE } from "./bankFile";
export { lookAtBankTable, type LookedAt } from "./bankTable";
export {
  listStatementFiles,
  statementFileContent,
  viewStatementFile,
  type StatementFileRow,
  type StatementFileView,
} from "./statementFiles";
export { takeBackFile } from "./takeBackFile";
export { listStatements, type StatementRow } from "./listStatements";
export { lineTotals, listStatementLines, type LineTotal, type StatementLineRow } from "./listLines";
export {
  getStatementLine,
  type StatementLineView,
  type CandidateView,
  type TakeView,
} from "./viewLine";
export { askedLine, remarkOnLine, type AskedLine } from "./lineRemarks";
export { decideLine } from "./decideLine";
export { nextDemoDay } from "./nextDemoDay";
export { matchLinesAnew, undoLines } from "./undoLines";
export type { ExpectsAtBank } from "./expectedAtBank";
export { matchLinesJob } from "./matchOpenLines";
export { postCertainJob } from "./postCertain";
export { itemsForLine, partnersForLine, type PartnerChoice } from "./lookUps";
export { simulatedBankDay, type BankFile } from "./simulatedBank";
export { bankLinesRun } from "./linesRun";
export { bankPosition, type BankPosition } from "./bankPosition";
export {
  closeReconciliation,
  listReconciliations,
  reconciliationPdf,
  reopenReconciliation,
  type Reconciliation,
} from "./reconcile";
export { forgetReading, listReadings, type SavedReading } from "./readings";
export {
  getReconciliation,
  prepareReconciliation,
  type ReconciliationView,
} from "./reconciliationPapers";
export { getPaperStatement, type PaperLine, type PaperStatement } from "./paperStatements";
export { startPaperStatement } from "./startPaper";
export { addPaperLine, dropPaperStatement, tickJournals } from "./paperLines";
export { listLineRules, saveLineRule, tryLineRule, type RuleTrial } from "./lineRules";
export type { LineRuleRow } from "./lineRuleRows";
export { banksReconciled } from "./closeCheck";
export { reconciliationsHold } from "./verifyReconciliations";
