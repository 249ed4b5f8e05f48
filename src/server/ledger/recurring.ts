import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  amountRuleProblems,
  isBlankLine,
  journalInput,
  journalInputSchema,
  readAmountRule,
  type JournalInput,
} from "@/core/ledger";
import {
  fail,
  isCalendarDate,
  ok,
  readRhythm,
  rhythmSchema,
  rhythmText,
  type CalendarDate,
  type Found,
  type Result,
  type Rhythm,
} from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { rows } from "../db";
import {
  defineEnd,
  defineSkip,
  dueOf,
  keepRecurring,
  LATER,
  readRecurring,
  type Recurring,
  type RecurringKind,
} from "../recurring";
import { readEntries } from "./entries";

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

export const RECURRING_JOURNALS: RecurringKind<JournalInput> = {
  id: "recurring",
  noun: "recurring journal",
  plural: "recurring journals",
  prepare: "prepare.ledger",
  partsOf: () => [""],
};

function shown(r: Recurring<JournalInput>, upTo: CalendarDate): RecurringRow {
  return {
    id: r.id,
    name: r.name,
    status: r.status,
    company: r.company,
    rhythm: r.rhythm,
    rhythmText: rhythmText(r.rhythm),
    by: r.by,
    lines: r.content.lines.filter((l) => !isBlankLine(l)).length,
    due: dueOf(RECURRING_JOURNALS, r, upTo).map((d) => d.date),
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
      (await readRecurring(context, RECURRING_JOURNALS, sql`d.company_id = ${company.id}`)).map(
        (r) => shown(r, input.upTo),
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
    const [found] = await readRecurring(context, RECURRING_JOURNALS, sql`d.id = ${input.id}`);
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
  const depends = new Set(["UNBALANCED", "FOREIGN_UNBALANCED", "VALUE_UNBALANCED", "NO_AMOUNT"]);
  return [
    ...found,
    ...entries[0]!.check.problems.filter(
      (p) => !LATER.has(p.code) && !(ruled && depends.has(p.code)),
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
    const { masters } = context;
    const written = input.content as JournalInput;
    const content = { ...written, description: written.description.trim() || input.name };
    const company = masters.companyByCode.get(content.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: content.company, field: "company" });
    const rhythm = readRhythm(input.rhythm, context.today);
    if (!rhythm.ok) return rhythm;
    const problems = await problemsOf(context, content, rhythm.value.first);
    if (problems.length > 0) return fail(...problems);
    return keepRecurring(context, RECURRING_JOURNALS, {
      ...input,
      content: { ...content, date: "", reverseOn: "" },
      entry: {
        type: content.type,
        companyId: company.id,
        currency: company.currency,
        title: input.name,
        words: `recurring ${content.description}`,
      },
    });
  },
});

export const endRecurring = defineEnd("endRecurring", RECURRING_JOURNALS);
export const skipRecurring = defineSkip("skipRecurring", RECURRING_JOURNALS);
