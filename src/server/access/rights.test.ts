import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, inject, test } from "vitest";
import { type Role } from "@/core/access";
import { usualLayout } from "@/core/banks";
import { usualPolicy } from "@/core/receivables";
import { callerOf, must, PASSWORD } from "../../../tests/world";
import { CRANES, FIVE_YEARS } from "../../../tests/thingsOfAssets";
import { thingsBeside } from "../../../tests/thingsBeside";
import { thingsOfAlpha, type ThingsOfAlpha } from "../../../tests/thingsOfAlpha";
import { world } from "../../../tests/useWorld";
import { rows } from "../db";
import "../backups";
import "../cash";
import "../documents";
import "../files";
import "../rates";
import "../search";
import "../statements";
import "../trace";
import { parse } from "@/core/shared";
import { savePerson, useCases as all } from "./index";

const w = world();
let t: ThingsOfAlpha;
let beside: Awaited<ReturnType<typeof thingsBeside>>;
/** Somebody with every role, in BET alone: nothing of ALP and nothing of the group is theirs. */
const stranger = () => callerOf(w.database, "stranger");

const ROLES_OF_STRANGER: Role[] = [
  "accountant",
  "payables",
  "receivables",
  "treasury",
  "assets",
  "controller",
  "admin",
  "auditor",
  "budget",
];

/** What is in the database, as one line per table: a change anywhere shows. */
async function fingerprint(): Promise<string> {
  const tables = await rows<{ name: string }>(
    w.database.db,
    sql`select table_name as name from information_schema.tables
      where table_schema = 'public' and table_type = 'BASE TABLE' order by 1`,
  );
  const parts = tables.map(
    ({ name }) =>
      `select '${name} ' || coalesce(md5(string_agg(x::text, '|' order by x::text)), '') as part from "${name}" x`,
  );
  return (
    (await rows<{ part: string }>(w.database.db, sql.raw(parts.join(" union all "))))
      .map((r) => r.part)
      // The server may read several tables at once: then they come in any order.
      .sort()
      .join("\n")
  );
}

const versionOf = ({ id, version }: { id: number; version: number }) => ({ id, version });
/** Content of a document that would be the stranger's own, under the identity of one that is not. */
const asMine = <C extends object>(content: C) => ({ ...content, company: "BET" });

/**
 * What each use case is aimed with: a valid input that names something of ALP or of the group.
 * Those that only ask for a company and plain values need no entry: they are filled by their shape.
 */
const aims = (): Record<string, object> => ({
  demandSecondFactor: { roles: [] },
  saveBackupPlan: { on: true, hour: 1, keep: 1 },
  addAttachment: { id: t.draft.id, name: "a.txt", content: "YQ==" },
  addSaidFile: { remark: beside.said.id, name: "a.txt", content: "YQ==" },
  addPartnerBank: { partner: "TRA", iban: "DE02100100100006820101" },
  addRemark: { id: t.draft.id, text: "seen" },
  allocateItems: { date: "2026-10-20", pairs: [{ first: t.item.id, second: t.item.id }] },
  approvalOf: { id: t.waiting.id },
  approveDocument: { id: t.waiting.id },
  cancelCheque: { payment: t.payment.id, reason: "lost in the post" },
  cancelInvoice: { id: t.invoice.id, reason: "entered twice" },
  cancelGoodsReceipt: { id: t.receipt.id, reason: "entered twice" },
  changeOrder: { id: t.order.id, version: 1, content: t.orderContent, reason: "more" },
  changeRun: { key: String(t.preview.id) },
  checkInvoice: t.invoiceContent,
  checkJournal: t.content,
  chequesPdf: { run: t.preview.id },
  closeOrder: { id: t.order.id, to: "closed", reason: "no more comes" },
  commitments: { companies: ["ALP"], accounts: ["6310"] },
  createInvoice: { ...t.invoiceContent, number: "NEW-1" },
  createJournal: { ...t.content, post: true },
  createBatch: { company: "ALP", period: "2026-10" },
  createOrder: t.orderContent,
  decidePartnerBank: { id: t.bank.id, to: "confirmed" },
  deleteAccount: { number: "6310" },
  deleteApprovalRule: { id: t.rule.id },
  deleteBatch: { id: t.batch.id, version: 1 },
  deleteCleanUpRule: { id: t.cleanUp.id },
  deleteDraft: { id: t.draft.id, version: t.draft.version },
  deleteInvoice: { id: t.invoiceDraft.id, version: 1 },
  deleteOrder: { id: t.orderDraft.id, version: 1 },
  deleteShortcut: { id: t.shortcut.id },
  deleteTemplate: { id: t.template.id },
  discardRun: { key: String(t.preview.id) },
  documentChain: { id: t.order.id },
  endRecurring: { id: t.recurring.id, to: "ended" },
  endRecurringInvoice: { id: t.recurringInvoice.id, to: "ended" },
  getAttachment: { id: t.paper.id },
  getBatch: { id: t.batch.id },
  getInvoice: { id: t.invoice.id },
  getJournal: { key: t.posted.number },
  getLoad: { id: t.load.id },
  getMessageFile: { id: t.message.id },
  getOrder: { id: t.order.id },
  getOrderPdf: { id: t.order.id },
  getPayment: { id: t.payment.id },
  getPaymentFile: { id: t.file.id },
  getGoodsReceipt: { id: t.receipt.id },
  getRecurring: { id: t.recurring.id, upTo: "2026-10-31" },
  getRecurringInvoice: { id: t.recurringInvoice.id, upTo: "2026-10-31" },
  getRun: { key: String(t.sent.id) },
  getRunItem: { run: String(t.sent.id), no: 1 },
  listRunDrafts: { run: String(t.sent.id) },
  listRunGroups: { run: String(t.sent.id) },
  listRunItems: { run: String(t.sent.id) },
  stopJob: { id: t.job.id },
  holdItem: { id: t.item.id, reason: "disputed" },
  itemHistory: { id: t.item.id },
  loadChart: {
    rows: [{ number: "6399", name: "New", type: "expense", heading: "63" }],
    take: true,
  },
  loadDimensionValues: { dimension: "costCentre", rows: [{ code: "N", name: "New" }], take: true },
  loadInvoices: { company: "ALP", rows: [{ supplier: "TRA" }] },
  loadJournals: { mode: "post", journals: [{ input: t.content }] },
  loadOpening: { company: "ALP", date: "2025-12-31", rows: [{ account: "6310" }] },
  loadContacts: { rows: [{ code: "TRA", name: "Taken over" }], take: true },
  loadPartners: { rows: [{ code: "TRA", name: "Taken over" }], take: true },
  loadRates: { rows: [{ base: "EUR", quote: "GBP", date: "2026-10-01", rate: "2" }], take: true },
  makePayment: { company: "ALP", bank: "MAIN", date: "2026-10-15", payee: "Me" },
  makePaymentFile: { run: t.sent.id },
  moveToBatch: { journal: t.draft.id, batch: t.batch.id },
  papersOf: { id: t.invoiceDraft.id },
  paymentsOfRun: { run: t.sent.id },
  placeOrder: { id: t.orderDraft.id, version: 1, content: t.orderContent },
  postBatch: { id: t.batch.id },
  postDraft: { id: t.draft.id, version: t.draft.version, content: t.content },
  postInvoice: { id: t.invoiceDraft.id, version: 1, content: t.invoiceContent },
  postRun: { key: String(t.preview.id) },
  postStoredDraft: { id: t.draft.id },
  postStoredInvoice: { id: t.invoiceDraft.id },
  printCheques: { run: t.preview.id, first: 900 },
  proposeRun: {
    kind: "payment",
    params: { company: "ALP", bank: "MAIN", date: "2026-10-15", next: "2026-10-30" },
  },
  recallPayment: { id: t.payment.id, reason: "not wanted" },
  receiveOrder: { order: t.order.id, date: "2026-10-06", lines: [{ no: 1, quantity: "1" }] },
  rejectPayment: { id: t.payment.id, reason: "not wanted" },
  releaseInvoice: { id: t.held.id, reason: "looks right" },
  removeAttachment: { id: t.paper.id },
  restateItem: { id: t.item.id, date: "2026-10-20", currency: "USD" },
  returnDocument: { id: t.waiting.id, reason: "not like this" },
  reverseBatch: { id: t.batch.id, reason: "not wanted" },
  reverseJournal: { key: t.posted.number },
  reversePayment: { id: t.manual.id, reason: "not wanted" },
  decidePaymentRequest: { id: t.payment.id },
  reverseRun: { key: String(t.sent.id), reason: "not wanted" },
  saveAccount: { number: "6398", name: "New", type: "expense", heading: "63" },
  saveApprovalRule: { currency: "EUR", role: "accountant" },
  saveBankAccount: {
    code: "MAIN",
    name: "Taken",
    company: "ALP",
    currency: "EUR",
    account: "1110",
    underWayAccount: "1120",
    version: 1,
  },
  saveBatch: { id: t.batch.id, version: 1, content: { company: "ALP", period: "2026-10" } },
  saveCleanUpRule: {
    place: 2,
    name: "all",
    conditions: [{ part: "amount", by: "at most", value: "1.00" }],
  },
  saveCompany: { code: "NEW", name: "New", currency: "EUR", country: "DE" },
  saveDraft: { id: t.draft.id, version: t.draft.version, content: t.content },
  saveInvoice: { id: t.invoiceDraft.id, version: 1, content: t.invoiceContent },
  saveOrder: { id: t.orderDraft.id, version: 1, content: t.orderContent },
  saveOutlineLine: { outline: "balance-sheet", version: 1, code: "x", label: "X", remove: true },
  saveDimension: { code: "fund", name: "Fund" },
  saveJournalType: { code: "special", name: "Special" },
  savePartner: { code: "TRA", name: "Taken over", supplier: true, version: 1 },
  savePerson: {
    login: "new-admin",
    name: "New",
    password: PASSWORD,
    grants: [{ role: "admin", company: null }],
  },
  savePurpose: { purpose: "rounding", account: "6310" },
  saveRecurring: { name: "Mine", content: t.content, rhythm: t.rhythm },
  saveRecurringInvoice: {
    template: {
      name: "Mine",
      suppliers: ["TRA"],
      rhythm: t.rhythm,
      numberPattern: "R",
      invoice: t.invoiceContent,
    },
  },
  saveSchedule: { company: "ALP", kind: "recurring", rhythm: t.rhythm },
  saveShares: { code: "NEW", name: "New", targets: [{ weight: "100" }] },
  decideLine: { ...t.line, kind: "", coding: { account: "6310" } },
  getStatementLine: { id: t.line.id },
  askedLine: { id: t.line.id },
  remarkOnLine: { id: t.line.id, text: "whose is it?" },
  tryLineRule: { id: t.lineRule.id },
  saveLineRule: {
    company: "ALP",
    name: "Other",
    place: 2,
    text: "x",
    outcome: "leave",
  },
  makeDeposit: {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-05",
    parts: [{ kind: "cash", partner: "TRA", amount: "1.00" }],
  },
  loadCardPayments: {
    company: "ALP",
    bank: "MAIN",
    date: "2026-10-05",
    rows: [{ number: "T1", customer: "TRA", amount: "1.00" }],
  },
  createSale: beside.sale.content,
  checkSale: beside.sale.content,
  saveSale: { ...beside.saleDraft, content: beside.sale.content },
  postSale: { ...beside.saleDraft, content: beside.sale.content },
  submitSale: { ...beside.saleDraft, content: beside.sale.content },
  deleteSale: beside.saleDraft,
  postStoredSale: { id: beside.saleDraft.id },
  submitStoredSale: { id: beside.saleDraft.id },
  cancelSale: { id: beside.sale.id, reason: "by mistake" },
  getSale: { id: beside.sale.id },
  saveAssetClass: CRANES,
  getAsset: { key: beside.assets.asset.number, on: "2026-10-31" },
  listAssets: { company: "ALP", on: "2026-10-31" },
  saveAsset: { ...versionOf(beside.assets.asset), description: "Taken over" },
  moveAsset: { ...versionOf(beside.assets.asset), from: "2026-11-01" },
  changeEstimate: {
    ...versionOf(beside.assets.asset),
    from: "2026-12-01",
    rule: FIVE_YEARS,
    reason: "as if it were mine",
  },
  takeOverAssets: {
    company: "ALP",
    date: "2026-10-31",
    rows: [{ description: "Mine", class: "CRANE", inservice: "2026-10-01", cost: "1" }],
    take: true,
  },

  fillIntake: { company: "ALP", lines: [beside.assets.line], content: { place: "Mine" } },
  mergeIntake: { company: "ALP", lines: [beside.assets.line] },
  setIntakeAside: { company: "ALP", lines: [beside.assets.line], reason: "as if it were mine" },
  splitIntake: { company: "ALP", ...beside.assets.line, parts: "2" },
  getSalePdf: { id: beside.sale.id },
  getSaleUbl: { id: beside.sale.id },
  sendSale: { id: beside.sale.id },
  saveReminders: { code: "", procedure: null },
  savePaymentTolerance: { code: "", tolerance: null },
  receivingAccounts: { company: "ALP" },
  loadSales: { company: "ALP", rows: [{ customer: "CUS", date: "2026-10-15", net: "1.00" }] },
  loadReceipts: {
    company: "ALP",
    bank: "MAIN",
    rows: [{ customer: "CUS", date: "2026-10-15", amount: "1.00" }],
  },
  savePriceIndex: { code: "CPI", name: "Prices", values: [{ from: "2026-01-01", value: "1" }] },
  listAgreements: { company: "ALP", upTo: "2026-10-31" },
  getAgreement: { id: beside.agreement.id, upTo: "2026-10-31" },
  saveAgreement: {
    ...beside.agreement,
    agreement: {
      name: "Agreed",
      rhythm: { every: 1, unit: "month", first: "31 Oct 2026", until: "" },
      clause: {},
      sale: beside.sale.content,
    },
  },
  endAgreement: { id: beside.agreement.id, to: "ended" },
  skipAgreement: { id: beside.agreement.id, date: "2026-10-31", reason: "laid up" },
  proposeReceipt: { company: "ALP", bank: "MAIN", partner: "CUS", date: "2026-10-15" },
  recordReceipt: {
    company: "ALP",
    bank: "MAIN",
    partner: "CUS",
    date: "2026-10-15",
    amount: "1.00",
  },
  undoReceipt: { id: beside.receipt.id, reason: "by mistake" },
  saveMandate: {
    id: beside.mandate.id,
    company: "ALP",
    partner: "CUS",
    reference: "M-CUS",
    signed: "2026-01-11",
    scheme: "core",
    kind: "recurrent",
    iban: "DE75512108001245126199",
  },
  endMandate: { id: beside.mandate.id, on: "2026-10-15", why: "revoked" },
  askForCreditLimit: { partner: "CUS", limit: "1", currency: "EUR", reason: "more" },
  decideCreditRequest: { id: beside.creditRequest.id, outcome: "granted" },
  debitsOfRun: { run: beside.debits.run },
  makeDebitFile: { run: beside.debits.run },
  saveLateRates: { rates: [{ from: "2026-01-01", percent: "10" }] },
  sendLetters: { run: String(beside.letters.run) },
  writeOffItems: {
    company: "ALP",
    date: "2026-10-15",
    reason: "never found again",
    items: [{ id: beside.sale.item }],
  },
  undoWriteOff: { journal: beside.writeOff.journal, reason: "found again" },
  lossMatrix: { company: "ALP", on: "2026-10-15" },
  collectingFigures: { company: "ALP", on: "2026-10-15" },
  lettersOfRun: { run: String(beside.letters.run) },
  getLetterPdf: { run: String(beside.letters.run), customer: "CUS" },
  confirmPromise: { id: beside.promise.id },
  listPrepayments: { company: "ALP" },
  correctableSales: { company: "ALP", customer: "CUS" },
  deskCustomer: { company: "ALP", partner: "CUS" },
  customerConversation: { company: "ALP", partner: "CUS" },
  customerState: { company: "ALP", partner: "CUS" },
  sayOfCustomer: { company: "ALP", partner: "CUS", text: "Hello" },
  saveContacts: { partner: "CUS", contacts: [{ name: "Somebody" }] },
  tryPolicy: { company: "ALP", policy: usualPolicy() },
  makePromise: {
    company: "ALP",
    partner: "CUS",
    due: "2026-12-31",
    items: [{ id: beside.sale.item }],
  },
  withdrawPromise: { id: beside.promise.id },
  openDispute: { item: beside.sale.item, reason: "price" },
  closeDispute: { id: beside.dispute.id, outcome: "upheld" },
  getDeposit: { id: beside.slip.id },
  depositPdf: { id: beside.slip.id },
  getReceipt: { id: beside.receipt.id },
  returnCheque: { id: beside.slip.id, no: 1, date: "2026-10-06", reason: "no funds" },
  decideSlipRequest: { id: beside.slip.id },
  cancelDeposit: { id: beside.slip.id, reason: "by mistake" },
  simulatedBankDay: { bank: "MAIN" },
  nextDemoDay: { company: "ALP" },
  getPaperStatement: { id: t.onPaper.id },
  tickJournals: { id: t.onPaper.id, journals: [1], on: true },
  addPaperLine: { id: t.onPaper.id, date: "2026-10-06", amount: "1.00", text: "x" },
  dropPaperStatement: { id: t.onPaper.id },
  startPaperStatement: {
    company: "ALP",
    bank: "MAIN",
    number: "3",
    closingDate: "2026-10-07",
    closing: "1",
  },
  closeReconciliation: { company: "ALP", bank: "MAIN", date: "2026-10-06" },
  reopenReconciliation: { id: beside.reconciled.id, reason: "for a reason" },
  prepareReconciliation: { company: "ALP", bank: "MAIN", date: "2026-10-07" },
  getReconciliation: { id: beside.reconciled.documentId },
  reconciliationPdf: { id: beside.reconciled.id },
  itemsForLine: { id: t.line.id },
  undoLines: { ids: [t.line.id] },
  importStatements: {
    name: "other.sta",
    content: Buffer.from(
      ":20:B\n:25:DE02500105170137075030\n:28C:2\n:60F:C261005EUR5,00\n:62F:C261005EUR5,00\n-",
    ).toString("base64"),
  },
  loadMandates: {
    company: "ALP",
    rows: [
      {
        customer: "CUS",
        reference: "LOADED",
        signed: "2026-01-10",
        iban: "DE75512108001245126199",
      },
    ],
    take: true,
  },
  loadBanks: { rows: [{ name: "Loaded Bank", country: "IE" }], take: true },
  saveBankFolder: { on: true },
  agreeToAccount: { code: "MAIN", version: 1 },
  saveAccountControl: { secondPerson: true },
  listTransfers: { company: "ALP" },
  transferAccounts: { company: "ALP" },
  saveWriteOffLimit: { person: "payables", company: "ALP", limit: "5.00" },
  saveReason: { text: "Paid twice", places: ["payments"] },
  lookAtBankTable: {
    name: "a.csv",
    content: Buffer.from("Date;Amount\n2026-10-06;1.00").toString("base64"),
  },
  viewStatementFile: { id: beside.file.id },
  statementFileContent: { id: beside.file.id },
  takeBackFile: { id: beside.file.id, reason: "for a reason" },
  saveBank: { name: "Bank of the Sound", country: "IE" },
  saveMovementKind: { code: "X", name: "X", side: "out" },
  saveReasonRules: {},
  forgetReading: { id: beside.reading.id },
  saveMonthlyPayment: { account: "2310", day: 28 },
  draftPdf: { id: t.payment.id },
  getBankPaper: { code: "MAIN", kind: "cheque" },
  samplePaper: { code: "MAIN", kind: "cheque" },
  saveBankPaper: { code: "MAIN", kind: "cheque", layout: usualLayout("cheque"), version: 0 },
  saveSignature: { code: "MAIN", picture: "iVBORw0KGgo=" },
  saveTaxCode: {
    code: "N",
    name: "New",
    kind: "none",
    rates: [{ from: "2020-01-01", percent: "0" }],
  },
  saveTemplate: { name: "Mine", content: t.content },
  saveTerms: { code: "N", name: "New", terms: { instalments: [{ percent: "100", days: 1 }] } },
  sendAdvices: { run: t.sent.id },
  sendOrder: { id: t.order.id },
  skipRecurring: { id: t.recurring.id, date: "2026-09-30", reason: "not needed" },
  skipRecurringInvoice: { id: t.recurringInvoice.id, date: "2026-09-30", reason: "not needed" },
  submitBatch: { id: t.batch.id },
  submitDraft: { id: t.draft.id, version: 1, content: t.content },
  placeStoredOrder: { id: t.orderDraft.id },
  submitStoredDraft: { id: t.draft.id },
  submitStoredInvoice: { id: t.invoiceDraft.id },
  submitStoredOrder: { id: t.orderDraft.id },
  submitInvoice: { id: t.invoiceDraft.id, version: 1, content: t.invoiceContent },
  submitOrder: { id: t.orderDraft.id, version: 1, content: t.orderContent },
  switchPeriods: {
    company: "ALP",
    book: "IFRS",
    area: "ledger",
    periods: ["2026-10"],
    to: "closed",
  },
  tryCleanUpRule: {
    company: "ALP",
    rule: { place: 1, name: "x", conditions: [{ part: "age", by: "at least", value: "1" }] },
  },
  undoAllocation: { id: t.allocation.id },
  voidCheque: { id: t.cheque.id, reason: "spoilt paper", then: "print anew" },
  withdrawDeclaration: { id: t.declaration.id, reason: "not right yet" },
  withdrawDocument: { id: t.waiting.id },
});

/**
 * Acts whose content is the stranger's own company, under the identity of a document of ALP, and the
 * like: what is sent must not decide whose it is.
 */
const disguised = (): [string, object][] => [
  ["saveDraft", { id: t.draft.id, version: 9, overwrite: true, content: asMine(t.content) }],
  ["saveDraft", { content: asMine(t.content), batch: t.batch.id }],
  ["postDraft", { id: t.draft.id, version: t.draft.version, content: asMine(t.content) }],
  ["submitDraft", { id: t.draft.id, version: t.draft.version, content: asMine(t.content) }],
  ["saveInvoice", { id: t.invoiceDraft.id, overwrite: true, content: asMine(t.invoiceContent) }],
  ["postInvoice", { id: t.invoiceDraft.id, version: 1, content: asMine(t.invoiceContent) }],
  ["saveSale", { id: beside.saleDraft.id, overwrite: true, content: asMine(beside.sale.content) }],
  ["postSale", { ...beside.saleDraft, content: asMine(beside.sale.content) }],
  ["submitInvoice", { id: t.invoiceDraft.id, version: 1, content: asMine(t.invoiceContent) }],
  ["saveOrder", { id: t.orderDraft.id, overwrite: true, content: asMine(t.orderContent) }],
  ["placeOrder", { id: t.orderDraft.id, version: 1, content: asMine(t.orderContent) }],
  ["submitOrder", { id: t.orderDraft.id, version: 1, content: asMine(t.orderContent) }],
  ["changeOrder", { id: t.order.id, version: 1, content: asMine(t.orderContent), reason: "mine" }],
  ["saveBatch", { id: t.batch.id, version: 1, content: { company: "BET", period: "2026-10" } }],
  [
    "saveRecurring",
    { id: t.recurring.id, version: 1, name: "M", content: asMine(t.content), rhythm: t.rhythm },
  ],
  [
    "saveRecurringInvoice",
    {
      id: t.recurringInvoice.id,
      version: 1,
      template: {
        name: "Mine",
        suppliers: ["TRA"],
        rhythm: t.rhythm,
        numberPattern: "R",
        invoice: asMine(t.invoiceContent),
      },
    },
  ],
  [
    "saveBankAccount",
    {
      code: "MAIN",
      name: "Mine",
      company: "BET",
      currency: "EUR",
      account: "1110",
      underWayAccount: "1120",
      version: 1,
    },
  ],
  ["saveApprovalRule", { id: t.rule.id, company: "BET", currency: "EUR", role: "accountant" }],
  // Rights in the person's own company alone: neither the group's nor those of wider people.
  ["savePerson", { id: 1, login: "root", name: "Taken", password: PASSWORD, grants: [] }],
  [
    "savePerson",
    {
      login: "two",
      name: "Two",
      password: PASSWORD,
      grants: [{ role: "payables", company: "ALP" }],
    },
  ],
  ["loadJournals", { mode: "draft", journals: [{ input: t.content }] }],
];

/** Lists that show what the person sees, and no more. */
const LISTS = [
  "companyList",
  "find",
  "history",
  "listBankAccounts",
  "listPeople",
  "listReadings",
  "listWriteOffLimits",
  "today",
];

/** A value for a field that says nothing but what kind it is. */
function plainValue(name: string, field: { type: string; oneOf?: unknown[] }): unknown {
  if (name === "company" || name === "companies") return field.type === "array" ? ["ALP"] : "ALP";
  if (field.oneOf?.length) return field.oneOf[0];
  if (field.type === "number") return 1;
  if (field.type === "array") return [];
  if (name === "period") return "2026-10";
  if (name === "code" || name === "number") return "N1";
  if (/^(from|on|date|start|upTo|since)$/.test(name)) return "2026-10-01";
  return name === "to" ? "2026-10-31" : name === "currency" ? "EUR" : "name";
}

// One database tells: rights are asked before either of the two is.
describe.skipIf(!inject("server"))("a person of one company", () => {
  beforeAll(async () => {
    t = await thingsOfAlpha(w.database);
    beside = await thingsBeside(w.database);
    must(
      await savePerson(await callerOf(w.database, "root"), {
        login: "stranger",
        name: "Of Beta Only",
        password: PASSWORD,
        grants: ROLES_OF_STRANGER.map((role) => ({ role, company: "BET" })),
      }),
    );
  });
  test("reaches nothing of another or of the group, by any use case, and changes nothing on the way", async () => {
    const before = await fingerprint();
    const known = aims();
    const wrong: string[] = [];
    for (const [name, call] of all()) {
      const { definition } = call;
      if (definition.rights === "signed-in" || definition.of === "shared") continue;
      if (LISTS.includes(name) || name === "waitingForMe") continue;
      const fields = (
        definition.schema.describe() as {
          fields?: Record<string, { type: string; optional: boolean; oneOf?: unknown[] }>;
        }
      ).fields;
      const input =
        known[name] ??
        Object.fromEntries(
          Object.entries(fields ?? {}).flatMap(([field, of]) =>
            of.optional && field !== "company" ? [] : [[field, plainValue(field, of)]],
          ),
        );
      const shape = parse(definition.schema, input);
      if (!shape.ok) {
        wrong.push(`${name}: no valid case (${JSON.stringify(shape.problems)})`);
        continue;
      }
      const answer = await call(await stranger(), input).catch((e: unknown) => String(e));
      const said =
        typeof answer === "string"
          ? answer
          : answer.ok
            ? "done"
            : answer.problems.map((p) => p.code).join();
      const hidden = definition.kind === "read" && said === "NOT_FOUND" && name === "getLoad";
      if (said !== "FORBIDDEN" && !hidden) wrong.push(`${name}: ${said}`);
    }
    for (const [name, input] of disguised()) {
      const answer = await all().get(name)!(await stranger(), input);
      if (answer.ok) wrong.push(`${name} in disguise: done`);
    }
    expect(wrong.join("\n")).toBe("");
    expect(await fingerprint()).toBe(before);
  }, 300_000);

  test("the cases reach what is there: whoever has the rights is not refused them", async () => {
    const root = await callerOf(w.database, "root");
    for (const [name, input] of Object.entries(aims())) {
      const call = all().get(name)!;
      if (call.definition.kind !== "read") continue;
      const answer = await call(root, input);
      expect([name, answer.ok ? "" : JSON.stringify(answer.problems)]).toEqual([name, ""]);
    }
  });

  test("lists hold what is theirs to see", async () => {
    for (const name of LISTS) {
      const answer = await all().get(name)!(await stranger(), { text: "Supplier" });
      const text = JSON.stringify(answer, (_k, v: unknown) =>
        typeof v === "bigint" ? String(v) : v,
      );
      expect([name, /"ALP"|ALP-26|of ALP|Alpha/.exec(text)?.[0]]).toEqual([name, undefined]);
      expect([name, answer.ok]).toEqual([name, true]);
    }
  });
});
