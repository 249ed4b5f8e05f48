import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import type { LateRate } from "@/core/receivables";
import { dayField, fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { arrayOf, rows, type Db } from "../../db";

export const readLateRates = (tx: Db): Promise<LateRate[]> =>
  rows<LateRate>(tx, sql`select "from", percent from late_rate order by "from"`);

export const lateRates = defineUseCase({
  name: "lateRates",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see rates of interest on late payment",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readLateRates(tx)),
});

/** The law's rates, each from its day on: all of them at once, as they are written. */
export const saveLateRates = defineUseCase({
  name: "saveLateRates",
  kind: "write",
  rights: ["setup.rules"],
  what: "set up rates of interest on late payment",
  of: "group",
  schema: object({
    rates: array(
      object({
        from: dayField().required("Say from which day it holds"),
        percent: string()
          .trim()
          .required("A rate is needed")
          .matches(/^\d{1,3}(\.\d{1,4})?$/, "Write a rate like 10.15"),
      }),
    )
      .max(200)
      .required(),
  }),
  run: async ({ tx, audit }, { rates }): Promise<Result<object>> => {
    const days = rates.map((r) => r.from!);
    const twice = days.findIndex((d, i) => days.indexOf(d) < i);
    if (twice >= 0)
      return fail({
        code: "INVALID",
        what: "A day has one rate",
        field: `rates[${twice}].from`,
      });
    const before = await readLateRates(tx);
    await tx.execute(sql`delete from late_rate`);
    if (rates.length > 0)
      await tx.execute(
        sql`insert into late_rate ("from", percent) select * from unnest(
          ${arrayOf(days)}::date[], ${arrayOf(rates.map((r) => r.percent))}::text[])`,
      );
    await audit({
      action: "changed",
      kind: "rates of late interest",
      recordId: "late",
      before,
      after: rates,
    });
    return ok({});
  },
});
