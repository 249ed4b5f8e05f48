import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  amountRuleProblems,
  computeRecurring,
  isBlankLine,
  isResult,
  journalInput,
  journalInputSchema,
  readAmountRule,
  wantedOf,
  type ComputedJournal,
  type JournalDraft,
  type JournalInput,
  type Wanted,
} from "@/core/ledger";
import type { Company, Period } from "@/core/organisation";
import type { RunItem, RunOverrides } from "@/core/runs";
import type { Turnover } from "@/core/statements";
import {
  dateText,
  datesOf,
  describeFound,
  fail,
  isCalendarDate,
  minor,
  ok,
  readDate,
  rhythmSchema,
  rhythmText,
  type CalendarDate,
  type Found,
  type Result,
  type Rhythm,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { register, registerAgain, setStatus } from "../documents";
import { defineUseCase, type Context } from "../access";
import { calendarOf } from "../organisation/periods";
import { loadTurnover } from "./balances";
import { readEntries } from "./entries";
import { gather } from "./dueReversals";

export interface RecurringRow {
  id: number;
  name: string;
  status: "active" | "ended";
  company: string;
  rhythm: Rhythm;
  rhythmText: string;
  /** Dates up to the day asked about that no run has taken. */
  due: CalendarDate[];
  last: CalendarDate | null;
  lines: number;
  by: string;
}
export interface RecurringView extends RecurringRow {
  content: JournalInput;
  version: number;
  skipped: Record<string, string>;
  /** What has been made of it, newest first. */
  made: { id: number; number: string; date: CalendarDate; total: bigint; status: string }[];
}

interface Stored {
  id: bigint;
  name: string;
  status: "active" | "ended";
  company: string;
  content: JournalInput;
  rhythm: Rhythm;
  skipped: Record<string, string>;
  version: number;
  by: string;
  taken: CalendarDate[] | null;
  last: CalendarDate | null;
}

export const recurringKey = (id: number | bigint, date: CalendarDate): string =>
  `recurring|${id}|${date}`;

const readRecurring = (
  context: Context,
  where: ReturnType<typeof sql>,
  lock = false,
): Promise<Stored[]> =>
  rows<Stored>(
    context.tx,
    sql`select d.id, d.title as name, d.status, c.code as company, r.content, r.rhythm, r.skipped,
      r.version, p.name as by,
          taken.dates as taken, taken.last
        from document d join recurring_journal r on r.document_id = d.id
          join company c on c.id = d.company_id join person p on p.id = d.created_by
        left join lateral (
          select jsonb_agg(split_part(v.key, '|', 3)) as dates, max(split_part(v.key, '|',
            3)) filter (where made.status = 'posted') as last
          from run_item v join document made on made.id = v.run_id
            where v.taken_as = 'recurring' and v.key like 'recurring|' || d.id || '|%'
        ) taken on true where ${where} order by d.title, d.id ${lock ? sql`for update of d` : sql``}`,
  );

function shown(r: Stored, upTo: CalendarDate): RecurringRow {
  const gone = new Set([...(r.taken ?? []), ...Object.keys(r.skipped)]);
  return {
    id: Number(r.id),
    name: r.name,
    status: r.status,
    company: r.company,
    rhythm: r.rhythm,
    rhythmText: rhythmText(r.rhythm),
    by: r.by,
    lines: r.content.lines.filter((l) => !isBlankLine(l)).length,
    due: r.status === "active" ? datesOf(r.rhythm, upTo).filter((d) => !gone.has(d)) : [],
    last: r.last,
  };
}

/** Recurring journals of a company, with the dates that are due by a day. */
export const listRecurring = defineUseCase({
  name: "listRecurring",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger"],
  what: "see recurring journals",
  company: (i) => i.company,
  schema: object({ company: string().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<RecurringRow[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.upTo))
      return fail({ code: "DATE_INVALID", text: input.upTo, field: "upTo" });
    return ok(
      (await readRecurring(context, sql`d.company_id = ${company.id}`)).map((r) =>
        shown(r, input.upTo),
      ),
    );
  },
});

export const getRecurring = defineUseCase({
  name: "getRecurring",
  kind: "read",
  rights: ["read.ledger", "prepare.ledger"],
  what: "see recurring journals",
  of: "checked",
  schema: object({ id: number().integer().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<RecurringView>> => {
    const [found] = await readRecurring(context, sql`d.id = ${input.id}`);
    if (!found) return fail({ code: "NOT_FOUND", what: "such recurring journal" });
    if (!context.may("read.ledger", found.company))
      return fail({ code: "FORBIDDEN", what: `see journals of ${found.company}` });
    const made = await rows<{
      id: bigint;
      number: string;
      date: string;
      total: bigint;
      status: string;
    }>(
      context.tx,
      sql`select j.id, j.number, j.date, j.total, d.status from document_link l
        join journal j on j.id = l.to_id join document d on d.id = j.id
        where l.from_id = ${input.id} and l.kind = 'made' order by j.date desc, j.id desc
        limit 200`,
    );
    return ok({
      ...shown(found, input.upTo),
      content: journalInput(found.content),
      version: found.version,
      skipped: found.skipped,
      made: made.map((m) => ({ ...m, id: Number(m.id) })),
    });
  },
});

/**
 * What can be said of the coding before there is a date and amounts: everything that stands at a
 * line and not at its amount.
 */
async function problemsOf(
  context: Context,
  content: JournalInput,
  date: CalendarDate,
): Promise<Found[]> {
  const company = context.masters.companyByCode.get(content.company)!;
  const found: Found[] = amountRuleProblems(content, context.masters, company.currency);
  const ruled = content.lines.some(
    (l) => !isBlankLine(l) && readAmountRule(l.debit || l.credit)?.kind !== "fixed",
  );
  const filled = {
    ...content,
    date,
    lines: content.lines.map((l) => ({
      ...l,
      ...Object.fromEntries(
        (["debit", "credit"] as const).flatMap((side) =>
          l[side].trim() && readAmountRule(l[side])?.kind !== "fixed" ? [[side, "1"]] : [],
        ),
      ),
    })),
  };
  const { entries } = await readEntries(context, [filled]);
  const later = new Set([
    "PERIOD_MISSING",
    "PERIOD_CLOSED",
    "PERIOD_CLOSING",
    "PERIOD_NOT_OPENED",
    "PERIOD_AREA",
    "FORBIDDEN",
    "VALUE_NOT_ACTIVE",
    "RATE_MISSING",
  ]);
  const depends = new Set(["UNBALANCED", "FOREIGN_UNBALANCED", "VALUE_UNBALANCED", "NO_AMOUNT"]);
  return [
    ...found,
    ...entries[0]!.check.problems.filter(
      (p) => !later.has(p.code) && !(ruled && depends.has(p.code)),
    ),
  ];
}

export const saveRecurring = defineUseCase({
  name: "saveRecurring",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "prepare recurring journals",
  company: (i) => i.content.company,
  schema: object({
    id: number().integer(),
    version: number().integer().default(0),
    name: string().trim().required("A name is needed").max(100),
    content: journalInputSchema.required(),
    rhythm: rhythmSchema.required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const { tx, masters, today, audit } = context;
    const written = input.content as JournalInput;
    const content = { ...written, description: written.description.trim() || input.name };
    const company = masters.companyByCode.get(content.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: content.company, field: "company" });
    const first = readDate(input.rhythm.first, today);
    const until = input.rhythm.until.trim() === "" ? "" : readDate(input.rhythm.until, today);
    if (!first)
      return fail(
        input.rhythm.first.trim() === ""
          ? { code: "REQUIRED", what: "The first date", field: "first" }
          : { code: "DATE_INVALID", text: input.rhythm.first, field: "first" },
      );
    if (until === null)
      return fail({ code: "DATE_INVALID", text: input.rhythm.until, field: "until" });
    if (until && until < first)
      return fail({ code: "INVALID", what: "It ends before it begins", field: "until" });
    const problems = await problemsOf(context, content, first);
    if (problems.length > 0) return fail(...problems);
    const rhythm = JSON.stringify({ ...input.rhythm, first, until });
    const kept = JSON.stringify({ ...content, date: "", reverseOn: "" });
    const entry = {
      kind: "recurring" as const,
      type: content.type,
      companyId: company.id,
      currency: company.currency,
      title: input.name,
      words: `recurring ${content.description}`,
    };
    if (input.id !== undefined) {
      const [before] = await readRecurring(context, sql`d.id = ${input.id}`, true);
      if (!before) return fail({ code: "NOT_FOUND", what: "such recurring journal" });
      if (before.company !== company.code)
        return fail({ code: "INVALID", what: "It belongs to another company", field: "company" });
      if (before.version !== input.version) return fail({ code: "STALE", by: "Somebody", at: "" });
      await registerAgain(tx, [{ ...entry, id: input.id }]);
      await tx.execute(
        sql`update recurring_journal set content = ${kept}::jsonb, rhythm = ${rhythm}::jsonb,
          version = version + 1 where document_id = ${input.id}`,
      );
      await audit({
        action: "changed",
        kind: "recurring journal",
        recordId: input.id,
        label: input.name,
        companyId: company.id,
        before: { content: before.content, rhythm: before.rhythm },
        after: { content, rhythm: input.rhythm },
      });
      return ok({ id: input.id, version: before.version + 1 });
    }
    const [id] = await register(context, [{ ...entry, status: "active" }]);
    await tx.execute(
      sql`insert into recurring_journal (document_id, content, rhythm)
        values (${id}, ${kept}::jsonb, ${rhythm}::jsonb)`,
    );
    await audit({
      action: "added",
      kind: "recurring journal",
      recordId: id!,
      label: input.name,
      companyId: company.id,
      after: { content, rhythm: input.rhythm },
    });
    return ok({ id: id!, version: 1 });
  },
});

/** Ends a recurring journal, or takes it up again. What it has made stays. */
export const endRecurring = defineUseCase({
  name: "endRecurring",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "end recurring journals",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    to: string()
      .oneOf(["ended", "active"] as const)
      .required(),
  }),
  run: async (context, input) => {
    const [found] = await readRecurring(context, sql`d.id = ${input.id}`, true);
    if (!found) return fail({ code: "NOT_FOUND", what: "such recurring journal" });
    if (!context.may("prepare.ledger", found.company))
      return fail({ code: "FORBIDDEN", what: `prepare journals in ${found.company}` });
    await setStatus(context.tx, [input.id], input.to);
    await context.audit({
      action: input.to === "ended" ? "ended" : "taken up again",
      kind: "recurring journal",
      recordId: input.id,
      label: found.name,
      companyId: context.masters.companyByCode.get(found.company)!.id,
    });
    return ok({});
  },
});

/** Passes over one date for good, with a reason; without a reason it is due again. */
export const skipRecurring = defineUseCase({
  name: "skipRecurring",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "pass over recurring journals",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    date: string().required(),
    reason: string().trim().default("").max(200),
  }),
  run: async (context, input) => {
    const [found] = await readRecurring(context, sql`d.id = ${input.id}`, true);
    if (!found) return fail({ code: "NOT_FOUND", what: "such recurring journal" });
    if (!context.may("prepare.ledger", found.company))
      return fail({ code: "FORBIDDEN", what: `prepare journals in ${found.company}` });
    if (!datesOf(found.rhythm, input.date).includes(input.date))
      return fail({
        code: "INVALID",
        what: `${dateText(input.date)} is none of its dates`,
        field: "date",
      });
    if (found.taken?.includes(input.date))
      return fail({
        code: "IN_USE",
        what: `${dateText(input.date)} is posted or in a preview already`,
      });
    if (input.reason === "" ? !(input.date in found.skipped) : input.reason.length < 5)
      return fail({ code: "REASON_REQUIRED", field: "reason" });
    const { [input.date]: _gone, ...others } = found.skipped;
    await context.tx.execute(
      sql`update recurring_journal set skipped =
        ${JSON.stringify(input.reason === "" ? others : { ...others, [input.date]: input.reason })}::jsonb
        where document_id = ${input.id}`,
    );
    await context.audit({
      action: input.reason === "" ? "due again" : "passed over",
      kind: "recurring journal",
      recordId: input.id,
      label: `${found.name}, ${dateText(input.date)}`,
      companyId: context.masters.companyByCode.get(found.company)!.id,
      after: { reason: input.reason },
    });
    return ok({});
  },
});

/**
 * Looks balances up for recurring journals: one query for each choice of dimension values and year,
 * however many lines ask.
 */
async function balancesFor(
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
    sql`d.company_id = ${company.id}
      and d.status = 'active' ${
        only.length > 0
          ? sql`and d.id =
      any(${arrayOf(only)}::bigint[])`
          : sql``
      }`,
  );
  // What the run that is being proposed again has taken itself is due for it.
  const own =
    run === undefined
      ? new Set<string>()
      : new Set(
          (
            await rows<{ key: string }>(
              tx,
              sql`select key from run_item where run_id = ${run} and taken_as is not null`,
            )
          ).map((r) => r.key),
        );
  const due = stored
    .flatMap((r) =>
      shown(
        { ...r, taken: (r.taken ?? []).filter((d) => !own.has(recurringKey(r.id, d))) },
        upTo,
      ).due.map((date) => ({
        r,
        date,
        content: journalInput(r.content),
        key: recurringKey(r.id, date),
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
