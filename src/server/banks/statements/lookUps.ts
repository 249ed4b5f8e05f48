import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { likeText, rows } from "../../db";
import { searchItems, type ItemToTake } from "./lineFacts";
import { readLine } from "./viewLine";

/** Open items that a line could pay, by partner, number or amount. */
export const itemsForLine = defineUseCase({
  name: "itemsForLine",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    text: string().trim().max(60).default(""),
  }),
  run: async (context, input): Promise<Result<ItemToTake[]>> => {
    const line = await readLine(context, input.id);
    if (!line) return fail({ code: "NOT_FOUND", what: "such line of a statement" });
    if (!context.may("read.banks", line.company))
      return fail({ code: "FORBIDDEN", what: `see bank statements of ${line.company}` });
    return ok(
      await searchItems(
        context.tx,
        { companyId: line.companyId, currency: line.currency, isIn: line.amount > 0n },
        input.text,
      ),
    );
  },
});

/** Partners whose money a line could be, by code or name. */
export const partnersForLine = defineUseCase({
  name: "partnersForLine",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "shared",
  schema: object({ text: string().trim().max(60).default("") }),
  run: async ({ tx }, input): Promise<Result<PartnerChoice[]>> => {
    const like = `%${likeText(input.text)}%`;
    return ok(
      await rows<PartnerChoice>(
        tx,
        sql`select code, name, supplier, customer from partner
          where code ilike ${like} or name ilike ${like}
          order by code ilike ${input.text} desc, name, code limit 20`,
      ),
    );
  },
});

export interface PartnerChoice {
  code: string;
  name: string;
  supplier: boolean;
  customer: boolean;
}
