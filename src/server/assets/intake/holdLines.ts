import { sql } from "drizzle-orm";
import { array, number, object } from "yup";
import type { IntakeContent } from "@/core/assets";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";

/** What all that people do with lines of the intake have in common. */
export const ON_INTAKE = {
  kind: "write",
  rights: ["prepare.assets"],
  what: "work on the intake of assets",
  company: (i: { company: string }) => i.company,
} as const;

/** Lines as they were seen. */
export const chosen = array()
  .of(object({ id: number().integer().required(), version: number().integer().required() }))
  .min(1, "Choose a line")
  .max(2000)
  .required();

export interface Held {
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

/** The same, where all of them are of the company. */
export async function holdLines(
  context: Context,
  company: string,
  lines: readonly { id: number; version: number }[],
): Promise<Result<Held[]>> {
  const held = await hold(context, lines);
  if (!held.ok) return held;
  const id = context.masters.companyByCode.get(company)?.id;
  return held.value.every((h) => h.company === id)
    ? held
    : fail({ code: "NOT_FOUND", what: "such line" });
}

/** Notes in the history what was done with lines. */
export const note = (
  { masters, audit }: Context,
  company: string,
  lines: readonly Held[],
  action: string,
  after: object,
): Promise<unknown> =>
  audit({
    action,
    kind: "asset intake",
    recordId: lines
      .map((l) => l.id)
      .join(" ")
      .slice(0, 200),
    label: lines.length === 1 ? "1 line of the intake" : `${lines.length} lines of the intake`,
    companyId: masters.companyByCode.get(company)!.id,
    after,
  });
