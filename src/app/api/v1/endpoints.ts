import { array, boolean, object, string } from "yup";
import { describeFound, describeProblem, decimalText, type Found } from "@/core/shared";
import { periodKey, stateOf } from "@/core/organisation";
import { allowed, signIn } from "@/server/access";
import { statementTable, tableFile, trialBalanceTable, type FileFormat } from "@/server/files";
import { accountView, chart, journalTypes, trialBalance } from "@/server/ledger";
import { askRate, loadRates } from "@/server/rates";
import { companyList, periodList } from "@/server/organisation";
import { statement } from "@/server/statements";
import { map, money, type Endpoint } from "./endpoint";
import { INVOICE_ENDPOINTS } from "./invoiceEndpoints";
import { JOURNAL_ENDPOINTS } from "./journalEndpoints";
import { PARTNER_ENDPOINTS } from "./partnerEndpoints";
import { PURCHASE_ENDPOINTS } from "./purchaseEndpoints";
import { RUN_ENDPOINTS } from "./runEndpoints";
import { SET_UP_ENDPOINTS } from "./setUpEndpoints";
import { BANK_ENDPOINTS } from "./bankEndpoints";
import { ASSET_ENDPOINTS } from "./assetEndpoints";
import { WORK_ENDPOINTS } from "./workEndpoints";
import { DESK_ENDPOINTS } from "./deskEndpoints";
import { LETTER_ENDPOINTS } from "./letterEndpoints";
import { RECEIVABLES_ENDPOINTS } from "./receivablesEndpoints";
import { SALE_ENDPOINTS } from "./saleEndpoints";

const place = {
  company: string().required(),
  book: string(),
  period: string().required(),
  from: string(),
  asKnown: string(),
};
const format = (formats: readonly FileFormat[]) =>
  string()
    .oneOf(["json", ...formats])
    .default("json");
/** Everything that programs can ask. The document of the interface is made from this list. */
export const ENDPOINTS: readonly Endpoint[] = [
  {
    method: "post",
    path: "/tokens",
    summary:
      "A token for a person: send it as Authorization: Bearer. Whoever has a second factor gives its code",
    open: true,
    status: 201,
    example: { token: "…", expiresAt: "2026-12-05T08:00:00.000Z" },
    body: object({
      user: string().required(),
      password: string().required(),
      code: string().default("").max(40),
    }),
    handle: async ({ caller, body, origin }) => {
      if (!allowed("token", origin, 30))
        return { ok: false, problems: [{ code: "TOO_MANY_REQUESTS" }] };
      const { user, password, code } = body as { user: string; password: string; code: string };
      return map(
        await signIn(caller.database, user, password, "token", new Date(), origin, code),
        (v) => ({
          token: v.secret,
          expiresAt: v.expiresAt.toISOString(),
        }),
      );
    },
  },
  {
    method: "get",
    path: "/companies",
    summary: "Companies",
    example: {
      items: [{ code: "HSF", name: "Hollin Sound Ferries", currency: "EUR", country: "IE" }],
    },
    handle: async ({ caller }) =>
      map(await companyList(caller), (items) => ({
        items: items.map(({ code, name, currency, country }) => ({
          code,
          name,
          currency,
          country,
        })),
      })),
  },
  {
    method: "get",
    path: "/accounts",
    summary: "The chart of accounts",
    query: object({ company: string() }),
    example: {
      items: [
        {
          number: "6310",
          name: "Quay and pier maintenance",
          type: "expense",
          controlKind: null,
          heading: "63",
          monetary: false,
          currency: null,
          blocked: false,
        },
      ],
    },
    handle: async ({ caller }) =>
      map(await chart(caller), ({ accounts, headings }) => ({
        items: accounts.map((a) => ({
          number: a.number,
          name: a.name,
          type: a.type,
          controlKind: a.control,
          heading: headings.find((h) => h.id === a.headingId)?.code ?? null,
          monetary: a.monetary,
          currency: a.currency ?? null,
          blocked: a.blocked,
        })),
      })),
  },
  {
    method: "get",
    path: "/periods",
    summary: "Periods of a company with their state in each book and area",
    query: object({ company: string().required() }),
    example: {
      items: [
        {
          period: "2026-10",
          name: "Oct",
          start: "2026-10-01",
          end: "2026-10-31",
          adjustment: false,
          states: { IFRS: { ledger: "open" } },
        },
      ],
    },
    handle: async ({ caller, query }) =>
      map(await periodList(caller, query), ({ periods, books, areas }) => ({
        items: periods.map((p) => ({
          period: periodKey(p),
          name: p.name,
          start: p.start,
          end: p.end,
          adjustment: p.adjustment,
          states: Object.fromEntries(
            books.map((b) => [
              b.code,
              Object.fromEntries(areas.map((a) => [a, stateOf(p, b.id, a)])),
            ]),
          ),
        })),
      })),
  },
  {
    method: "get",
    path: "/journal-types",
    summary: "Types of journal; those that are manual can be entered",
    example: { items: [{ code: "general", name: "General", area: "ledger", manual: true }] },
    handle: async ({ caller }) =>
      map(await journalTypes(caller), (types) => ({
        items: types.map(({ code, name, area, manual }) => ({ code, name, area, manual })),
      })),
  },
  ...JOURNAL_ENDPOINTS,
  ...RUN_ENDPOINTS,
  {
    method: "get",
    path: "/rates",
    summary: "What one unit of a currency is worth in another on a day, and how that was found",
    query: object({
      from: string().required(),
      to: string().required(),
      date: string().required(),
      kind: string().default("spot"),
    }),
    example: {
      from: "GBP",
      to: "EUR",
      rate: "1.18",
      date: "2026-10-30",
      how: "spot inverse of EUR/GBP",
    },
    handle: async ({ caller, query }) => askRate(caller, query),
  },
  {
    method: "post",
    path: "/rates",
    summary: "Take rates in: all of them or none",
    body: object({
      rates: array(
        object({
          kind: string().default("spot"),
          base: string().required(),
          quote: string().required(),
          date: string().required(),
          rate: string().required(),
        }),
      ).required(),
    }),
    status: 201,
    example: { added: 1, changed: 0, same: 0 },
    handle: async ({ caller, body }) =>
      loadRates(caller, {
        rows: (body as { rates: unknown[] }).rates,
        source: "interface",
        take: true,
      }),
  },
  {
    method: "get",
    path: "/accounts/{accounts}/activity",
    summary:
      "Periods and lines of accounts with a running balance; credits are negative. Accounts: a number, a range (4010..4090), a heading, or several with commas",
    query: object({
      ...place,
      companies: string(),
      value: string(),
      amounts: string().oneOf(["total", "currency"]),
    }),
    example: {
      accounts: ["6310"],
      figures: [
        {
          company: "HSF",
          currency: "EUR",
          opening: "0.00",
          debit: "48200.00",
          credit: "0.00",
          closing: "48200.00",
          periods: [],
        },
      ],
      lines: [],
      lineCount: 0,
    },
    handle: async ({ caller, path, query }) => {
      const { companies, value, ...rest } = query as { companies?: string; value?: string };
      const list = (text: string | undefined) => (text ?? "").split(",").filter(Boolean);
      return map(
        await accountView(caller, {
          ...rest,
          account: path.accounts,
          companies: list(companies),
          values: list(value),
        }),
        (v) => ({
          accounts: v.accounts.map((a) => a.number),
          lineCount: v.lineCount,
          figures: v.figures.map(({ periods, opening, debit, credit, closing, ...f }) => {
            const text = (amount: bigint) => decimalText(amount, f.currency);
            return {
              ...f,
              opening: text(opening),
              debit: text(debit),
              credit: text(credit),
              closing: text(closing),
              periods: periods.map((p) => ({
                ...p,
                opening: text(p.opening),
                debit: text(p.debit),
                credit: text(p.credit),
                closing: text(p.closing),
                yearToDate: text(p.yearToDate),
              })),
            };
          }),
          lines: v.lines.map(({ amount, side, balance, foreignAmount, ...l }) => ({
            ...l,
            foreignAmount: decimalText(foreignAmount, l.foreignCurrency),
            debit: side === "debit" ? decimalText(amount, l.currency) : null,
            credit: side === "credit" ? decimalText(amount, l.currency) : null,
            balance: decimalText(balance, l.currency),
          })),
        }),
      );
    },
  },
  {
    method: "get",
    path: "/trial-balance",
    summary:
      "Trial balance of a company for a period or a range; credits are negative in opening and closing",
    query: object({
      ...place,
      withClosing: boolean(),
      value: string(),
      format: format(["csv", "xlsx"]),
    }),
    example: {
      company: "HSF",
      period: "2026-10",
      book: "IFRS",
      currency: "EUR",
      rows: [
        {
          account: "6310",
          name: "Quay and pier maintenance",
          opening: "0.00",
          debit: "48200.00",
          credit: "0.00",
          closing: "48200.00",
        },
      ],
      totals: { opening: "0.00", debit: "48200.00", credit: "48200.00", closing: "0.00" },
    },
    handle: async ({ caller, query }) => {
      const { format: wanted, value, ...rest } = query as { format: string; value?: string };
      const result = await trialBalance(caller, { ...rest, values: value ? [value] : [] });
      if (result.ok && wanted !== "json")
        return tableFile(trialBalanceTable(result.value), wanted as FileFormat);
      return map(result, (b) => {
        const text = money(b.currency);
        const figures = (r: {
          opening: bigint;
          debit: bigint;
          credit: bigint;
          closing: bigint;
        }) => ({
          opening: text(r.opening),
          debit: text(r.debit),
          credit: text(r.credit),
          closing: text(r.closing),
        });
        return {
          company: b.company,
          period: b.period,
          from: b.from,
          book: b.book,
          currency: b.currency,
          rows: b.rows
            .filter((r) => r.opening || r.debit || r.credit)
            .map((r) => ({ account: r.account, name: r.name, ...figures(r) })),
          uncarried: text(b.uncarried),
          totals: figures(b.totals),
        };
      });
    },
  },
  {
    method: "get",
    path: "/statements/{code}",
    summary: "A statement: income-statement or balance-sheet",
    query: object({ ...place, layout: string(), format: format(["csv", "xlsx", "pdf"]) }),
    example: {
      code: "income-statement",
      columns: [{ label: "Oct 2026" }],
      lines: [{ code: "revenue", label: "Revenue", level: 0, values: ["3925000.00"] }],
    },
    handle: async ({ caller, path, query }) => {
      const { format: wanted, ...rest } = query as { format: string };
      const result = await statement(caller, { ...rest, code: path.code });
      if (result.ok && wanted !== "json")
        return tableFile(
          statementTable(result.value, result.value.currency),
          wanted as FileFormat,
          { style: "statement" },
        );
      return map(result, (s) => ({
        code: s.code,
        company: s.company,
        period: s.period,
        book: s.book,
        currency: s.currency,
        columns: s.columns.map((c) => ({ key: c.key, label: c.label })),
        lines: s.lines.map((l) => ({
          code: l.code,
          label: l.label,
          level: l.level,
          values: l.values.map(money(s.currency)),
        })),
      }));
    },
  },
  ...PARTNER_ENDPOINTS,
  ...INVOICE_ENDPOINTS,
  ...SALE_ENDPOINTS,
  ...RECEIVABLES_ENDPOINTS,
  ...DESK_ENDPOINTS,
  ...LETTER_ENDPOINTS,
  ...PURCHASE_ENDPOINTS,
  ...WORK_ENDPOINTS,
  ...ASSET_ENDPOINTS,
  ...BANK_ENDPOINTS,
  ...SET_UP_ENDPOINTS,
];

/** Problems as programs get them: line, field, code, sentence. */
export const problemsJson = (problems: readonly Found[]) => ({
  problems: problems.map((p) => ({
    line: p.line ?? null,
    field: p.field ?? null,
    code: p.code,
    message: p.line === undefined ? describeFound(p) : describeProblem(p),
  })),
});
