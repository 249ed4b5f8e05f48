import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import type { ItemControl } from "@/core/ledger";
import type { Pairing } from "@/core/openItems";
import { fail, isCalendarDate, readAmount, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { arrayOf, rows } from "../db";
import { allocate } from "./allocate";
import { rightOn } from "./openItems";

/** Sets open items of a partner against each other by hand. */
export const allocateItems = defineUseCase({
  name: "allocateItems",
  kind: "write",
  rights: ["post.payables", "post.receivables", "post.banks"],
  what: "settle open items",
  of: "checked",
  schema: object({
    date: string().required("A date is needed"),
    pairs: array(
      object({
        first: number().integer().required(),
        second: number().integer().required(),
        amount: string().default(""),
      }),
    )
      .required()
      .min(1, "Choose a debit and a credit")
      .max(2000),
  }),
  run: async (context, input): Promise<Result<{ id: number; journal: string | null }>> => {
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const [first] = await rows<{ area: ItemControl; company: string; currency: string }>(
      context.tx,
      sql`select i.area, c.code as company, i.currency from open_item i
        join company c on c.id = i.company_id where i.id = ${input.pairs[0]!.first}`,
    );
    if (!first) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("post", first.area), first.company))
      return fail({ code: "FORBIDDEN", what: `settle open items of ${first.company}` });
    const currencies = new Map(
      (
        await rows<{ id: bigint; currency: string }>(
          context.tx,
          sql`select id, currency from open_item
            where id = any(${arrayOf(input.pairs.map((p) => p.first))}::bigint[])`,
        )
      ).map((i) => [Number(i.id), i.currency]),
    );
    const pairs: Pairing[] = [];
    for (const p of input.pairs) {
      const currency = currencies.get(p.first) ?? first.currency;
      const reading = p.amount.trim() === "" ? null : readAmount(p.amount, currency);
      if (reading && !reading.ok)
        return fail({ code: "AMOUNT_NOT_NUMBER", text: p.amount, field: "amount" });
      pairs.push({
        first: p.first,
        second: p.second,
        ...(reading ? { amount: reading.amount } : {}),
      });
    }
    const done = await allocate(context, "by hand", input.date, pairs);
    if (done.ok)
      await context.audit({
        action: "settled",
        kind: "open items",
        recordId: done.value.id,
        companyId: context.masters.companyByCode.get(first.company)!.id,
        after: input,
      });
    return done;
  },
});
