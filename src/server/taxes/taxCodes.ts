import { sql } from "drizzle-orm";
import Decimal from "decimal.js";
import { object, string } from "yup";
import {
  CATEGORIES_OF_KIND,
  TAX_DIRECTIONS,
  taxAccountsNeeded,
  taxCodeSchema,
  type TaxCode,
  type TaxDirection,
} from "@/core/taxes";
import { fail, isCalendarDate, ok, type Found, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";

/** Tax codes, all or those of purchases or sales. */
export const readTaxCodes = (tx: Db, direction?: TaxDirection): Promise<TaxCode[]> =>
  rows<TaxCode>(
    tx,
    sql`select t.code, t.name, t.direction, t.kind, t.account, t.owed_account as "owedAccount",
      t.recoverable::text as recoverable, t.return_line as "returnLine", t.category, t.reason, t.blocked,
          coalesce((select jsonb_agg(jsonb_build_object('from', r."from", 'percent',
            r.percent::text) order by r."from") from tax_rate r where r.tax_code_id = t.id),
            '[]') as rates from tax_code t
          where ${direction ?? ""} in ('', t.direction) order by t.code`,
  );

export const listTaxCodes = defineUseCase({
  name: "listTaxCodes",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.setup", "setup.rules"],
  what: "see tax codes",
  of: "shared",
  schema: object({ direction: string().oneOf(TAX_DIRECTIONS) }),
  run: async ({ tx }, { direction }) => ok(await readTaxCodes(tx, direction)),
});

/** A tax code with its rates. A rate that has begun stays; later ones are added. */
export const saveTaxCode = defineUseCase({
  name: "saveTaxCode",
  kind: "write",
  rights: ["setup.rules"],
  what: "change tax codes",
  of: "group",
  schema: taxCodeSchema,
  run: async ({ tx, masters, today, audit }, input): Promise<Result<unknown>> => {
    const problems: Found[] = [];
    const needed = taxAccountsNeeded(input);
    for (const field of ["account", "owedAccount"] as const) {
      const account = masters.accountByNumber.get(input[field]);
      if (input[field] && !account)
        problems.push({ code: "ACCOUNT_UNKNOWN", account: input[field], field });
      else if (account && account.control !== "tax")
        problems.push({
          code: "INVALID",
          what: `Account ${account.number} is no tax account`,
          field,
        });
      else if (!account && needed[field])
        problems.push({
          code: "REQUIRED",
          what:
            field === "account"
              ? "The account of what can be deducted"
              : "The account on which it is owed",
          field,
        });
    }
    if (new Decimal(input.recoverable).gt(100))
      problems.push({
        code: "INVALID",
        what: "No more than 100 per cent can be recovered",
        field: "recoverable",
      });
    problems.push(...ofCategory(input));
    for (const r of input.rates)
      if (!isCalendarDate(r.from))
        problems.push({ code: "DATE_INVALID", text: r.from, field: "rates" });
    if (input.kind === "none" && input.rates.some((r) => !new Decimal(r.percent).isZero()))
      problems.push({
        code: "INVALID",
        what: "Nothing is charged under a code without tax: its rate is 0",
        field: "rates",
      });
    const before = (await readTaxCodes(tx)).find((t) => t.code === input.code);
    for (const r of before?.rates ?? []) {
      const now = input.rates.find((x) => x.from === r.from);
      if (r.from <= today && (!now || !new Decimal(now.percent).eq(r.percent)))
        problems.push({
          code: "IN_USE",
          what: `The rate of ${r.percent} % has held since ${r.from} and stays; add the new one with its day`,
          field: "rates",
        });
    }
    const [used] =
      before && before.direction !== input.direction ? await usedBy(tx, before.code) : [];
    if (used)
      problems.push({
        code: "IN_USE",
        what: "Taxes are recorded under this code: make another one for the other direction",
        field: "direction",
      });
    if (problems.length > 0) return fail(...problems);
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into tax_code (code, name, direction, kind, account, owed_account, recoverable, return_line,
        category, reason, blocked) values (${input.code}, ${input.name}, ${input.direction}, ${input.kind}, ${input.account},
        ${input.owedAccount}, ${input.recoverable}::numeric, ${input.returnLine},
        ${input.category}, ${input.reason}, ${input.blocked})
          on conflict (code) do update set name = excluded.name, kind = excluded.kind,
            direction = excluded.direction,
            account = excluded.account, owed_account = excluded.owed_account,
            recoverable = excluded.recoverable, return_line = excluded.return_line,
            category = excluded.category, reason = excluded.reason,
            blocked = excluded.blocked returning id`,
    );
    await tx.execute(sql`delete from tax_rate where tax_code_id = ${saved!.id}`);
    for (const r of input.rates)
      await tx.execute(
        sql`insert into tax_rate (tax_code_id, "from", percent)
          values (${saved!.id}, ${r.from}, ${r.percent}::numeric)`,
      );
    await audit({
      action: before ? "changed" : "added",
      kind: "tax code",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});

/** What stands against what a sale is to the tax office. */
function ofCategory(input: Pick<TaxCode, "category" | "kind" | "direction">): Found[] {
  const { category, kind, direction } = input;
  if (category === "") return [];
  if (direction === "purchase")
    return [{ code: "INVALID", what: "Only codes of sales have a category", field: "category" }];
  return CATEGORIES_OF_KIND[kind].includes(category)
    ? []
    : [
        {
          code: "INVALID",
          what: `Category ${category} does not fit to this kind of tax`,
          field: "category",
        },
      ];
}

const usedBy = (tx: Db, code: string): Promise<unknown[]> =>
  rows(tx, sql`select 1 from tax_record where tax_code = ${code} limit 1`);
