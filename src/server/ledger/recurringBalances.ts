import { isResult, type Wanted } from "@/core/ledger";
import type { Company, Period } from "@/core/organisation";
import type { Turnover } from "@/core/statements";
import type { CalendarDate } from "@/core/shared";
import type { Context } from "../access";
import { calendarOf } from "../organisation/periods";
import { loadTurnover } from "./balances";

/**
 * Looks balances up for recurring journals: one query for each choice of dimension values and year,
 * however many lines ask.
 */
export async function balancesFor(
  context: Context,
  company: Company,
  asked: readonly { date: CalendarDate; wanted: readonly Wanted[] }[],
): Promise<(date: CalendarDate, wanted: Wanted) => bigint> {
  const { tx, masters } = context;
  const { years, periods } = await calendarOf(tx, masters, company.id);
  const held = new Map<string, Turnover[]>();
  const valuesOf = ({ source, values }: Wanted): number[][] => {
    const chosen =
      source.value === null
        ? Object.entries(values).flatMap(
            ([d, code]) => masters.value(masters.dimensionByCode.get(d)?.id ?? 0, code) ?? [],
          )
        : masters.dimensionValues.filter((v) => v.code === source.value).slice(0, 1);
    return chosen.map((v) => masters.branch(v.id));
  };
  const spanOf = (
    date: CalendarDate,
    { source }: Wanted,
  ): { period: Period; from: number; to: number } | null => {
    const plain = periods.filter((p) => !p.adjustment);
    const at = plain.findIndex((p) => p.start <= date && date <= p.end);
    const period = plain[source.over === "last month" ? at - 1 : at];
    return at < 0 || !period
      ? null
      : {
          period,
          from: source.over === "balance" ? 0 : source.over === "year" ? 1 : period.no,
          to: period.no,
        };
  };
  const keyOf = (values: number[][], yearId: number): string =>
    `${yearId}|${values.map((v) => v.join(",")).join("|")}`;
  const needed = new Map<string, { values: number[][]; yearId: number }>();
  for (const { date, wanted } of asked)
    for (const w of wanted) {
      const span = spanOf(date, w);
      if (span)
        needed.set(keyOf(valuesOf(w), span.period.yearId), {
          values: valuesOf(w),
          yearId: span.period.yearId,
        });
    }
  for (const [key, { values, yearId }] of needed)
    held.set(
      key,
      await loadTurnover(
        tx,
        { companyId: company.id, bookId: masters.mainBook!.id, yearIds: [yearId], values },
        masters,
        years,
      ),
    );
  return (date, w) => {
    const span = spanOf(date, w);
    if (!span) return 0n;
    let total = 0n;
    for (const t of held.get(keyOf(valuesOf(w), span.period.yearId))!) {
      const account = masters.accountById.get(t.accountId)!;
      if (
        t.periodNo < span.from ||
        t.periodNo > span.to ||
        account.number < w.source.from ||
        !(account.number <= w.source.to || account.number.startsWith(w.source.to))
      )
        continue;
      const normal =
        account.type === "asset" || account.type === "expense" || account.type === "units"
          ? 1n
          : -1n;
      if (
        w.source.over !== "balance" &&
        !isResult(account.type) &&
        account.type !== "units" &&
        t.periodNo === 0
      )
        continue;
      total += normal * (t.debit - t.credit);
    }
    return total;
  };
}
