import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { readRule, ruleInput, ruleText, type RuleInput } from "@/core/assets";
import { dateText, dayField, fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { chargedUpTo, holdAsset } from "./holdAsset";

/**
 * Another estimate of how an asset is used up, from a day on: its life, residual value or method.
 * What is left then is charged by it (IAS 8.36); what was charged stays.
 */
export const changeEstimate = defineUseCase({
  name: "changeEstimate",
  kind: "write",
  rights: ["prepare.assets"],
  what: "change how assets are depreciated",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    version: number().integer().required(),
    /** The one book that it holds for; all that follow the common rule where none is said. */
    book: string().trim().default(""),
    from: dayField().required("Say from which day on"),
    rule: ruleInput,
    reason: string().trim().max(200).default(""),
  }),
  run: async (context, input): Promise<Result<object>> => {
    const { tx, masters, person, now, audit } = context;
    const held = await holdAsset(context, input.id, input.version);
    if (!held.ok) return held;
    const asset = held.value;
    const book = input.book === "" ? null : masters.bookByCode.get(input.book);
    const problems: Found[] = [];
    if (book === undefined)
      problems.push({
        code: "NOT_FOUND",
        what: `book ${input.book.slice(0, 40)}`,
        field: "book",
      });
    const charged = await chargedUpTo(tx, asset.id);
    if (charged !== null && input.from <= charged)
      problems.push({
        code: "INVALID",
        what: `It has been charged up to ${dateText(charged)}; a change of estimate goes forward from a later day`,
        field: "from",
      });
    if (input.from < asset.inService)
      problems.push({
        code: "INVALID",
        what: `It is in use from ${dateText(asset.inService)} on`,
        field: "from",
      });
    if (input.reason.length < 5) problems.push({ code: "REASON_REQUIRED", field: "reason" });
    const [first, ...others] = problems;
    if (first) return fail(first, ...others);
    const rule = readRule(input.rule as RuleInput);
    await tx.execute(sql`
      insert into asset_change (asset_id, book_id, kind, "on", content, reason, made_by, made_at)
      values (${asset.id}, ${book?.id ?? 0}, 'estimate', ${input.from},
        ${JSON.stringify({ rule })}::jsonb, ${input.reason}, ${person.id}, ${now.toISOString()})`);
    await tx.execute(
      sql`update asset set version = version + 1, updated_by = ${person.id},
        updated_at = ${now.toISOString()} where document_id = ${asset.id}`,
    );
    await audit({
      action: "estimated anew",
      kind: "asset",
      recordId: String(asset.id),
      label: asset.number,
      companyId: asset.companyId,
      after: { from: input.from, book: input.book, rule: ruleText(rule), reason: input.reason },
    });
    return ok({});
  },
});
