import { getLoad, listLoads, listRecurring } from "@/server/ledger";
import { listSeals } from "@/server/closing";
import { documentChain, papersOf } from "@/server/documents";
import { holdItem, itemHistory, restateItem, undoAllocation } from "@/server/openItems";
import {
  cashNeeded,
  discountsLost,
  listRecurringInvoices,
  makePayment,
  netPartner,
  releaseInvoice,
  sendAdvices,
} from "@/server/payables";
import {
  cancelGoodsReceipt,
  changeOrder,
  closeOrder,
  commitments,
  getGoodsReceipt,
  listCleaned,
  sendOrder,
} from "@/server/purchasing";
import { declareTaxes, taxSummary, withdrawDeclaration } from "@/server/taxes";
import { asks } from "./asks";
import type { Endpoint } from "./endpoint";
import {
  cancelCheque,
  printCheques,
  recallPayment,
  rejectPayment,
  reversePayment,
  voidCheque,
} from "@/server/banks";

const QUANTITIES = ["quantity", "received", "invoiced", "outstanding"];

/** What people do day by day beside journals, invoices, orders and payments themselves. */
export const WORK_ENDPOINTS: readonly Endpoint[] = [
  asks("get", "/seals", listSeals, "Seals over the evidence, newest first, and what they cover", {
    example: { seals: [{ no: 12, digest: "9f2c…", rows: 140, heads: [] }], covered: [] },
  }),
  asks("get", "/loads", listLoads, "Tables of journals that were taken in, newest first", {
    example: { items: [{ id: 12, source: "payroll.xlsx", journals: 3, posted: 3 }] },
  }),
  asks("get", "/loads/{id}", getLoad, "A load, with its journals as they stand now", {
    example: { id: 12, source: "payroll.xlsx", items: [] },
  }),
  asks(
    "get",
    "/recurring-journals",
    listRecurring,
    "Recurring journals and which are due up to a day; POST /runs with kind recurring makes them",
  ),
  asks(
    "get",
    "/recurring-invoices",
    listRecurringInvoices,
    "Recurring invoices and which are due up to a day; a run of their kind makes them",
  ),
  asks("post", "/invoices/{id}/release", releaseInvoice, "Let a held invoice pass, with a reason"),
  asks("post", "/open-items/{id}/hold", holdItem, "Hold an item back from payment, or release it", {
    example: {},
  }),
  asks(
    "post",
    "/open-items/{id}/restate",
    restateItem,
    "Owe an item, or a part of it, in another currency from a day on; without post, what it would be",
    { example: { taken: "100000", amount: "92000", difference: "-2000", journal: null } },
  ),
  asks("get", "/open-items/{id}/history", itemHistory, "What an item was settled by"),
  asks("post", "/settlements/{id}/undo", undoAllocation, "Undo a settlement"),
  asks("post", "/netting", netPartner, "Net what a partner owes against what it is owed"),
  asks(
    "post",
    "/payments",
    makePayment,
    "A payment by itself: of items in part or in full, or coded to accounts",
    { status: 201, example: { id: 5600, number: "HSF-26-Z00044", journal: "HSF-26-00800" } },
  ),
  asks("post", "/payments/{id}/reverse", reversePayment, "Reverse a payment, with a reason"),
  asks("post", "/payments/{id}/reject", rejectPayment, "The bank did not carry out a payment"),
  asks("post", "/payments/{id}/recall", recallPayment, "A payment came back"),
  asks("post", "/payments/{id}/cheque/cancel", cancelCheque, "Cancel the cheque of a payment", {
    as: { id: "payment" },
  }),
  asks("post", "/cheques/{id}/void", voidCheque, "Void a spoilt cheque, with a reason"),
  asks(
    "post",
    "/payment-runs/{id}/cheques",
    printCheques,
    "Give the cheques of a run their numbers, from the first one on",
    { as: { id: "run" } },
  ),
  asks("post", "/payment-runs/{id}/advices", sendAdvices, "Send the advices of a run", {
    as: { id: "run" },
  }),
  asks("get", "/cash-needed", cashNeeded, "What suppliers are owed by the week it falls due in"),
  asks("get", "/discounts", discountsLost, "Discounts that were had, and that were lost"),
  asks(
    "get",
    "/tax-summary",
    taxSummary,
    "Taxes reported over a stretch of days by return line and code, against their accounts",
    {
      example: {
        currency: "EUR",
        rows: [
          {
            returnLine: "T2",
            code: "P23",
            percent: "23",
            base: "100.00",
            tax: "23.00",
            recoverable: "11.50",
            unrecoverable: "11.50",
          },
        ],
        totals: [],
        accounts: [],
        declared: [],
      },
    },
  ),
  asks("post", "/tax-declarations", declareTaxes, "Mark whole periods as declared", {
    status: 201,
    example: { id: 3 },
  }),
  asks(
    "post",
    "/tax-declarations/{id}/withdraw",
    withdrawDeclaration,
    "Take a declaration back, with a reason",
  ),
  asks("post", "/orders/{id}/change", changeOrder, "Change an order that is placed, with a reason"),
  asks("post", "/orders/{id}/close", closeOrder, "Close an order, or open it again"),
  asks("post", "/orders/{id}/send", sendOrder, "Send an order to its supplier"),
  asks("get", "/commitments", commitments, "What is ordered and not yet invoiced, by account", {
    quantities: ["quantity"],
  }),
  asks("get", "/goods-receipts/{id}", getGoodsReceipt, "A receipt, by line", {
    quantities: QUANTITIES,
  }),
  asks(
    "post",
    "/goods-receipts/{id}/cancel",
    cancelGoodsReceipt,
    "Cancel a receipt, with a reason",
  ),
  asks("get", "/clean-ups", listCleaned, "What was taken off received-not-invoiced, and why"),
  asks("get", "/documents/{id}/chain", documentChain, "From the order to the payment"),
  asks("get", "/documents/{id}/papers", papersOf, "The papers of a document, and its remarks"),
];
