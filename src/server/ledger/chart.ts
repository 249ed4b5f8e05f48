import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadTurnover } from "./balances";
import { listShortcuts } from "./shortcuts";
import { findPlace } from "./trialBalance";

/** The chart as screens need it: headings as a tree, accounts with their place in it. */
export const chart = defineUseCase({
  name: "chart",
  kind: "read",
  rights: [
    "read.ledger",
    "read.branch",
    "read.statements",
    "read.setup",
    "setup.organisation",
    "prepare.ledger",
  ],
  what: "see the chart of accounts",
  of: "shared",
  schema: object(),
  run: async ({ masters }) =>
    ok({
      headings: masters.headings,
      accounts: masters.accounts,
      dimensions: masters.dimensions.map(({ id, code }) => ({ id, code })),
    }),
});

/**
 * What an entry grid looks up: accounts with their balance now, and the values of each dimension
 * that take postings.
 */
async function lookupsOf(context: Context, input: { company: string; period: string }) {
  const { masters, tx } = context;
  const place = await findPlace(context, { company: input.company, period: input.period });
  const balances = new Map<number, bigint>();
  if (place.ok) {
    const { company, book, to, years } = place.value;
    for (const t of await loadTurnover(
      tx,
      {
        companyId: company.id,
        bookId: book.id,
        yearIds: [to.yearId],
        upTo: { yearId: to.yearId, no: to.no },
      },
      masters,
      years,
    ))
      balances.set(t.accountId, (balances.get(t.accountId) ?? 0n) + t.debit - t.credit);
  }
  const manual = masters.types.filter((t) => t.manual);
  const reachable = new Set(manual.flatMap((t) => t.controls));
  const shortcuts = await listShortcuts.definition.run(context, { company: input.company });
  const partners = await rows<{ code: string; name: string }>(
    tx,
    sql`select code, name from partner where not blocked order by name`,
  );
  return {
    partners,
    shortcuts: shortcuts.ok ? shortcuts.value : [],
    accounts: masters.accounts
      .filter(
        (a) =>
          !a.blocked &&
          (!a.usedBy || a.usedBy.includes(input.company)) &&
          (!a.control || reachable.has(a.control)),
      )
      .map((a) => ({
        code: a.number,
        name: a.name,
        balance: balances.get(a.id) ?? 0n,
        moved: balances.has(a.id),
        units: a.type === "units",
        partner: a.control === "payables" || a.control === "receivables",
        rules: Object.fromEntries(
          Object.entries(a.rules).map(([id, rule]) => [
            masters.dimensionById.get(Number(id))?.code ?? "",
            rule,
          ]),
        ),
      })),
    dimensions: masters.dimensions.map((d) => ({
      code: d.code,
      name: d.name,
      values: masters.dimensionValues
        .filter((v) => v.dimensionId === d.id && !v.blocked)
        .map((v) => ({ code: v.code, name: v.name, proposes: v.proposes })),
    })),
    types: manual.map((t) => ({
      code: t.code,
      name: t.name,
      naming: t.naming,
      reverses: t.reverses,
    })),
  };
}

const lookupSchema = object({ company: string().required(), period: string().required() });
export const lookups = defineUseCase({
  name: "lookups",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "prepare journals",
  company: (i) => i.company,
  schema: lookupSchema,
  run: async (context, input) => ok(await lookupsOf(context, input)),
});
/** The same for those who enter invoices. */
export const invoiceLookups = defineUseCase({
  name: "invoiceLookups",
  kind: "read",
  rights: ["prepare.payables", "prepare.receivables"],
  what: "prepare invoices",
  company: (i) => i.company,
  schema: lookupSchema,
  run: async (context, input) => ok(await lookupsOf(context, input)),
});

export const journalTypes = defineUseCase({
  name: "journalTypes",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger", "read.setup"],
  what: "see journal types",
  of: "shared",
  schema: object(),
  run: async ({ masters }) => ok(masters.types),
});
