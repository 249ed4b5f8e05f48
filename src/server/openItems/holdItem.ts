import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { ItemControl } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { rightOn } from "./openItems";

/**
 * Holds an item back from being paid, with a reason such as a dispute; without one it is released.
 */
export const holdItem = defineUseCase({
  name: "holdItem",
  kind: "write",
  rights: ["prepare.payables", "prepare.receivables", "prepare.banks"],
  what: "hold open items",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(200),
  }),
  run: async (context, input): Promise<Result<unknown>> => {
    const [item] = await rows<{
      area: ItemControl;
      company: string;
      reference: string;
      hold: string;
      left: bigint;
    }>(
      context.tx,
      sql`select i.area, c.code as company, i.reference, i.hold, i.left_amount as "left"
        from open_item i join company c on c.id = i.company_id
        where i.id = ${input.id} for update of i`,
    );
    if (!item) return fail({ code: "NOT_FOUND", what: "such open item" });
    if (!context.may(rightOn("prepare", item.area), item.company))
      return fail({ code: "FORBIDDEN", what: `hold open items of ${item.company}` });
    if (input.reason !== "" && input.reason.length < 5)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    if (input.reason !== "" && item.left === 0n)
      return fail({
        code: "IN_USE",
        what: `${item.reference} is settled; there is nothing left to hold`,
      });
    await context.tx.execute(
      sql`update open_item set hold = ${input.reason} where id = ${input.id}`,
    );
    await context.audit({
      action: input.reason === "" ? "released" : "held",
      kind: "open item",
      recordId: input.id,
      label: item.reference,
      companyId: context.masters.companyByCode.get(item.company)!.id,
      before: { hold: item.hold },
      after: { hold: input.reason },
    });
    return ok({});
  },
});
