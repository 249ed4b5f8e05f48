import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { INTO, type IntakeContent } from "@/core/assets";
import { readCoding } from "@/core/ledger";
import { companyOfIntake } from "./companyOfIntake";
import {
  dayField,
  fail,
  minor,
  ok,
  readAmount,
  split,
  textRecord,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";

const chosen = array()
  .of(object({ id: number().integer().required(), version: number().integer().required() }))
  .min(1, "Choose a line")
  .max(2000)
  .required();

const contentSchema = object({
  into: string().oneOf(INTO),
  class: string().trim().uppercase(),
  description: string().trim().max(200),
  inService: dayField(),
  quantity: string().trim().max(20),
  serial: string().trim().max(80),
  place: string().trim().max(80),
  person: string().trim().max(80),
  dimensions: textRecord(),
  asset: string().trim().uppercase().max(40),
  account: string().trim().max(20),
});

interface Held {
  id: number;
  version: number;
  amount: bigint;
  left: bigint;
  content: IntakeContent;
  mergedInto: number | null;
  company: number;
  account: number;
  book: number;
  journal: number;
  line: number;
}

/** The chosen lines, locked; refused where one was changed, taken in or is in a run meanwhile. */
async function hold(
  { tx }: Context,
  asked: readonly { id: number; version: number }[],
): Promise<Result<Held[]>> {
  const found = await rows<Held>(
    tx,
    sql`select i.id::int as id, i.version, i.amount, w.left, i.content,
        i.merged_into::int as "mergedInto", i.company_id as company, w.account, w.book,
        i.journal_id::int as journal, i.line_no as line
      from asset_intake i join lateral (select sum(e.amount)::bigint as left,
          min(e.account_id) as account, min(e.book_id)::int as book
        from asset_entry e where e.intake_id = i.id and e.part = 'waiting') w on true
      where i.id = any(${arrayOf(asked.map((a) => a.id))}::bigint[]) order by i.id for update of i`,
  );
  const versions = new Map(asked.map((a) => [a.id, a.version]));
  if (found.length < versions.size) return fail({ code: "NOT_FOUND", what: "such line" });
  if (found.some((f) => f.left === 0n))
    return fail({ code: "IN_USE", what: "A line has been taken in meanwhile" });
  if (found.some((f) => f.version !== versions.get(f.id)))
    return fail({ code: "IN_USE", what: "Somebody has changed a line meanwhile; look again" });
  const [taken] = await rows<{ number: string }>(
    tx,
    sql`select d.number from run_item v join document d on d.id = v.run_id
      where v.taken_as = 'asset-intake' and v.key = any(${arrayOf(
        found.map((f) => `intake|${f.mergedInto ?? f.id}`),
      )}::text[]) limit 1`,
  );
  return taken
    ? fail({
        code: "RUN_STANDS_IN_WAY",
        what: `${taken.number} is in preview with it; post or discard it first`,
      })
    : ok(found);
}

const inIntake = <I extends { company: string }>(i: I) => i.company;

/** Writes into lines of the intake what is to become of them: what is said, to each of them. */
export const fillIntake = defineUseCase({
  name: "fillIntake",
  kind: "write",
  rights: ["prepare.assets"],
  what: "work on the intake of assets",
  company: inIntake,
  schema: object({ company: string().required(), lines: chosen, content: contentSchema }),
  run: async (context, { company, lines, content }): Promise<Result<object>> => {
    const { tx, masters, audit } = context;
    const held = await ofCompany(context, company, lines);
    if (!held.ok) return held;
    const problems = await againstContent(context, held.value[0]!.company, content);
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    // What is not said stays; what is said as nothing is proposed again.
    const said = Object.fromEntries(
      Object.entries(content).filter(([, value]) => value !== undefined),
    ) as IntakeContent;
    const { dimensions, ...rest } = said;
    await tx.execute(sql`
      update asset_intake set version = version + 1,
        content = content || ${JSON.stringify(rest)}::jsonb || case
          when ${dimensions !== undefined} then jsonb_build_object('dimensions',
            coalesce(content->'dimensions', '{}') || ${JSON.stringify(dimensions ?? {})}::jsonb)
          else '{}' end
      where id = any(${arrayOf(held.value.map((h) => h.id))}::bigint[])`);
    await audit({
      action: "changed",
      kind: "asset intake",
      recordId: held.value
        .map((h) => h.id)
        .join(" ")
        .slice(0, 200),
      label: `${held.value.length} lines of the intake`,
      companyId: masters.companyByCode.get(company)!.id,
      after: said,
    });
    return ok({});
  },
});

async function ofCompany(
  context: Context,
  company: string,
  lines: readonly { id: number; version: number }[],
): Promise<Result<Held[]>> {
  const held = await hold(context, lines);
  if (!held.ok) return held;
  const id = companyOfIntake(context, company);
  if (!id.ok) return id;
  return held.value.every((h) => h.company === id.value)
    ? held
    : fail({ code: "NOT_FOUND", what: "such line" });
}

async function againstContent(
  { tx, masters }: Context,
  companyId: number,
  content: IntakeContent,
): Promise<Found[]> {
  const problems: Found[] = [];
  if (content.class) {
    const [found] = await rows<{ blocked: boolean }>(
      tx,
      sql`select blocked from asset_class where code = ${content.class}`,
    );
    if (!found)
      problems.push({
        code: "NOT_FOUND",
        what: `class ${content.class.slice(0, 40)}`,
        field: "class",
      });
    else if (found.blocked)
      problems.push({ code: "INVALID", what: `Class ${content.class} is blocked`, field: "class" });
  }
  if (content.asset) {
    const [found] = await rows<{ status: string }>(
      tx,
      sql`select d.status from asset a join document d on d.id = a.document_id
        where d.number = ${content.asset} and a.company_id = ${companyId}`,
    );
    if (found?.status !== "active")
      problems.push({
        code: "NOT_FOUND",
        what: `asset ${content.asset.slice(0, 40)} in use`,
        field: "asset",
      });
  }
  if (content.account) {
    const account = masters.accountByNumber.get(content.account);
    if (!account)
      problems.push({ code: "ACCOUNT_UNKNOWN", account: content.account, field: "account" });
    else if (account.control !== null)
      problems.push({
        code: "CONTROL_ACCOUNT",
        account: content.account,
        control: account.control,
        field: "account",
      });
  }
  problems.push(...readCoding(masters, null, content.dimensions ?? {}, { date: null }).found);
  if (content.quantity && !/^\d{1,9}(\.\d{1,3})?$/.test(content.quantity))
    problems.push({ code: "QUANTITY_INVALID", text: content.quantity, field: "quantity" });
  return problems;
}

/** Lets lines become one asset, with what the first of them says; or lets each be its own again. */
export const mergeIntake = defineUseCase({
  name: "mergeIntake",
  kind: "write",
  rights: ["prepare.assets"],
  what: "work on the intake of assets",
  company: inIntake,
  schema: object({
    company: string().required(),
    lines: chosen,
    /** The line whose facts hold; none where they are to be apart again. */
    into: number().integer().nullable().default(null),
  }),
  run: async (context, { company, lines, into }): Promise<Result<object>> => {
    const { tx } = context;
    const held = await ofCompany(context, company, lines);
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
    return ok({});
  },
});

/** Sets lines aside with a reason, or takes them up again. */
export const setIntakeAside = defineUseCase({
  name: "setIntakeAside",
  kind: "write",
  rights: ["prepare.assets"],
  what: "work on the intake of assets",
  company: inIntake,
  schema: object({
    company: string().required(),
    lines: chosen,
    reason: string().trim().max(200).default(""),
    again: string().oneOf(["", "yes"]).default(""),
  }),
  run: async (context, input): Promise<Result<object>> => {
    const held = await ofCompany(context, input.company, input.lines);
    if (!held.ok) return held;
    if (input.again !== "yes" && input.reason.length < 3)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    await context.tx.execute(sql`
      update asset_intake set aside = ${input.again === "yes" ? "" : input.reason},
        version = version + 1
      where id = any(${arrayOf(held.value.map((h) => h.id))}::bigint[])`);
    return ok({});
  },
});

/** Splits a line into amounts, or into so many equal parts; to the cent. */
export const splitIntake = defineUseCase({
  name: "splitIntake",
  kind: "write",
  rights: ["prepare.assets"],
  what: "work on the intake of assets",
  company: inIntake,
  schema: object({
    company: string().required(),
    id: number().integer().required(),
    version: number().integer().required(),
    /** “3” for three equal parts, or “500; 700”: the rest stays a part of its own. */
    parts: string().trim().required("Say into how many parts, or which amounts"),
  }),
  run: async (context, { company, id, version, parts }): Promise<Result<{ parts: number }>> => {
    const { tx, masters, person, now } = context;
    const held = await ofCompany(context, company, [{ id, version }]);
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
