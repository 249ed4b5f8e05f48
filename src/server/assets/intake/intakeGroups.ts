import { sql } from "drizzle-orm";
import { EMPTY_RULE, type DepreciationRules } from "@/core/assets";
import { decimalText, minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows, type Db } from "../../db";
import type { KeptClass } from "../classes";
import { readIntake, type IntakeLine } from "./readIntake";

/** Lines that become one asset, or go the same way. */
export interface Group {
  lead: IntakeLine;
  lines: IntakeLine[];
  amount: Minor;
  /** The class of what it becomes part of. */
  classOf: KeptClass | undefined;
  /** From when on its cost counts; null where it is expensed. */
  countsFrom: CalendarDate | null;
}
/** What can be taken in: groups whose first line is complete and none of which is set aside. */
export async function completeGroups(
  { tx, masters }: Context,
  companyId: number,
  params: { date: CalendarDate; lines: readonly number[] },
  run: number | undefined,
): Promise<Group[]> {
  const { lines, classes } = await readIntake(
    tx,
    masters,
    companyId,
    sql`l.date <= ${params.date} and i.aside = '' and ${
      run === undefined
        ? sql`not exists (select 1 from run_item v where v.taken_as = 'asset-intake'
            and v.key = 'intake|' || coalesce(i.merged_into, i.id))`
        : sql`'intake|' || coalesce(i.merged_into, i.id) in (
            select v.key from run_item v where v.run_id = ${run})`
    }`,
  );
  const wanted = new Set(params.lines);
  const byClass = new Map(classes.map((c) => [c.code, c]));
  const leads = lines
    .filter((l) => l.mergedInto === null && l.missing.length === 0)
    .filter((l) => wanted.size === 0 || wanted.has(l.id));
  const existing = await assetsNamed(
    tx,
    companyId,
    leads.flatMap((l) => (l.content.asset ? [l.content.asset] : [])),
  );
  return leads.flatMap((lead): Group[] => {
    const { content } = lead;
    const grows = content.into === "addition" || content.into === "correction";
    const asset = grows ? existing.get(content.asset!) : undefined;
    // It is gone by now: the line waits.
    if (grows && !asset) return [];
    const own = [lead, ...lines.filter((l) => l.mergedInto === lead.id)];
    return [
      {
        lead,
        lines: own,
        amount: minor(own.reduce((t, l) => t + l.amount, 0n)),
        classOf: byClass.get(asset?.className ?? content.class),
        countsFrom:
          content.into === "expense"
            ? null
            : content.into === "correction"
              ? asset!.inService
              : (content.inService ?? null),
      },
    ];
  });
}

interface NamedAsset {
  id: number;
  number: string;
  className: string;
  inService: CalendarDate;
}

/** Assets in use, by their numbers. */
export async function assetsNamed(
  tx: Db,
  companyId: number,
  numbers: readonly string[],
): Promise<Map<string, NamedAsset>> {
  const found = await rows<NamedAsset>(
    tx,
    sql`select d.id::int as id, d.number, c.code as "className", a.in_service as "inService"
      from document d join asset a on a.document_id = d.id join asset_class c on c.id = a.class_id
      where a.company_id = ${companyId} and d.status = 'active'
        and d.number = any(${arrayOf(numbers)}::text[])`,
  );
  return new Map(found.map((f) => [f.number, f]));
}

/** The account on which a group's cost stands afterwards. */
export const targetOf = ({ lead, classOf }: Group): string =>
  lead.content.into === "expense" ? lead.content.account! : (classOf?.accounts.cost ?? "");

/** The rules of the class; what costs no more than its threshold is expensed at once. */
export function rulesFor({ classOf, amount }: Group, currency: string): DepreciationRules {
  const rules = classOf?.rules ?? { common: EMPTY_RULE, own: {} };
  const small =
    classOf?.threshold &&
    amount > 0n &&
    Number(decimalText(amount, currency)) <= Number(classOf.threshold);
  return small ? { common: { ...rules.common, method: "at once" }, own: {} } : rules;
}
