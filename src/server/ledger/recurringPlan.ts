import { sql } from "drizzle-orm";
import {
  computeRecurring,
  isBlankLine,
  journalInput,
  readAmountRule,
  wantedOf,
  type ComputedJournal,
  type JournalDraft,
} from "@/core/ledger";
import type { Company } from "@/core/organisation";
import type { RunItem, RunOverrides } from "@/core/runs";
import { dateText, describeFound, minor, rhythmText, type CalendarDate } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf } from "../db";
import { calendarOf } from "../organisation/periods";
import { dueOf, readRecurring } from "../recurring";
import { gather } from "./dueReversals";
import { readEntries } from "./entries";
import { RECURRING_JOURNALS } from "./recurring";
import { balancesFor } from "./recurringBalances";

export interface RecurringPlan {
  items: RunItem[];
  drafts: JournalDraft[];
  together: number[][];
}

/**
 * What recurring journals would post in a company up to a day: every date that is due, with the way
 * in which its amounts came about.
 */
export async function planRecurring(
  context: Context,
  company: Company,
  upTo: CalendarDate,
  only: readonly number[],
  overrides: RunOverrides,
  run?: number,
): Promise<RecurringPlan> {
  const { tx, masters } = context;
  const stored = await readRecurring(
    context,
    RECURRING_JOURNALS,
    sql`d.company_id = ${company.id} and ${
      only.length > 0 ? sql`d.id = any(${arrayOf(only)}::bigint[])` : sql`true`
    }`,
    { run: run ?? 0 },
  );
  const due = stored
    .flatMap((r) =>
      dueOf(RECURRING_JOURNALS, r, upTo).map(({ date, key }) => ({
        r,
        date,
        content: journalInput(r.content),
        key,
      })),
    )
    .sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0));
  const { periods } = await calendarOf(tx, masters, company.id);
  const measure = await balancesFor(
    context,
    company,
    due.map(({ content, date }) => ({ date, wanted: wantedOf(content) })),
  );
  const computed = due.map(({ r, date, content, key }): ComputedJournal => {
    const period = periods.find((p) => !p.adjustment && p.start <= date && date <= p.end);
    const named = (text: string) =>
      text
        .replace("{month}", period?.name ?? "")
        .replace("{year}", period?.yearName ?? "")
        .replace("{company}", company.name);
    const given = new Map(
      content.lines.flatMap((_, i) => {
        const text = overrides.amounts[`${key}|${i}`];
        return text === undefined ? [] : [[i, text] as const];
      }),
    );
    const result = computeRecurring(
      content,
      content.currency ?? company.currency,
      (w) => measure(date, w),
      given,
    );
    return {
      ...result,
      content: {
        ...result.content,
        date,
        description: named(content.description.trim() || r.name),
        lines: result.content.lines.map((l) => ({ ...l, description: named(l.description) })),
      },
    };
  });
  const { entries } = await readEntries(
    context,
    computed.map((c) => c.content),
  );
  const taken: { item: RunItem; drafts: JournalDraft[] }[] = due.map(
    ({ r, date, content, key }, i) => {
      const { asked, steps, problems } = computed[i]!;
      const check = entries[i]!.check;
      const waits =
        asked.length > 0 && problems.length === 0 ? "it waits for an amount" : undefined;
      // What depends on the person is asked of whoever posts: the same proposal comes out for
      // everybody.
      const stands = [
        ...problems,
        ...check.problems.filter((p) => p.code !== "FORBIDDEN" && p.code !== "PERIOD_CLOSING"),
      ]
        .map(describeFound)
        .join(" ");
      const leftOut = waits ?? (stands || undefined);
      const drafts = check.drafts.map((d) => d.draft);
      return {
        drafts: leftOut === undefined && !overrides.dropped.includes(key) ? drafts : [],
        item: {
          key,
          label: r.name,
          group: dateText(date),
          amount:
            leftOut === undefined
              ? minor(
                  (drafts[0]?.lines ?? []).reduce(
                    (t, l) => (l.side === "debit" ? t + l.amount : t),
                    0n,
                  ),
                )
              : minor(0n),
          why: `${rhythmText(r.rhythm)}, ${dateText(date)}`,
          droppable: true,
          ...(leftOut === undefined ? {} : { leftOut }),
          asks: content.lines.flatMap((l, n) =>
            !isBlankLine(l) && readAmountRule(l.debit || l.credit)?.kind === "asked"
              ? [
                  {
                    key: `${key}|${n}`,
                    label: l.description || l.account,
                    currency: content.currency ?? company.currency,
                    given: overrides.amounts[`${key}|${n}`] ?? "",
                  },
                ]
              : [],
          ),
          explanation: {
            title: r.name,
            steps: steps.length > 0 ? steps : [{ label: "Its amounts are fixed", text: "" }],
          },
        },
      };
    },
  );
  const { drafts, together } = gather(taken);
  let place = 0;
  return {
    drafts,
    together,
    items: taken.map((t) => ({ ...t.item, drafts: t.drafts.map(() => place++) })),
  };
}
