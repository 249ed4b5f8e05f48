import { boolean, object, string } from "yup";
import { saleSchema } from "@/core/receivables";
import { decimalText } from "@/core/shared";
import {
  cancelSale,
  createSale,
  deleteSale,
  endAgreement,
  getAgreement,
  getSale,
  getSaleUbl,
  listAgreements,
  listDeferrals,
  listSales,
  postStoredSale,
  saveAgreement,
  sendSale,
  skipAgreement,
  submitStoredSale,
  type SaleView,
} from "@/server/receivables";
import { asks } from "./asks";
import { idIn, map, type Endpoint } from "./endpoint";
import { keptEndpoints } from "./keptEndpoints";
import { listEndpoint } from "./listEndpoint";

function saleJson(view: SaleView) {
  const text = (amount: bigint) => decimalText(amount, view.figures.currency);
  return {
    ...view.content,
    id: view.id,
    number: view.number,
    status: view.status,
    version: view.version,
    sentAt: view.sentAt,
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

/** Invoices and credit notes to customers. */
export const SALE_ENDPOINTS: readonly Endpoint[] = [
  listEndpoint({
    path: "/sales",
    summary: "Invoices and credit notes to customers, drafts first, then the newest",
    list: listSales,
    item: ({ party: _party, ...i }) => ({
      ...i,
      amount: decimalText(i.amount, i.currency),
      left: i.left === null ? null : decimalText(i.left, i.currency),
      functional: i.functional === null ? null : decimalText(i.functional, i.functionalCurrency),
    }),
    example: {
      id: 8100,
      number: "HSF-26-S00760",
      customer: "C-219",
      kind: "invoice",
      date: "2026-11-03",
      due: "2026-12-03",
      amount: "856.93",
      left: "856.93",
      currency: "EUR",
      functional: "856.93",
      functionalCurrency: "EUR",
      sent: "2026-11-05",
      status: "posted",
    },
  }),
  ...keptEndpoints({
    path: "/sales",
    key: "id",
    one: "an invoice or credit note to a customer",
    body: saleSchema.shape({ post: boolean().default(false) }),
    create: createSale,
    example: { id: 8100, number: "HSF-26-S00760", status: "posted" },
    post: postStoredSale,
    posted: "posted",
    submit: submitStoredSale,
    remove: deleteSale,
  }),
  {
    method: "get",
    path: "/sales/{id}",
    summary: "One of them, with taxes, instalments and journals",
    example: { id: 8100, number: "HSF-26-S00760", status: "posted", gross: "856.93" },
    handle: async ({ caller, path }) => map(await getSale(caller, { id: idIn(path.id) }), saleJson),
  },
  {
    method: "get",
    path: "/sales/{id}/ubl",
    summary: "A posted one as an e-invoice in UBL 2.1 (EN 16931)",
    example: { name: "HSF-26-S00760.xml", text: "<Invoice>…</Invoice>" },
    handle: async ({ caller, path }) => getSaleUbl(caller, { id: idIn(path.id) }),
  },
  {
    method: "post",
    path: "/sales/{id}/send",
    summary: "Send a posted one to its customer, as a PDF",
    status: 201,
    example: { to: "finance@chandler-brothers-freight.example" },
    handle: async ({ caller, path }) => sendSale(caller, { id: idIn(path.id) }),
  },
  {
    method: "post",
    path: "/sales/{id}/cancel",
    summary: "Cancel a posted one that has not gone out: its journals are reversed",
    body: object({ reason: string().required() }),
    status: 201,
    example: { id: 8100, journal: "HSF-26-00760", date: "2026-11-03" },
    handle: async ({ caller, path, body }) =>
      cancelSale(caller, { id: idIn(path.id), ...(body as object) }),
  },
  asks(
    "get",
    "/agreements",
    listAgreements,
    "Agreements with customers, and which are to be invoiced by a day; a run of kind agreement does it",
    { example: { items: [{ id: 9100, name: "Berth 4 by the month", due: ["2026-11-30"] }] } },
  ),
  asks(
    "get",
    "/deferrals",
    listDeferrals,
    "Revenue invoiced ahead that is not earned as a whole on a day; a run of kind deferred-revenue releases it",
    { example: { items: [], account: { number: "2425", balance: "0.00" } } },
  ),
  asks("get", "/agreements/{id}", getAgreement, "An agreement, with what was made of it", {
    example: { id: 9100, name: "Berth 4 by the month", made: [] },
  }),
  asks("post", "/agreements", saveAgreement, "Save an agreement: a new one, or a version of one", {
    status: 201,
    example: { id: 9100, version: 1 },
  }),
  asks("post", "/agreements/{id}/end", endAgreement, "End an agreement, or take it up again"),
  asks("post", "/agreements/{id}/skip", skipAgreement, "Pass over one of its dates, with a reason"),
];
