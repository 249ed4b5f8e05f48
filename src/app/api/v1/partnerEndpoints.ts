import { array, object, string } from "yup";
import { partnerSchema } from "@/core/partners";
import { decimalText } from "@/core/shared";
import { ageing, allocateItems, openItems } from "@/server/openItems";
import { addPartnerBank, getPartner, listPartners, savePartner } from "@/server/partners";
import { map, money, type Endpoint } from "./endpoint";

const area = {
  company: string().required(),
  area: string()
    .oneOf(["payables", "receivables"] as const)
    .required(),
  on: string().required(),
  asKnown: string(),
};

/** Suppliers and customers, and what stands open with them. */
export const PARTNER_ENDPOINTS: readonly Endpoint[] = [
  {
    method: "get",
    path: "/partners",
    summary: "Suppliers and customers",
    query: object({ role: string().oneOf(["supplier", "customer"]) }),
    example: {
      items: [
        {
          code: "S-102",
          name: "Pelling Marine Fuels",
          supplier: true,
          country: "NL",
          terms: "21",
          method: "transfer",
          bank: "confirmed",
        },
      ],
    },
    handle: async ({ caller, query }) =>
      map(await listPartners(caller, query), (items) => ({
        items: items.map(({ id: _id, ...p }) => p),
      })),
  },
  {
    method: "get",
    path: "/partners/{code}",
    summary: "One of them, with bank accounts and who is like it",
    example: { code: "S-102", name: "Pelling Marine Fuels", banks: [], alike: [] },
    handle: async ({ caller, path }) =>
      map(await getPartner(caller, { code: path.code }), ({ id: _id, ...p }) => p),
  },
  {
    method: "post",
    path: "/partners",
    summary: "Add a supplier or customer, or change one: then with the version that was read",
    body: partnerSchema.shape({}),
    status: 201,
    example: { code: "S-120" },
    handle: async ({ caller, body }) =>
      map(await savePartner(caller, body), () => ({ code: (body as { code: string }).code })),
  },
  {
    method: "post",
    path: "/partners/{code}/bank-accounts",
    summary: "A new bank account; a second person confirms it in the application",
    body: object({
      iban: string().default(""),
      bic: string().default(""),
      number: string().default(""),
      routing: string().default(""),
      country: string().default(""),
      holder: string().default(""),
    }),
    status: 201,
    example: { id: 41 },
    handle: async ({ caller, path, body }) =>
      addPartnerBank(caller, { partner: path.code, ...(body as object) }),
  },
  {
    method: "get",
    path: "/open-items",
    summary: "What stood open on a day; debits are positive",
    query: object({ ...area, partner: string() }),
    example: {
      items: [
        {
          id: 3801,
          partner: "S-102",
          reference: "PI-20684",
          date: "2026-10-17",
          dueDate: "2026-11-07",
          currency: "EUR",
          amount: "-106626.08",
          left: "-106626.08",
          journal: "HSF-26-00688",
        },
      ],
    },
    handle: async ({ caller, query }) =>
      map(await openItems(caller, query), (items) => ({
        items: items.map((i) => ({
          id: i.id,
          partner: i.partner,
          kind: i.kind,
          reference: i.reference,
          date: i.date,
          dueDate: i.dueDate,
          currency: i.currency,
          amount: decimalText(i.amount, i.currency),
          left: decimalText(i.left, i.currency),
          hold: i.hold,
          journal: i.number,
        })),
      })),
  },
  {
    method: "post",
    path: "/open-items/settle",
    summary: "Set items against each other; an exchange difference is posted",
    body: object({
      date: string().required(),
      pairs: array(
        object({
          first: string().required(),
          second: string().required(),
          amount: string().default(""),
        }),
      ).required(),
    }),
    status: 201,
    example: { id: 900, journal: null },
    handle: async ({ caller, body }) => allocateItems(caller, body),
  },
  {
    method: "get",
    path: "/ageing",
    summary:
      "What is owed or due by age on a day, in functional currency, with the control accounts beside it",
    query: object(area),
    example: {
      currency: "EUR",
      columns: ["not due", "1 to 30"],
      rows: [
        {
          partner: "S-102",
          name: "Pelling Marine Fuels",
          buckets: ["223627.87", "0.00"],
          total: "223627.87",
        },
      ],
      total: "1446515.03",
      control: "1446515.03",
      agrees: true,
    },
    handle: async ({ caller, query }) =>
      map(await ageing(caller, query), (a) => {
        const text = money(a.currency);
        return {
          currency: a.currency,
          columns: a.columns,
          rows: a.rows.map((r) => ({
            partner: r.partner,
            name: r.name,
            buckets: r.buckets.map(text),
            disputed: text(r.disputed),
            promised: text(r.promised),
            total: text(r.total),
          })),
          totals: a.totals.map(text),
          total: text(a.total),
          control: text(a.control),
          agrees: a.agrees,
        };
      }),
  },
];
