import { sql } from "drizzle-orm";
import {
  expectedLoss,
  LOSS_BUCKETS,
  lossBucket,
  lossRate,
  rateText,
  type LossHistory,
} from "@/core/receivables";
import type { RunItem, RunOverrides } from "@/core/runs";
import {
  amountText,
  daysBetween,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { rows, type Db } from "../../db";
import type { LossHistories } from "./lossHistory";

export interface LossesOf {
  company: { id: number; code: string; currency: string };
  on: CalendarDate;
  /** Per cent by which the rates of a group are adjusted for what is expected ahead. */
  forward: Readonly<Record<string, string>>;
}

interface Owed {
  id: bigint;
  partner: string;
  name: string;
  group: string;
  reference: string;
  document: bigint;
  due: CalendarDate;
  exposure: bigint;
}

/** What was owed on a day, item by item in the company's currency, behind an item. */
export const owedOn = (tx: Db, { company, on }: LossesOf, after: bigint, count: number) =>
  rows<Owed>(
    tx,
    sql`select * from (select i.id, i.partner, p.name, p.customer_group as "group", i.reference,
          i.document_id as document, i.due_date as due, (i.functional - coalesce((select sum(l.functional)
            from allocation_line l join allocation a on a.id = l.allocation_id
            where l.item_id = i.id and a.date <= ${on}), 0))::bigint as exposure
        from open_item i join partner p on p.code = i.partner
        where i.company_id = ${company.id} and i.area = 'receivables' and i.date <= ${on}
          and i.amount > 0 and i.id > ${String(after)}::bigint) x
      where x.exposure > 0 order by x.id limit ${count}`,
  );

const NOTHING: LossHistory = { reached: minor(0n), lost: minor(0n) };

/** The rate of a group at an age: its own, or that of all where it never came to be so old. */
export function rateOf(
  histories: LossHistories,
  forward: LossesOf["forward"],
  group: string,
  bucket: number,
): bigint {
  const own = histories.get(group)?.[bucket] ?? NOTHING;
  return lossRate(own.reached > 0n ? own : ofAll(histories, bucket), forward[group] ?? "0");
}

function ofAll(histories: LossHistories, bucket: number): LossHistory {
  const all = [...histories.values()].map((h) => h[bucket]!);
  return {
    reached: minor(all.reduce((t, h) => t + h.reached, 0n)),
    lost: minor(all.reduce((t, h) => t + h.lost, 0n)),
  };
}

/** Under which a person gives the allowance of one item. */
export const askKey = (item: bigint | number): string => `specific ${item}`;

/** Items with what is expected to be lost of each: by the matrix, or as a person has given it. */
export function lossItems(
  found: readonly Owed[],
  of: LossesOf,
  histories: LossHistories,
  { amounts }: RunOverrides,
): Result<RunItem[]> {
  const { currency } = of.company;
  const items: RunItem[] = [];
  for (const f of found) {
    const bucket = lossBucket(f.due, of.on);
    const rate = rateOf(histories, of.forward, f.group, bucket);
    const given = amounts[askKey(f.id)]?.trim() ?? "";
    const specific = given === "" ? null : specificOf(given, f, currency);
    if (specific && !specific.ok) return specific;
    const exposure = amountText(minor(f.exposure), currency);
    items.push({
      key: String(f.id),
      takes: false,
      label: f.reference,
      group: `${f.group || "no group"}, ${LOSS_BUCKETS[bucket]!.name.toLowerCase()}`,
      amount: specific ? specific.value : expectedLoss(minor(f.exposure), rate),
      why: `${f.partner} ${f.name}: ${
        specific ? `specific, of ${exposure}` : `${rateText(rate)} % of ${exposure}`
      }`.slice(0, 300),
      asks: [{ key: askKey(f.id), label: "Specific allowance", currency, given, optional: true }],
      detail: {
        document: Number(f.document),
        group: f.group,
        bucket,
        exposure: String(f.exposure),
        rate: String(rate),
        days: daysBetween(f.due, of.on),
      },
    });
  }
  return ok(items);
}

function specificOf(given: string, item: Owed, currency: string): Result<Minor> {
  const read = readAmount(given, currency);
  if (!read.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: given });
  return read.amount < 0n || read.amount > item.exposure
    ? fail({
        code: "INVALID",
        what: `The allowance of ${item.reference} lies between nothing and the ${amountText(minor(item.exposure), currency)} that are owed`,
      })
    : ok(read.amount);
}
