import {
  addPaperLine,
  bankPosition,
  bankRegister,
  bookCash,
  cancelDeposit,
  closeReconciliation,
  decideLine,
  decideSlipRequest,
  getDeposit,
  getPaperStatement,
  getStatementLine,
  importStatements,
  itemsForLine,
  listBanks,
  listDeposits,
  listLineRules,
  listReconciliations,
  listStatementFiles,
  listStatementLines,
  listStatements,
  listTransfers,
  makeDeposit,
  matchLinesAnew,
  reopenReconciliation,
  returnCheque,
  saveBank,
  saveLineRule,
  startPaperStatement,
  takeBackFile,
  tickJournals,
  tryLineRule,
  undoLines,
} from "@/server/banks";
import { cashFlows, cashPosition } from "@/server/cash";
import { asks } from "./asks";
import type { Endpoint } from "./endpoint";

/**
 * Banks, statements, cash. Statements are taken in, explained, and held against the ledger; a run
 * posts their lines.
 */
export const BANK_ENDPOINTS: readonly Endpoint[] = [
  asks("get", "/banks", listBanks, "Banks, each once for all accounts that are kept there"),
  asks(
    "post",
    "/banks",
    saveBank,
    "Add or change a bank; its accounts follow where they had the same",
    {
      status: 201,
      example: { id: 3, accounts: 2 },
    },
  ),
  asks(
    "get",
    "/transfers",
    listTransfers,
    "Money moved between accounts of our own; a run of the kind “transfer” makes it",
  ),
  asks("get", "/deposits", listDeposits, "Deposit slips of a company, newest first"),
  asks("post", "/deposits", makeDeposit, "Deposit cheques and cash of customers on one slip", {
    status: 201,
    example: { id: 88, number: "HSF-26-D00012" },
  }),
  asks("get", "/deposits/{id}", getDeposit, "A slip with its cheques and what they paid"),
  asks(
    "post",
    "/deposits/{id}/return",
    returnCheque,
    "Note that a cheque of a slip came back: its items are open again, with a fee where one is charged",
    { example: { asked: false, journal: "HSF-26-00911" } },
  ),
  asks(
    "post",
    "/deposits/{id}/cancel",
    cancelDeposit,
    "Take back a slip that no statement has yet",
  ),
  asks(
    "post",
    "/deposits/{id}/decide",
    decideSlipRequest,
    "As the second person: do what was asked of a slip, or leave it as it is",
    { example: { asked: false, journal: "" } },
  ),
  asks(
    "get",
    "/cash-position",
    cashPosition,
    "What all bank accounts hold today, and what is expected by day or week",
  ),
  asks(
    "get",
    "/cash-position/flows",
    cashFlows,
    "What a day or week of the cash position is made of, with the reason of each day",
  ),
  asks("get", "/bank-statements", listStatements, "Bank statements of a company, newest first"),
  asks(
    "post",
    "/bank-statements",
    importStatements,
    "Take in a bank’s file (camt.053, 052, 054, MT940, pain.002, or a table; base64): whole, or not",
    { status: 201, example: { file: 12, statements: [], lines: 23, certain: 18, rejected: 0 } },
  ),
  asks("post", "/bank-statements/paper", startPaperStatement, "Begin a statement from paper", {
    status: 201,
    example: { id: 14 },
  }),
  asks(
    "get",
    "/bank-statements/{id}",
    getPaperStatement,
    "A statement from paper, with what can be ticked and what is left",
  ),
  asks("post", "/bank-statements/{id}/ticks", tickJournals, "Tick journals on it, or untick them", {
    example: { ticked: 3 },
  }),
  asks(
    "post",
    "/bank-statements/{id}/lines",
    addPaperLine,
    "Add a line that only the bank knows to a statement from paper",
    { status: 201, example: { id: 311 } },
  ),
  asks(
    "get",
    "/statement-lines",
    listStatementLines,
    "Lines of bank statements with where they stand: certain, to decide, unexplained, chosen, posted",
  ),
  asks(
    "get",
    "/statement-lines/{id}",
    getStatementLine,
    "A line with its proposals, each with its reasons and their weights",
  ),
  asks("get", "/statement-lines/{id}/items", itemsForLine, "Open items that a line could pay"),
  asks("post", "/statement-lines/{id}/decide", decideLine, "Decide what a line is", {
    example: { id: 311, version: 3 },
  }),
  asks("post", "/statement-lines/undo", undoLines, "Take decisions back: the rules look again", {
    example: { undone: 2 },
  }),
  asks("post", "/statement-lines/match", matchLinesAnew, "Match all lines nobody has decided on", {
    example: { certain: 18 },
  }),
  asks("get", "/line-rules", listLineRules, "Rules of a company for the lines of its banks"),
  asks("post", "/line-rules", saveLineRule, "Add or change a rule: in use, or only to be tried", {
    status: 201,
    example: { id: 4 },
  }),
  asks(
    "get",
    "/line-rules/{id}/trial",
    tryLineRule,
    "What a rule would make of the lines of the last year",
  ),
  asks(
    "get",
    "/bank-positions",
    bankPosition,
    "What each bank says on a day, what the ledger says, and what lies between",
  ),
  asks(
    "get",
    "/bank-register",
    bankRegister,
    "Every movement of a bank account or cash box between two days, with the balance after it",
  ),
  asks("post", "/cash-entries", bookCash, "Write an entry of a cash book: posted at once", {
    status: 201,
    example: { journal: "HSF-26-00912" },
  }),
  asks(
    "get",
    "/statement-files",
    listStatementFiles,
    "Files of statements that were taken in, with what has become of them",
  ),
  asks(
    "post",
    "/statement-files/{id}/take-back",
    takeBackFile,
    "Take a file of statements back while nothing of it is posted",
    { example: { statements: 2 } },
  ),
  asks("get", "/reconciliations", listReconciliations, "Closed bank reconciliations, newest first"),
  asks(
    "post",
    "/reconciliations",
    closeReconciliation,
    "Close the reconciliation of a bank account on a day",
    { status: 201, example: { id: 9 } },
  ),
  asks(
    "post",
    "/reconciliations/{id}/reopen",
    reopenReconciliation,
    "Reopen the last reconciliation of an account, with a reason",
  ),
];
