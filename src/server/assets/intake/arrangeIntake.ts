import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, minor, ok, readAmount, split, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { arrayOf } from "../../db";
import { chosen, holdLines, note, ON_INTAKE } from "./holdLines";

/** Lets lines become one asset, with what the first of them says; or lets each be its own again. */
export const mergeIntake = defineUseCase({
  name: "mergeIntake",
  ...ON_INTAKE,
  schema: object({
    company: string().required(),
    lines: chosen,
    /** The line whose facts hold; none where they are to be apart again. */
    into: number().integer().nullable().default(null),
  }),
  run: async (context, { company, lines, into }): Promise<Result<object>> => {
    const { tx } = context;
    const held = await holdLines(context, company, lines);
    if (!held.ok) return held;
    const ids = held.value.map((h) => h.id);
    if (into !== null && (!ids.includes(into) || ids.length < 2))
      return fail({ code: "INVALID", what: "Choose at least two lines, and the one that holds" });
    if (new Set(held.value.map((h) => h.book)).size > 1)
      return fail({ code: "INVALID", what: "What belongs to different books stays apart" });
    // Lines that were merged into one of them come along.
    await tx.execute(sql`
      update asset_intake set version = version + 1,
        merged_into = case when id = ${into}::bigint then null else ${into}::bigint end
      where id = any(${arrayOf(ids)}::bigint[]) or merged_into = any(${arrayOf(ids)}::bigint[])`);
    await note(context, company, held.value, into === null ? "parted" : "merged", { into });
    return ok({});
  },
});

/** Sets lines aside with a reason, or takes them up again. */
export const setIntakeAside = defineUseCase({
  name: "setIntakeAside",
  ...ON_INTAKE,
  schema: object({
    company: string().required(),
    lines: chosen,
    reason: string().trim().max(200).default(""),
    again: string().oneOf(["", "yes"]).default(""),
  }),
  run: async (context, input): Promise<Result<object>> => {
    const held = await holdLines(context, input.company, input.lines);
    if (!held.ok) return held;
    if (input.again !== "yes" && input.reason.length < 3)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    await context.tx.execute(sql`
      update asset_intake set aside = ${input.again === "yes" ? "" : input.reason},
        version = version + 1
      where id = any(${arrayOf(held.value.map((h) => h.id))}::bigint[])`);
    const { company, again, reason } = input;
    await note(context, company, held.value, again === "yes" ? "taken up" : "set aside", {
      reason,
    });
    return ok({});
  },
});

/** Splits a line into amounts, or into so many equal parts; to the cent. */
export const splitIntake = defineUseCase({
  name: "splitIntake",
  ...ON_INTAKE,
  schema: object({
    company: string().required(),
    id: number().integer().required(),
    version: number().integer().required(),
    /** “3” for three equal parts, or “500; 700”: the rest stays a part of its own. */
    parts: string().trim().required("Say into how many parts, or which amounts"),
  }),
  run: async (context, { company, id, version, parts }): Promise<Result<{ parts: number }>> => {
    const { tx, masters, person, now } = context;
    const held = await holdLines(context, company, [{ id, version }]);
    if (!held.ok) return held;
    const [line] = held.value;
    const { currency } = masters.companyByCode.get(company)!;
    const amounts = amountsOf(parts, line!.left, currency);
    if (amounts === null)
      return fail({
        code: "INVALID",
        what: "Say into how many parts, like 3, or amounts that are less than the line, like 500; 700",
        field: "parts",
      });
    const [first, ...others] = amounts;
    await tx.execute(
      sql`update asset_intake set amount = amount - ${line!.left - first!}::bigint,
        version = version + 1 where id = ${id}`,
    );
    await tx.execute(sql`
      with made as (insert into asset_intake (company_id, journal_id, line_no, amount, content)
        select ${line!.company}, ${line!.journal}, ${line!.line}, x.amount,
          ${JSON.stringify(line!.content)}::jsonb
        from unnest(${arrayOf(others)}::bigint[]) x(amount) returning id, amount)
      insert into asset_entry (company_id, book_id, account_id, intake_id, part, movement, date,
        amount, made_by, made_at)
      select ${line!.company}, ${line!.book}, ${line!.account}, x.id, 'waiting', 'booked', l.date,
        x.amount, ${person.id}, ${now.toISOString()}
      from journal_line l, lateral (
        select ${id}::bigint as id, -sum(amount)::bigint as amount from made
        union all select id, amount from made) x
      where l.journal_id = ${line!.journal} and l.line_no = ${line!.line}`);
    await note(context, company, held.value, "split", { parts: amounts.map(String) });
    return ok({ parts: amounts.length });
  },
});

/** Amounts that come to the whole, as they were asked for; null where that is not understood. */
function amountsOf(parts: string, whole: bigint, currency: string): bigint[] | null {
  if (/^\d{1,3}$/.test(parts)) {
    const count = Number(parts);
    if (count < 2 || count > 200) return null;
    return split(
      minor(whole),
      Array.from({ length: count }, () => 1n),
    );
  }
  const sign = whole < 0n ? -1n : 1n;
  const amounts: bigint[] = [];
  for (const text of parts.split(";")) {
    const read = readAmount(text.trim(), currency);
    if (!read.ok || read.amount <= 0n) return null;
    amounts.push(read.amount * sign);
  }
  const rest = whole - amounts.reduce((t, a) => t + a, 0n);
  if (rest === 0n) return amounts.length > 1 ? amounts : null;
  return rest < 0n === whole < 0n ? [...amounts, rest] : null;
}
