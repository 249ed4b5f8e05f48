import { boolean, array, object, string } from "yup";
import { orderSchema } from "@/core/purchasing";
import { decimalText } from "@/core/shared";
import { loadEInvoice, paymentRunSchema } from "@/server/payables";
import {
  createOrder,
  deleteOrder,
  placeStoredOrder,
  submitStoredOrder,
  getOrder,
  listGrni,
  listOrders,
  listGoodsReceipts,
  receiveOrder,
} from "@/server/purchasing";
import { postRun, proposeRun } from "@/server/runs";
import { listPurchaseItems, savePurchaseItem } from "@/server/trade";
import { asks } from "./asks";
import { keptEndpoints } from "./keptEndpoints";
import { listEndpoint } from "./listEndpoint";
import { idIn, map, type Endpoint } from "./endpoint";
import { unitsText } from "./plain";
import {
  getPayment,
  getPaymentFile,
  listPayments,
  makePaymentFile,
  paymentsOfRun,
} from "@/server/banks";

/** Orders, receipts, what is not invoiced, and payments. */
export const PURCHASE_ENDPOINTS: readonly Endpoint[] = [
  asks("get", "/purchase-items", listPurchaseItems, "What is bought again and again"),
  asks("post", "/purchase-items", savePurchaseItem, "Add an item, or change it", { status: 201 }),
  listEndpoint({
    path: "/orders",
    summary: "Requests and orders, with what is still to come",
    list: listOrders,
    item: ({ party: _party, ...o }) => ({
      ...o,
      net: decimalText(o.net, o.currency),
      outstanding: decimalText(o.outstanding, o.currency),
    }),
    example: {
      id: 5489,
      kind: "order",
      number: "HSF-26-O00053",
      status: "open",
      supplier: "S-135",
      net: "1344.00",
      outstanding: "224.00",
      currency: "EUR",
    },
  }),
  ...keptEndpoints({
    path: "/orders",
    key: "id",
    one: "an order",
    verb: "place",
    body: orderSchema.shape({ post: boolean().default(true) }),
    create: createOrder,
    example: { id: 5489, number: "HSF-26-O00053", status: "open" },
    post: placeStoredOrder,
    posted: "open",
    submit: submitStoredOrder,
    remove: deleteOrder,
  }),
  {
    method: "get",
    path: "/orders/{id}",
    summary: "One of them, by line: ordered, received, invoiced",
    example: {
      id: 5489,
      number: "HSF-26-O00053",
      status: "open",
      lines: [{ no: 1, quantity: "12.000", received: "10.000", invoiced: "0.000" }],
    },
    handle: async ({ caller, path }) =>
      map(await getOrder(caller, { id: idIn(path.id) }), (o) => ({
        id: o.id,
        kind: o.kind,
        number: o.number,
        status: o.status,
        version: o.version,
        supplier: o.content.supplier,
        currency: o.check.currency,
        net: decimalText(o.check.net, o.check.currency),
        lines: o.lines.map((l) => ({
          ...l,
          quantity: unitsText(l.quantity),
          received: unitsText(l.received),
          invoiced: unitsText(l.invoiced),
          deliveries: l.deliveries.map((d) => ({
            date: d.date,
            quantity: unitsText(BigInt(d.quantity)),
          })),
          net: decimalText(l.net, o.check.currency),
        })),
      })),
  },
  {
    method: "post",
    path: "/orders/{id}/receipts",
    summary: "Receive an order, in part or in full; what goes back with a minus",
    body: object({
      date: string().required(),
      note: string().default(""),
      lines: array(object({ no: string().required(), quantity: string().required() })).required(),
    }),
    status: 201,
    example: { id: 5490, number: "HSF-26-G00061", journal: "HSF-26-00790" },
    handle: async ({ caller, path, body }) =>
      receiveOrder(caller, { order: idIn(path.id), ...(body as object) }),
  },
  listEndpoint({
    path: "/goods-receipts",
    summary: "Goods and services received",
    list: listGoodsReceipts,
    item: (r) => ({ ...r, amount: decimalText(r.amount, r.currency) }),
    example: {
      id: 5490,
      number: "HSF-26-G00061",
      date: "2026-11-04",
      order: "HSF-26-O00053",
      amount: "1120.00",
      currency: "EUR",
    },
  }),
  {
    method: "get",
    path: "/received-not-invoiced",
    summary: "What is received and not invoiced on a day, with its control account beside it",
    query: object({ company: string().required(), on: string().required(), asKnown: string() }),
    example: {
      currency: "EUR",
      items: [
        {
          receipt: "HSF-25-G00001",
          order: "HSF-25-O00001",
          supplier: "S-120",
          leftover: "7.45",
          age: 364,
        },
      ],
      total: "14385.20",
      control: "14385.20",
      agrees: true,
    },
    handle: async ({ caller, query }) =>
      map(await listGrni(caller, query), (g) => {
        const text = (n: bigint) => decimalText(n, g.currency);
        return {
          currency: g.currency,
          items: g.rows.map((l) => ({
            ...l,
            received: text(l.received),
            invoiced: text(l.invoiced),
            leftover: text(l.leftover),
          })),
          total: text(g.total),
          control: text(g.control),
          agrees: g.agrees,
        };
      }),
  },
  {
    method: "post",
    path: "/e-invoices",
    summary:
      "An invoice in UBL 2.1 (EN 16931) as text: it becomes a draft, with what stands against it",
    body: object({ company: string().required(), xml: string().required() }),
    status: 201,
    example: { id: 6110, supplier: "Tarn Rope & Chain", problems: [], copies: 0 },
    handle: async ({ caller, body }) => {
      const { company, xml } = body as { company: string; xml: string };
      return loadEInvoice(caller, { company, content: Buffer.from(xml).toString("base64") });
    },
  },
  listEndpoint({
    path: "/payments",
    summary: "The register of payments",
    list: listPayments,
    item: ({ party: _party, ...p }) => ({
      ...p,
      cheque: p.cheque === "" ? null : Number(p.cheque),
      amount: decimalText(p.amount, p.currency),
      discount: decimalText(p.discount, p.currency),
    }),
    example: {
      id: 5600,
      number: "HSF-26-Z00044",
      payee: "Tarn Rope & Chain",
      amount: "2816.70",
      currency: "EUR",
      method: "cheque",
      cheque: 10418,
      status: "posted",
    },
  }),
  {
    method: "get",
    path: "/payments/{id}",
    summary: "One of them, with what it settled",
    example: { id: 5600, number: "HSF-26-Z00044", items: [] },
    handle: async ({ caller, path }) =>
      map(await getPayment(caller, { id: idIn(path.id) }), (p) => ({
        ...p,
        amount: decimalText(p.amount, p.currency),
        discount: decimalText(p.discount, p.currency),
        items: p.items.map((i) => ({
          ...i,
          taken: decimalText(i.taken, p.currency),
          discount: decimalText(i.discount, p.currency),
        })),
      })),
  },
  {
    method: "post",
    path: "/payment-runs",
    summary: "Propose a payment run; its preview is read at /runs/{id}",
    body: paymentRunSchema,
    status: 201,
    example: { id: 5601, number: "HSF-26-R0012" },
    handle: async ({ caller, body }) => proposeRun(caller, { kind: "payment", params: body }),
  },
  {
    method: "post",
    path: "/payment-runs/{id}/post",
    summary: "Post it as previewed",
    status: 201,
    example: { id: 5601, number: "HSF-26-R0012", journals: ["HSF-26-00800"] },
    handle: async ({ caller, path }) => postRun(caller, { key: path.id }),
  },
  {
    method: "post",
    path: "/payment-runs/{id}/file",
    summary:
      "Make the file of its transfers (ISO 20022 pain.001.001.09); asked again, the one that was made",
    status: 201,
    example: { name: "HSF-26-R0012.xml", content: "<?xml …" },
    handle: async ({ caller, path }) => {
      const run = idIn(path.id);
      const made = await makePaymentFile(caller, { run });
      if (made.ok) return getPaymentFile(caller, { id: made.value.id });
      const before = await paymentsOfRun(caller, { run });
      const file = before.ok ? before.value.files.at(-1) : undefined;
      return file ? getPaymentFile(caller, { id: file.id }) : made;
    },
  },
];
