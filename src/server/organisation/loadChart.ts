import { sql } from "drizzle-orm";
import { array, boolean, object } from "yup";
import { readChart, type ChartChange, type KnownChart } from "@/core/ledger";
import { fail, ok, tableRow, type Found, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { saveAccount, saveHeading } from "./chartSetUp";

/** What taking a chart in would do, or did. */
export interface LoadedChart {
  added: number;
  changed: number;
  same: number;
  /** Each of them; an account that has postings says so. */
  changes: (ChartChange & { used: boolean })[];
}

const knownChart = ({ masters }: Context): KnownChart => ({
  headings: masters.headings.map((h) => ({
    code: h.code,
    name: h.name,
    parent: h.parentId === null ? null : (masters.headingById.get(h.parentId)?.code ?? null),
  })),
  accounts: masters.accounts.map((a) => ({
    number: a.number,
    name: a.name,
    type: a.type,
    control: a.control,
    monetary: a.monetary,
    heading: masters.headingById.get(a.headingId)?.code ?? "",
    blocked: a.blocked,
    companies: [...(a.usedBy ?? [])],
    currency: a.currency ?? null,
    rules: Object.fromEntries(
      Object.entries(a.rules).map(([id, rule]) => [
        masters.dimensionById.get(Number(id))!.code,
        rule as string,
      ]),
    ),
  })),
  dimensions: masters.dimensions,
  companies: masters.companies.map((c) => c.code),
});

/**
 * Takes a chart in from a file, headings and accounts: all of it or, with one problem anywhere,
 * nothing. Without `take` it only says what would happen.
 */
export const loadChart = defineUseCase({
  name: "loadChart",
  kind: "write",
  rights: ["setup.organisation"],
  what: "load the chart of accounts",
  of: "group",
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (context, input): Promise<Result<LoadedChart>> => {
    const { tx, masters } = context;
    const plan = readChart(input.rows, knownChart(context));
    if (!plan.ok) return plan;
    const { headings, accounts, changes, same } = plan.value;
    const used = new Set(
      (
        await rows<{ number: string }>(
          tx,
          sql`select a.number from account a
            where a.number = any(${arrayOf(accounts.map((a) => a.number))}::text[])
            and exists (select 1 from account_balance b where b.account_id = a.id)`,
        )
      ).map((a) => a.number),
    );
    const problems = accounts.flatMap((a): Found[] => {
      const before = masters.accountByNumber.get(a.number);
      if (!before || !used.has(a.number)) return [];
      if (before.type === a.type && before.control === a.control) return [];
      const row = changes.find((c) => c.kind === "account" && c.number === a.number)!.row;
      return [
        {
          code: "INVALID",
          what: `Row ${row}: account ${a.number} has postings; its type and control kind stay`,
          field: "type",
        },
      ];
    });
    if (problems.length > 0) return fail(...problems);
    if (input.take) {
      for (const heading of headings) {
        const saved = await saveHeading.definition.run(context, heading);
        if (!saved.ok) return saved;
      }
      for (const account of accounts) {
        const saved = await saveAccount.definition.run(context, account);
        if (!saved.ok) return saved;
      }
    }
    return ok({
      added: changes.filter((c) => c.what === "added").length,
      changed: changes.filter((c) => c.what === "changed").length,
      same,
      changes: changes.map((c) => ({ ...c, used: c.kind === "account" && used.has(c.number) })),
    });
  },
});
