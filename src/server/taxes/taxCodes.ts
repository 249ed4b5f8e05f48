import { sql } from "drizzle-orm";
import Decimal from "decimal.js";
import { object } from "yup";
import { taxCodeSchema, type TaxCode } from "@/core/payables";
import { fail, isCalendarDate, ok, type Found, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";

export const readTaxCodes = (tx: Db): Promise<TaxCode[]> =>
  rows<TaxCode>(
    tx,
    sql`select t.code, t.name, t.kind, t.account, t.owed_account as "owedAccount",
      t.recoverable::text as recoverable, t.return_line as "returnLine", t.blocked,
          coalesce((select jsonb_agg(jsonb_build_object('from', r."from", 'percent',
            r.percent::text) order by r."from") from tax_rate r where r.tax_code_id = t.id),
            '[]') as rates from tax_code t order by t.code`,
  );

export const listTaxCodes = defineUseCase({
  name: "listTaxCodes",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.setup", "setup.rules"],
  what: "see tax codes",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readTaxCodes(tx)),
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
    for (const [field, needed] of [
      ["account", input.kind !== "none" && input.kind !== "withheld"],
      ["owedAccount", input.kind === "reverse" || input.kind === "withheld"],
    ] as const) {
      const account = masters.accountByNumber.get(input[field]);
      if (input[field] && !account)
        problems.push({ code: "ACCOUNT_UNKNOWN", account: input[field], field });
      else if (account && account.control !== "tax")
        problems.push({
          code: "INVALID",
          what: `Account ${account.number} is no tax account`,
          field,
        });
      else if (!account && needed)
        problems.push({
          code: "REQUIRED",
          what: field === "account" ? "The account of the tax" : "The account on which it is owed",
          field,
        });
    }
    if (new Decimal(input.recoverable).gt(100))
      problems.push({
        code: "INVALID",
        what: "No more than 100 per cent can be recovered",
        field: "recoverable",
      });
    for (const r of input.rates)
      if (!isCalendarDate(r.from))
        problems.push({ code: "DATE_INVALID", text: r.from, field: "rates" });
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
    if (problems.length > 0) return fail(...problems);
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into tax_code (code, name, kind, account, owed_account, recoverable, return_line,
        blocked) values (${input.code}, ${input.name}, ${input.kind}, ${input.account},
        ${input.owedAccount}, ${input.recoverable}::numeric, ${input.returnLine}, ${input.blocked})
          on conflict (code) do update set name = excluded.name, kind = excluded.kind,
            account = excluded.account, owed_account = excluded.owed_account,
            recoverable = excluded.recoverable, return_line = excluded.return_line,
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
