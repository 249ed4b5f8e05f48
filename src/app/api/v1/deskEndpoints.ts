import { object, string } from "yup";
import { disputeSchema, promiseSchema } from "@/core/receivables";
import { REMARK_KINDS } from "@/core/documents";
import { decimalText } from "@/core/shared";
import {
  closeDispute,
  collectionsDesk,
  deskCustomer,
  makePromise,
  openDispute,
  sayOfCustomer,
  withdrawPromise,
  type DeskRow,
} from "@/server/receivables";
import { idIn, map, money, type Endpoint } from "./endpoint";

const rowJson = (r: DeskRow, currency: string) => {
  const text = money(currency);
  return {
    customer: r.code,
    name: r.name,
    group: r.group,
    collector: r.collector,
    score: r.score,
    parts: r.parts,
    action: r.action,
    because: r.because,
    open: text(r.open),
    overdue: text(r.overdue),
    toCollect: text(r.toCollect),
    disputed: text(r.disputed),
    promised: text(r.promised),
    daysLate: r.daysLate,
    limitUsed: r.limitUsed,
    lastContact: r.lastContact,
    nextStep: r.nextStep,
    nextOn: r.nextOn,
  };
};

/** The collections desk: who is asked first and why, promises, disputes, what is said. */
export const DESK_ENDPOINTS: readonly Endpoint[] = [
  {
    method: "get",
    path: "/desk",
    summary: "Customers with anything open, by score, with the parts that make it",
    query: object({
      company: string().required(),
      collector: string(),
      group: string(),
      text: string(),
    }),
    example: {
      currency: "EUR",
      of: 57,
      items: [{ customer: "C-203", score: 65, action: "call", toCollect: "134212.70", parts: [] }],
    },
    handle: async ({ caller, query }) =>
      map(await collectionsDesk(caller, query), ({ rows, currency, of, on }) => ({
        currency,
        on,
        of,
        items: rows.map((r) => rowJson(r, currency)),
      })),
  },
  {
    method: "get",
    path: "/desk/{customer}",
    summary: "One customer: its items, what is promised and disputed of them, and what was said",
    query: object({ company: string().required() }),
    example: { customer: "C-203", score: 65, items: [], conversation: [] },
    handle: async ({ caller, path, query }) => {
      const company = String(query.company);
      const desk = await collectionsDesk(caller, { company, text: path.customer });
      const currency = desk.ok ? desk.value.currency : "EUR";
      return map(await deskCustomer(caller, { company, partner: path.customer }), (c) => ({
        ...rowJson(c.row, currency),
        lowers: c.lowers,
        contacts: c.contacts,
        items: c.items.map((i) => ({
          id: i.id,
          reference: i.reference,
          date: i.date,
          due: i.due,
          currency: i.currency,
          left: decimalText(i.left, i.currency),
          disputed: decimalText(i.disputed, i.currency),
          dispute: i.dispute,
          promised: decimalText(i.promised, i.currency),
          promisedFor: i.promisedFor,
        })),
        conversation: c.conversation,
      }));
    },
  },
  {
    method: "post",
    path: "/promises",
    summary: "Note a promise to pay; an item without an amount is promised whole",
    body: promiseSchema,
    status: 201,
    example: { id: 12 },
    handle: async ({ caller, body }) => makePromise(caller, body),
  },
  {
    method: "post",
    path: "/promises/{id}/withdraw",
    summary: "Take back a promise",
    status: 201,
    example: {},
    handle: async ({ caller, path }) => withdrawPromise(caller, { id: idIn(path.id) }),
  },
  {
    method: "post",
    path: "/disputes",
    summary: "Note that an item, or part of it, is in dispute",
    body: disputeSchema,
    status: 201,
    example: { id: 7 },
    handle: async ({ caller, body }) => openDispute(caller, body),
  },
  {
    method: "post",
    path: "/disputes/{id}/close",
    summary: "Close a dispute with its outcome: credited, upheld or part",
    body: object({ outcome: string().required(), note: string().default("") }),
    status: 201,
    example: {},
    handle: async ({ caller, path, body }) =>
      closeDispute(caller, { id: idIn(path.id), ...(body as object) }),
  },
  {
    method: "post",
    path: "/customers/{customer}/conversation",
    summary: "Note a call, a letter, a mail or a thought, and what is to be done next",
    body: object({
      company: string().required(),
      kind: string().oneOf(REMARK_KINDS).default("note"),
      text: string().required(),
      nextStep: string().default(""),
      nextOn: string(),
    }),
    status: 201,
    example: { id: 31, called: [] },
    handle: async ({ caller, path, body }) =>
      sayOfCustomer(caller, { partner: path.customer, ...(body as object) }),
  },
];
