import { decimalText, type Minor } from "@/core/shared";
import {
  askForCreditLimit,
  decideCreditRequest,
  listCreditRequests,
  paymentTolerances,
  saveContacts,
  savePaymentTolerance,
} from "@/server/partners";
import {
  customerGroups,
  customerState,
  lateRates,
  listPrepayments,
  loadReceipts,
  loadSales,
  priceIndices,
  receivablesSettings,
  reminderProcedures,
  saveCustomerGroup,
  saveLateRates,
  savePriceIndex,
  saveReceivablesSettings,
  saveReminders,
} from "@/server/receivables";
import { listSaleItems, saveSaleItem } from "@/server/trade";
import { asks } from "./asks";
import { map, type Endpoint } from "./endpoint";

const made = { status: 201 };
const LOADED = { example: { added: 12, changed: 0, same: 0 } };
const text = (amount: Minor | null, currency: string): string | null =>
  amount === null ? null : decimalText(amount, currency);

/** Customers beyond the desk: how they stand, what they may owe, and the rules of their groups. */
export const RECEIVABLES_ENDPOINTS: readonly Endpoint[] = [
  asks(
    "get",
    "/customers/{partner}/state",
    customerState,
    "How a customer stands: score, credit used, how late it pays, promises, contacts, what was said",
  ),
  asks("post", "/customers/{partner}/contacts", saveContacts, "Write all contacts anew", made),
  {
    method: "get",
    path: "/credit-requests",
    summary: "Credit limits that were asked for: those that wait first",
    needs: listCreditRequests.definition.rights,
    example: {
      items: [{ id: 4, partner: "C-203", amount: "90000.00", currency: "EUR", outcome: null }],
    },
    handle: async ({ caller }) =>
      map(await listCreditRequests(caller, {}), (items) => ({
        items: items.map((q) => ({
          ...q,
          amount: text(q.amount, q.currency),
          now: text(q.now, q.nowCurrency),
        })),
      })),
  },
  asks("post", "/credit-requests", askForCreditLimit, "Ask for a credit limit", made),
  asks("post", "/credit-requests/{id}/decide", decideCreditRequest, "Decide what was asked for"),
  asks(
    "get",
    "/prepayments",
    listPrepayments,
    "What customers were asked for ahead, with what is left to be set off",
  ),
  asks("get", "/payment-tolerances", paymentTolerances, "What is let pass when customers pay"),
  asks("post", "/payment-tolerances", savePaymentTolerance, "Set them for a group", made),
  asks("get", "/sale-items", listSaleItems, "What is sold again and again, and what it proposes"),
  asks("post", "/sale-items", saveSaleItem, "Add an item, or change it", made),
  asks("get", "/price-indices", priceIndices, "Indices that agreements follow"),
  asks("post", "/price-indices", savePriceIndex, "Write the values of an index", made),
  asks("get", "/customer-groups", customerGroups, "Groups of customers, and how they are ranked"),
  asks("post", "/customer-groups", saveCustomerGroup, "Add a group, or change how it ranks", made),
  asks("get", "/reminder-levels", reminderProcedures, "How groups of customers are reminded"),
  asks("post", "/reminder-levels", saveReminders, "Set the levels of a group", made),
  asks("get", "/late-rates", lateRates, "Rates of interest on late payment, as the law has them"),
  asks("post", "/late-rates", saveLateRates, "Write the rates", made),
  asks("get", "/receivables-settings", receivablesSettings, "Settings of receivables"),
  asks("post", "/receivables-settings", saveReceivablesSettings, "Change them", made),
  asks(
    "post",
    "/sales/load",
    loadSales,
    "Check sales invoices as a table; with take, take them in as drafts",
    LOADED,
  ),
  asks(
    "post",
    "/receipts/load",
    loadReceipts,
    "Check receipts as a table; with take, take them in",
  ),
];
