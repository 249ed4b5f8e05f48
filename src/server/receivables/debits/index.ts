export { endMandate, listMandates, type MandateRow } from "./mandates";
export { saveMandate } from "./saveMandate";
export { loadMandates, MANDATE_COLUMNS, mandateCells } from "./loadMandates";
export { debitRun, type DebitRunDetail, type RunDebit } from "./debitRun";
export { makeDebitFile } from "./debitFile";
export { debitsOfRun, type DebitRow, type DebitsOfRun } from "./debitsOfRun";
export { listDebitRuns, type DebitRunRow } from "./listDebitRuns";
