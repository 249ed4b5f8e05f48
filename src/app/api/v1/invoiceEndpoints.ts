import { boolean, object, string } from "yup";
import { invoiceSchema } from "@/core/payables";
import { decimalText } from "@/core/shared";
import {
  cancelInvoice,
  createInvoice,
  getInvoice,
  listInvoices,
  deleteInvoice,
  postStoredInvoice,
  submitStoredInvoice,
  type InvoiceView,
} from "@/server/payables";
import { idIn, map, type Endpoint } from "./endpoint";
import { keptEndpoints } from "./keptEndpoints";
import { listEndpoint } from "./listEndpoint";

function invoiceJson(view: InvoiceView) {
  const text = (amount: bigint) => decimalText(amount, view.figures.currency);
  return {
    ...view.content,
    id: view.id,
    number: view.number,
    supplierNumber: view.content.number,
    status: view.status,
    version: view.version,
    net: text(view.figures.net),
    gross: text(view.figures.gross),
    taxes: view.figures.taxes.map((t) => ({
      code: t.code,
      percent: t.percent,
      base: text(t.base),
      tax: text(t.tax),
      reverse: t.reverse,
    })),
    instalments: view.items.map((i) => ({
      due: i.due,
      amount: text(i.amount),
      left: text(i.left),
    })),
    journals: view.journals.map((j) => j.number),
    problems: view.status === "draft" ? view.check?.problems : [],
  };
}

/** Invoices of suppliers. */
export const INVOICE_ENDPOINTS: readonly Endpoint[] = [
  listEndpoint({
    path: "/invoices",
    summary:
      "Invoices of suppliers, drafts first, then the newest; text finds by supplier, number or amount",
    list: listInvoices,
    item: ({ party: _party, ...i }) => ({
      ...i,
      amount: decimalText(i.amount, i.currency),
      left: i.left === null ? null : decimalText(i.left, i.currency),
      functional: i.functional === null ? null : decimalText(i.functional, i.functionalCurrency),
    }),
    example: {
      id: 6100,
      number: "HSF-26-P00002",
      supplier: "S-112",
      supplierNumber: "OE-26-1093",
      kind: "invoice",
      date: "2026-11-03",
      amount: "14350.00",
      left: "14350.00",
      currency: "EUR",
      functional: "14350.00",
      functionalCurrency: "EUR",
      period: "Nov 2026",
      status: "posted",
      due: "2026-12-03",
    },
  }),
  ...keptEndpoints({
    path: "/invoices",
    key: "id",
    one: "an invoice or credit note",
    body: invoiceSchema.shape({ post: boolean().default(false) }),
    create: createInvoice,
    example: { id: 6100, number: "HSF-26-P00002", status: "posted" },
    post: postStoredInvoice,
    posted: "posted",
    submit: submitStoredInvoice,
    remove: deleteInvoice,
  }),
  {
    method: "get",
    path: "/invoices/{id}",
    summary: "One of them, with taxes, instalments and journals",
    example: {
      id: 6100,
      number: "HSF-26-P00002",
      status: "posted",
      gross: "14350.00",
      taxes: [],
      instalments: [],
    },
    handle: async ({ caller, path }) =>
      map(await getInvoice(caller, { id: idIn(path.id) }), invoiceJson),
  },
  {
    method: "post",
    path: "/invoices/{id}/cancel",
    summary: "Cancel a posted invoice: its journals are reversed",
    body: object({ reason: string().required() }),
    status: 201,
    example: { id: 6100, journal: "HSF-26-00760", date: "2026-11-03" },
    handle: async ({ caller, path, body }) =>
      cancelInvoice(caller, { id: idIn(path.id), ...(body as object) }),
  },
];
