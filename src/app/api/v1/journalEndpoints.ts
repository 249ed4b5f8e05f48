import { boolean, object, string } from "yup";
import { decimalText } from "@/core/shared";
import { batchSchema, journalRequestSchema } from "@/core/ledger";
import { readOutside } from "@/server/files";
import {
  createBatch,
  createJournal,
  deleteBatch,
  deleteDraft,
  getBatch,
  getJournal,
  listBatches,
  listJournals,
  LOAD_MODES,
  loadCells,
  postBatch,
  postStoredDraft,
  reverseJournal,
  submitBatch,
  submitStoredDraft,
  type JournalView,
} from "@/server/ledger";
import { asks } from "./asks";
import { map, money, type Endpoint } from "./endpoint";
import { keptEndpoints } from "./keptEndpoints";
import { listEndpoint } from "./listEndpoint";

function journalJson(view: JournalView) {
  if (view.kind === "draft")
    return {
      ...view.content,
      id: view.id,
      number: null,
      status: view.status,
      version: view.version,
      currency: view.currency,
    };
  const text = money(view.currency);
  return {
    id: view.id,
    number: view.number,
    status: view.status,
    company: view.company,
    type: view.type,
    book: view.book,
    date: view.date,
    period: view.period,
    currency: view.currency,
    description: view.description,
    reference: view.reference,
    total: text(view.total),
    postedBy: view.postedBy,
    postedAt: view.postedAt,
    reverses: view.reverses?.number ?? null,
    reversedBy: view.reversedBy?.number ?? null,
    lines: view.lines.map((l) => ({
      line: l.lineNo,
      account: l.account,
      name: l.accountName,
      dimensions: l.dimensions,
      description: l.description,
      debit: l.side === "debit" ? text(l.amount) : null,
      credit: l.side === "credit" ? text(l.amount) : null,
    })),
  };
}

/** Journals, and batches of them. */
export const JOURNAL_ENDPOINTS: readonly Endpoint[] = [
  listEndpoint({
    path: "/journals",
    summary:
      "Journals of a company, drafts first, then the newest; account finds those with a line on it",
    list: listJournals,
    query: {
      type: string(),
      preparer: string(),
      account: string(),
      amountFrom: string(),
      amountTo: string(),
    },
    item: ({ id, number, status, date, type, description, amount, currency }) => ({
      id,
      number,
      status,
      date,
      type,
      description,
      amount: decimalText(amount, currency),
      currency,
    }),
    example: {
      id: 5012,
      number: "HSF-26-00731",
      status: "posted",
      date: "2026-10-31",
      type: "Payroll",
      description: "Payroll 2026-10",
      amount: "1217303.03",
      currency: "EUR",
    },
  }),
  ...keptEndpoints({
    path: "/journals",
    key: "key",
    one: "a journal",
    body: journalRequestSchema,
    create: createJournal,
    example: { id: 5012, number: "HSF-26-00732", status: "posted" },
    post: postStoredDraft,
    posted: "posted",
    submit: submitStoredDraft,
    remove: deleteDraft,
  }),
  {
    method: "post",
    path: "/journals/import",
    summary:
      "Journals from a CSV or XLSX file with headings; a column named journal keeps several apart. mode check stores nothing; draft keeps them; submit sends for approval; post posts those without problems. A journal that an earlier load brought is left and named, unless confirmed. Problems name the row of the file",
    takesFile: true,
    query: object({
      company: string().required(),
      mode: string().oneOf(LOAD_MODES).default("check"),
      type: string().default("general"),
      date: string().default(""),
      description: string().default(""),
      reference: string().default(""),
      book: string(),
      pattern: string().default(""),
      confirmed: boolean().default(false),
      source: string().default("").max(200),
    }),
    example: {
      blank: 0,
      aside: [{ row: 9, why: "subtotal" }],
      notes: [],
      journals: [
        {
          key: "A",
          id: 5012,
          number: "HSF-26-00732",
          status: "posted",
          debits: "100.00",
          credits: "100.00",
          currency: "EUR",
          rate: null,
          before: null,
          problems: [],
        },
      ],
    },
    handle: async ({ caller, query, file }) => {
      const { mode, confirmed, source, ...common } = query as {
        mode: string;
        confirmed: boolean;
        source: string;
        company: string;
        type: string;
        date: string;
        description: string;
        reference: string;
        book?: string;
        pattern: string;
      };
      const sheet = await readOutside("cells", "file", file);
      if (!sheet.ok) return sheet;
      return map(
        await loadCells(
          caller,
          sheet.value,
          { ...common, book: common.book ?? null },
          { mode, confirmed, source },
        ),
        ({ blank, aside, notes, rows, journals }) => ({
          blank,
          aside,
          notes,
          journals: journals.map((j, n) => ({
            key: j.key,
            id: j.id,
            number: j.number,
            status: j.status,
            description: j.description,
            debits: decimalText(j.debits, j.currency),
            credits: decimalText(j.credits, j.currency),
            currency: j.currency,
            rate: j.rate,
            approval: j.approval,
            before: j.before,
            problems: j.problems.map((p) => ({
              ...p,
              row: p.line === null ? null : (rows[n]![p.line - 1] ?? null),
            })),
          })),
        }),
      );
    },
  },
  {
    method: "get",
    path: "/journals/{key}",
    summary: "A journal by its id or number",
    example: { id: 5012, number: "HSF-26-00731", status: "posted", lines: [] },
    handle: async ({ caller, path }) =>
      map(await getJournal(caller, { key: path.key }), journalJson),
  },
  {
    method: "post",
    path: "/journals/{key}/reverse",
    summary:
      "Reverse a posted journal, on its own date while its period is open, else on the first open day after it",
    body: object({ date: string().nullable().default(null) }),
    status: 201,
    example: { id: 5020, number: "HSF-26-00740", date: "2026-11-01" },
    handle: async ({ caller, path, body }) =>
      reverseJournal(caller, { key: path.key, ...(body as object) }),
  },
  ...keptEndpoints({
    path: "/batches",
    key: "id",
    one: "a batch, with its control totals",
    body: batchSchema.shape({ post: boolean().default(false) }),
    create: createBatch,
    example: { id: 5200, number: "October, batch 1", status: "draft" },
    post: postBatch,
    also: ({ journals }) => ({ journals }),
    posted: "posted",
    deciding: object({ waive: string().default("") }),
    submit: submitBatch,
    remove: deleteBatch,
  }),
  listEndpoint({
    path: "/batches",
    summary: "Batches of a company, newest first, with what their papers add up to",
    list: listBatches,
    item: ({ id, name, status, period, by, journals, lines }) => ({
      id,
      name,
      status,
      period,
      by,
      journals,
      lines: lines.map(({ currency, ...l }) => ({
        currency,
        control: l.control === null ? null : decimalText(l.control, currency),
        entered: decimalText(l.entered, currency),
        difference: decimalText(l.difference, currency),
      })),
    }),
    example: {
      id: 5200,
      name: "October, batch 1",
      status: "draft",
      period: "2026-10",
      by: "Mara Ostin",
      journals: 5,
      lines: [{ currency: "EUR", control: "1200.00", entered: "1200.00", difference: "0.00" }],
    },
  }),
  asks("get", "/batches/{id}", getBatch, "A batch, with its journals and control totals", {
    example: { id: 5200, name: "October, batch 1", status: "draft", version: 1, items: [] },
  }),
];
