import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { LOSS_BUCKETS, lossBucket, rateText } from "@/core/receivables";
import { addDays, dayField, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { lossHistory } from "./lossHistory";
import { rateOf } from "./lossItems";

/** A cell of the matrix: a group of customers at an age. */
export interface LossCell {
  owed: Minor;
  reached: Minor;
  lost: Minor;
  /** Per cent, before what is expected to be different ahead. */
  rate: string;
  /** Whether it is that of all customers, as nothing of this group came to be so old. */
  ofAll: boolean;
}

export interface LossMatrix {
  currency: string;
  buckets: string[];
  groups: { code: string; name: string; cells: LossCell[] }[];
  /** The control account's balance equals this, less customers' credits. */
  credits: Minor;
}

/** What is owed by group and age, with the rates of three years: what a run of losses rests on. */
export const lossMatrix = defineUseCase({
  name: "lossMatrix",
  kind: "read",
  rights: ["read.receivables"],
  what: "see expected credit losses",
  company: (i) => i.company,
  schema: object({ company: string().required(), on: dayField().required("The day is missing") }),
  run: async ({ tx, masters }, input): Promise<Result<LossMatrix>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const on = input.on!;
    const histories = await lossHistory(tx, company.id, on);
    const edges = LOSS_BUCKETS.map((b) => (b.from <= 0 ? null : addDays(on, -b.from)));
    const found = await rows<{ group: string; due: string; owed: bigint; credit: boolean }>(
      tx,
      sql`with item as (select p.customer_group as "group", i.due_date as due,
            i.functional - coalesce((select sum(l.functional) from allocation_line l
              join allocation a on a.id = l.allocation_id
              where l.item_id = i.id and a.date <= ${on}), 0) as owed
          from open_item i join partner p on p.code = i.partner
          where i.company_id = ${company.id} and i.area = 'receivables' and i.date <= ${on})
        select "group", owed < 0 as credit, sum(owed)::bigint as owed, max(due) as due from item
          where owed <> 0
          group by "group", owed < 0, (case when owed < 0 then 0 ${sql.join(
            edges.flatMap((edge, n) =>
              edge === null
                ? []
                : [
                    sql`when due <= ${edge} and ${n === edges.length - 1 ? sql`true` : sql`due > ${edges[n + 1]!}`} then ${n}::int`,
                  ],
            ),
            sql` `,
          )} else 0 end)`,
    );
    const names = await rows<{ code: string; name: string }>(
      tx,
      sql`select code, name from customer_group order by code`,
    );
    const owing = found.filter((f) => !f.credit);
    const codes = [...names, { code: "", name: "Without a group" }].filter(
      ({ code }) => histories.has(code) || owing.some((f) => f.group === code),
    );
    return ok({
      currency: company.currency,
      buckets: LOSS_BUCKETS.map((b) => b.name),
      groups: codes.map(({ code, name }) => ({
        code,
        name,
        cells: LOSS_BUCKETS.map((_, n) => {
          const history = histories.get(code)?.[n] ?? { reached: minor(0n), lost: minor(0n) };
          return {
            owed: minor(
              owing
                .filter((f) => f.group === code && lossBucket(f.due, on) === n)
                .reduce((t, f) => t + f.owed, 0n),
            ),
            ...history,
            ofAll: history.reached <= 0n,
            rate: rateText(rateOf(histories, {}, code, n)),
          };
        }),
      })),
      credits: minor(found.filter((f) => f.credit).reduce((t, f) => t + f.owed, 0n)),
    });
  },
});
