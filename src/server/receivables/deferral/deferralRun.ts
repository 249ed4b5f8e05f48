import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import { earnedBy, toRelease } from "@/core/receivables";
import type { RunItem } from "@/core/runs";
import { dateText, fail, minor, ok, type CalendarDate, type Minor } from "@/core/shared";
import { insertAll, schema } from "../../db";
import { runPlaceUpTo } from "../../recurring";
import { defineRunKind, releaseItems } from "../../runs";
import { keyOf, waitingOf, type Waiting } from "./waiting";

interface Release {
  deferral: number;
  amount: Minor;
}

/**
 * Releases deferred revenue: what is earned by a day, less what was released before. One journal, a
 * line for each account that it waits on and each coding that it goes to.
 */
export const deferralRun = defineRunKind({
  id: "deferred-revenue",
  right: "post.receivables",
  approved: "by rules",
  schema: object({
    company: string().required(),
    upTo: string().required("The day is missing"),
  }),
  async propose(context, params, overrides, run) {
    const place = await runPlaceUpTo(context, params);
    if (!place.ok) return place;
    const { company, upTo, yearId } = place.value;
    const waiting = await waitingOf(context.tx, company.id, upTo, run ?? "free");
    const due = waiting.flatMap((w) => {
      const whole = minor(w.amount);
      const amount = toRelease(whole, w, w.method, upTo, minor(w.released));
      return amount === 0n ? [] : [{ w, earned: earnedBy(whole, w, w.method, upTo), amount }];
    });
    if (due.length === 0)
      return fail({
        code: "NOT_FOUND",
        what: `deferred revenue of ${company.name} that is earned by ${dateText(upTo)}`,
        field: "upTo",
      });
    const dropped = new Set(overrides.dropped);
    const released = due.filter(({ w }) => !dropped.has(keyOf(w.id)));
    const total = minor(released.reduce((t, d) => t + d.amount, 0n));
    const left = waiting.reduce((t, w) => t + w.amount - w.released, 0n) - total;
    return ok({
      company: company.code,
      yearId,
      date: upTo,
      title: `Deferred revenue earned by ${dateText(upTo)}, ${company.name}`.slice(0, 200),
      items: due.map(({ w, earned, amount }): RunItem => ({
        key: keyOf(w.id),
        label: `${w.number}, ${w.coding.description || `line ${w.line}`}`,
        group: w.customer,
        amount,
        why: `${dateText(w.from)} to ${dateText(w.to)}, by ${w.method}`,
        droppable: true,
        ...(dropped.has(keyOf(w.id)) ? {} : { drafts: [0] }),
        explanation: {
          title: `${w.number}, line ${w.line}`,
          steps: [
            { label: "Deferred", amount: w.amount },
            { label: "Over", text: `${dateText(w.from)} to ${dateText(w.to)}, by ${w.method}` },
            { label: `Earned by ${dateText(upTo)}`, amount: earned },
            { label: "Released before", amount: -w.released },
            { label: "Released now", amount, total: true },
          ],
        },
      })),
      drafts: released.length === 0 ? [] : [releaseJournal(company.code, upTo, released)],
      warnings: [],
      figures: [
        { label: "Earned", amount: total },
        { label: "Still deferred", amount: left },
      ],
      detail: released.map(({ w, amount }): Release => ({ deferral: w.id, amount })),
    });
  },
  async posted(context, { id, proposal }) {
    const releases = proposal.detail as Release[];
    if (releases.length === 0)
      return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to release" });
    await insertAll(
      context.tx,
      schema.deferralRelease,
      releases.map((r) => ({ deferralId: r.deferral, runId: id, amount: r.amount })),
    );
    // What is released counts from here on: what is earned later can be released by another run.
    await releaseItems(context.tx, id);
    return ok({});
  },
  async reversed({ tx }, { id }) {
    await tx.execute(sql`delete from deferral_release where run_id = ${id}`);
  },
});

/** From the liabilities to revenue, added up by account and coding. */
function releaseJournal(
  company: string,
  date: CalendarDate,
  released: readonly { w: Waiting; amount: Minor }[],
): JournalDraft {
  const text = `Deferred revenue earned by ${dateText(date)}`;
  const sums = new Map<
    string,
    { account: string; dimensions: Record<string, string>; amount: bigint }
  >();
  const add = (account: string, dimensions: Record<string, string>, amount: bigint) => {
    const key = JSON.stringify([account, Object.entries(dimensions).sort()]);
    const sum = sums.get(key) ?? { account, dimensions, amount: 0n };
    sums.set(key, { ...sum, amount: sum.amount + amount });
  };
  for (const { w, amount } of released) {
    add(w.account, {}, amount);
    add(w.coding.account, w.coding.dimensions, -amount);
  }
  return {
    company,
    type: "sales",
    book: null,
    date,
    description: text,
    lines: [...sums.values()]
      .filter((s) => s.amount !== 0n)
      .map(({ account, dimensions, amount }) => ({
        account,
        dimensions,
        description: text,
        side: amount > 0n ? ("debit" as const) : ("credit" as const),
        amount: minor(amount > 0n ? amount : -amount),
      })),
  };
}
