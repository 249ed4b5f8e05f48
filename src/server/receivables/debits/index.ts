export { endMandate, listMandates, saveMandate, type MandateRow } from "./mandates";
export { debitRun, type DebitRunDetail, type RunDebit } from "./debitRun";
export { makeDebitFile } from "./debitFile";
export { debitsOfRun, type DebitRow, type DebitsOfRun } from "./debitsOfRun";
export { listDebitRuns, type DebitRunRow } from "./listDebitRuns";
