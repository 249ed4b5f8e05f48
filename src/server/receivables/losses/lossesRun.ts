import { sql } from "drizzle-orm";
import { object, string, type InferType } from "yup";
import type { JournalDraft } from "@/core/ledger";
import { LOSS_BUCKETS, rateText } from "@/core/receivables";
import {
  dateText,
  dayField,
  fail,
  minor,
  ok,
  textRecord,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { balanceOn } from "../../openItems";
import { loadPeriods } from "../../organisation";
import { defineRunInParts } from "../../runs";
import { lossAccounts, readLossDimensions } from "./coding";
import { lossHistory } from "./lossHistory";
import { lossItems, owedOn, type LossesOf } from "./lossItems";

const schema = object({
  company: string().required(),
  date: dayField().required("The day is missing"),
  forward: textRecord(),
});
type Params = InferType<typeof schema>;

/** So many items are computed at once. */
const AT_ONCE = 10_000;

/**
 * Expected credit losses of trade receivables by IFRS 9's simplified approach (5.5.15): each item
 * that was open on the day at the loss rate of its group and age, or with an allowance of its own;
 * one journal takes the allowance account to what that comes to.
 */
export const lossesRun = defineRunInParts({
  id: "credit-losses",
  right: "post.receivables",
  approved: "by rules",
  schema,
  parts: {
    async begin(context, params) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { of, yearId, name } = place.value;
      const accounts = lossAccounts(context.masters);
      if (!accounts.ok) return accounts;
      const [found] = await rows<{ size: number }>(
        context.tx,
        sql`select count(*)::int as size from open_item where company_id = ${of.company.id}
          and area = 'receivables' and date <= ${of.on} and amount > 0`,
      );
      if (found!.size === 0)
        return fail({
          code: "NOT_FOUND",
          what: `item that ${name} was owed on ${dateText(of.on)}`,
        });
      return ok({
        company: of.company.code,
        yearId,
        date: of.on,
        title: `Expected credit losses on ${dateText(of.on)}, ${name}`,
        size: found!.size,
      });
    },
    async stand(context, params) {
      const place = await placeOf(context, params);
      if (!place.ok) return "";
      const { company } = place.value.of;
      const [found] = await rows<{ stand: string }>(
        context.tx,
        sql`select concat_ws('|', (select seq from chain where company_id = ${company.id}),
          (select max(id) from allocation where company_id = ${company.id}),
          (select md5(string_agg(code || customer_group, ';' order by code)) from partner
            where customer)) as stand`,
      );
      return found!.stand;
    },
    async part(context, params, overrides, after) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { of } = place.value;
      const found = await owedOn(context.tx, of, BigInt(after || "0"), AT_ONCE);
      const histories = await lossHistory(context.tx, of.company.id, of.on);
      const items = lossItems(found, of, histories, overrides);
      if (!items.ok) return items;
      const last = found.length < AT_ONCE ? undefined : found.at(-1);
      return ok({ items: items.value, next: last ? String(last.id) : null });
    },
    async explain({ tx }, params, key, run) {
      const [item] = await rows<{
        label: string;
        amount: bigint;
        group: string;
        bucket: number;
        exposure: bigint;
        rate: bigint;
        days: number;
      }>(
        tx,
        sql`select label, amount, detail->>'group' as "group", (detail->>'bucket')::int as bucket,
          (detail->>'exposure')::bigint as exposure, (detail->>'rate')::bigint as rate,
          (detail->>'days')::int as days
          from run_item where run_id = ${run} and key = ${key}`,
      );
      if (!item) return { title: "Nothing is known of this item", steps: [] };
      const late = item.days > 0 ? `${item.days} days overdue` : "not due";
      return {
        title: item.label,
        steps: [
          { label: `Owed on ${dateText(params.date!)}`, amount: minor(item.exposure) },
          { label: "Age", text: `${late}: ${LOSS_BUCKETS[item.bucket]!.name}` },
          {
            label: `Rate of ${item.group || "customers without a group"}`,
            text: `${rateText(item.rate)} %`,
          },
          { label: "Allowance", amount: minor(item.amount), total: true },
        ],
      };
    },
    async finish(context, params, run) {
      const place = await placeOf(context, params);
      if (!place.ok) return place;
      const { of } = place.value;
      const accounts = lossAccounts(context.masters);
      if (!accounts.ok) return accounts;
      const [sums] = await rows<{ required: bigint; owed: bigint }>(
        context.tx,
        sql`select coalesce(sum(amount), 0)::bigint as required,
            coalesce(sum((detail->>'exposure')::bigint), 0)::bigint as owed
          from run_item where run_id = ${run} and state = 'in'`,
      );
      const allowance = context.masters.accountByNumber.get(accounts.value.lossAllowance)!;
      const held = minor(-(await balanceOn(context, of.company.id, [allowance.id], { on: of.on })));
      const required = minor(sums!.required);
      const movement = minor(required - held);
      const drafts =
        movement === 0n
          ? []
          : [movementJournal(of, movement, accounts.value, await readLossDimensions(context.tx))];
      return ok({
        drafts,
        warnings: [
          ...(movement === 0n ? ["The allowance is what it has to be: nothing is posted."] : []),
          ...(required === 0n
            ? ["Nothing was lost in three years: the rates are nil. Give allowances by hand."]
            : []),
        ],
        figures: [
          { label: "Allowance needed", amount: required },
          { label: "Allowance before", amount: held },
          { label: movement < 0n ? "Released" : "Added", amount: movement },
          { label: "Owed", amount: minor(sums!.owed) },
        ],
      });
    },
  },
});

function movementJournal(
  { company, on }: LossesOf,
  movement: Minor,
  { badDebts, lossAllowance }: { badDebts: string; lossAllowance: string },
  dimensions: Readonly<Record<string, string>>,
): JournalDraft {
  const size = minor(movement < 0n ? -movement : movement);
  const text = `Expected credit losses on ${dateText(on)}`;
  return {
    company: company.code,
    type: "sales",
    book: null,
    date: on,
    description: text,
    lines: [
      {
        account: badDebts,
        dimensions: { ...dimensions },
        description: text,
        side: movement > 0n ? "debit" : "credit",
        amount: size,
      },
      {
        account: lossAllowance,
        dimensions: {},
        description: text,
        side: movement > 0n ? "credit" : "debit",
        amount: size,
      },
    ],
  };
}

async function placeOf(
  { tx, masters }: Pick<Context, "tx" | "masters">,
  params: Params,
): Promise<Result<{ of: LossesOf; yearId: number; name: string }>> {
  const company = masters.companyByCode.get(params.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
  const on = params.date!;
  const bad = Object.entries(params.forward).find(
    ([, percent]) => !/^$|^[+-]?\d{1,3}(\.\d{1,4})?$/.test(percent.trim()),
  );
  if (bad)
    return fail({
      code: "INVALID",
      what: `Write an adjustment in per cent, like 10 or -5, for ${bad[0] || "customers without a group"}`,
      field: `forward.${bad[0]}`,
    });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= on && on <= p.end,
  );
  if (!period)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: on.slice(0, 7),
      company: company.name,
      field: "date",
    });
  const forward = Object.fromEntries(
    Object.entries(params.forward).filter(([, percent]) => percent.trim() !== ""),
  );
  return ok({ of: { company, on, forward }, yearId: period.yearId, name: company.name });
}
