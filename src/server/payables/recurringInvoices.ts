import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  invoiceInput,
  recurringContent,
  recurringInvoiceSchema,
  type RecurringInvoice,
} from "@/core/payables";
import {
  datesOf,
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  readDate,
  rhythmText,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { register, registerAgain, setStatus } from "../documents";
import { defineUseCase, type Context } from "../access";
import { prepare } from "./checkInvoice";

export interface RecurringInvoiceRow {
  id: number;
  name: string;
  status: "active" | "ended";
  company: string;
  suppliers: string[];
  rhythmText: string;
  due: CalendarDate[];
  last: CalendarDate | null;
  agreed: Minor | null;
  /** What is left of what was agreed; in the template's currency, with tax. */
  left: Minor | null;
  currency: string;
}

export interface RecurringInvoiceView extends RecurringInvoiceRow {
  template: RecurringInvoice;
  version: number;
  skipped: Record<string, string>;
  made: { id: number; number: string; date: CalendarDate; status: string; amount: Minor }[];
}

interface Stored {
  id: bigint;
  status: "active" | "ended";
  company: string;
  currency: string;
  content: RecurringInvoice;
  version: number;
  skipped: Record<string, string>;
  taken: string[] | null;
  /** What was made of the agreed total, by supplier: each has an agreement of its own. */
  used: Record<string, string>;
}

export const key = (id: number | bigint, date: CalendarDate, supplier: string): string =>
  `recurring-invoice|${id}|${date}|${supplier}`;

export const readTemplates = (
  context: Context,
  where: ReturnType<typeof sql>,
  { lock = false, run = 0 }: { lock?: boolean; run?: number } = {},
): Promise<Stored[]> =>
  rows<Stored>(
    context.tx,
    sql`select d.id, d.status, c.code as company, d.currency, r.content, r.version, r.skipped,
          (select jsonb_agg(v.key) from run_item v
            where v.taken_as = 'recurring-invoice'
            and v.key like 'recurring-invoice|' || d.id || '|%'
            and v.run_id <> ${run}) as taken,
          coalesce((select jsonb_object_agg(m.supplier, m.amount::text) from (
            select p.code as supplier, sum(x.amount) as amount
            from document_link l join document x on x.id = l.to_id
              join invoice i on i.document_id = x.id join partner p on p.id = i.partner_id
            where l.from_id = d.id and l.kind = 'made' and x.status <> 'reversed'
            group by 1) m), '{}') as used
        from document d join recurring_invoice r on r.document_id = d.id
          join company c on c.id = d.company_id where ${where}
          order by d.title, d.id ${lock ? sql`for update of d` : sql``}`,
  );

export const agreedOf = (s: Pick<Stored, "content" | "currency">): Minor | null => {
  const read = s.content.agreed === "" ? null : readAmount(s.content.agreed, s.currency);
  return read?.ok ? read.amount : null;
};

/** What is left of the agreed total with a supplier. */
export const leftOf = (s: Stored, agreed: Minor, supplier: string): Minor =>
  minor(agreed - BigInt(s.used[supplier] ?? "0"));

/** Dates and suppliers that are due by a day and not made or left out yet. */
export function dueOf(s: Stored, upTo: CalendarDate): { date: CalendarDate; supplier: string }[] {
  if (s.status !== "active") return [];
  const taken = new Set(s.taken ?? []);
  return datesOf(s.content.rhythm, upTo)
    .filter((d) => !(d in s.skipped))
    .flatMap((date) =>
      s.content.suppliers
        .filter((supplier) => !taken.has(key(s.id, date, supplier)))
        .map((supplier) => ({ date, supplier })),
    );
}

/** How many invoices of each supplier are still to come up to the last date. */
export function leftToMake(s: Stored): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { supplier } of dueOf(s, s.content.rhythm.until))
    counts.set(supplier, (counts.get(supplier) ?? 0) + 1);
  return counts;
}

function shown(s: Stored, upTo: CalendarDate): RecurringInvoiceRow {
  const agreed = agreedOf(s);
  const dates = (s.taken ?? []).map((k) => k.split("|")[2]!).sort();
  return {
    id: Number(s.id),
    name: s.content.name,
    status: s.status,
    company: s.company,
    suppliers: s.content.suppliers,
    rhythmText: rhythmText(s.content.rhythm),
    due: [...new Set(dueOf(s, upTo).map((d) => d.date))],
    last: dates.at(-1) ?? null,
    agreed,
    left:
      agreed === null
        ? null
        : minor(s.content.suppliers.reduce((t, code) => t + leftOf(s, agreed, code), 0n)),
    currency: s.currency,
  };
}

export const listRecurringInvoices = defineUseCase({
  name: "listRecurringInvoices",
  kind: "read",
  rights: ["read.payables"],
  what: "see recurring invoices",
  company: (i) => i.company,
  schema: object({ company: string().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<RecurringInvoiceRow[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.upTo))
      return fail({ code: "DATE_INVALID", text: input.upTo, field: "upTo" });
    return ok(
      (await readTemplates(context, sql`d.company_id = ${company.id}`)).map((s) =>
        shown(s, input.upTo),
      ),
    );
  },
});

export const getRecurringInvoice = defineUseCase({
  name: "getRecurringInvoice",
  kind: "read",
  rights: ["read.payables"],
  what: "see recurring invoices",
  of: "checked",
  schema: object({ id: number().integer().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<RecurringInvoiceView>> => {
    const [found] = await readTemplates(context, sql`d.id = ${input.id}`);
    if (!found) return fail({ code: "NOT_FOUND", what: "such recurring invoice" });
    if (!context.may("read.payables", found.company))
      return fail({ code: "FORBIDDEN", what: `see invoices of ${found.company}` });
    const made = await rows<{
      id: bigint;
      number: string;
      date: string;
      status: string;
      amount: bigint;
    }>(
      context.tx,
      sql`select x.id, coalesce(x.number, i.content->>'number') as number, x.date, x.status,
        x.amount from document_link l join document x on x.id = l.to_id
        join invoice i on i.document_id = x.id where l.from_id = ${input.id} and l.kind = 'made'
        order by x.date desc, x.id desc`,
    );
    return ok({
      ...shown(found, input.upTo),
      template: { ...found.content, invoice: invoiceInput(found.content.invoice) },
      version: found.version,
      skipped: found.skipped,
      made: made.map((m) => ({ ...m, id: Number(m.id), amount: minor(m.amount) })),
    });
  },
});

/**
 * What can be said of a template before there is a date: whatever stands against the invoice of its
 * first date, without what depends on the day.
 */
async function problemsOf(
  context: Context,
  template: RecurringInvoice,
  first: CalendarDate,
): Promise<Result<Found[]>> {
  const ready = await prepare(context, recurringContent(template, template.suppliers[0]!, first));
  if (!ready.ok) return ready;
  const later = new Set([
    "PERIOD_MISSING",
    "PERIOD_CLOSED",
    "PERIOD_CLOSING",
    "PERIOD_NOT_OPENED",
    "PERIOD_AREA",
    "FORBIDDEN",
    "VALUE_NOT_ACTIVE",
    "RATE_MISSING",
    "INVOICE_DOUBLE",
  ]);
  return ok(ready.value.problems.filter((p) => !later.has(p.code)));
}

export const saveRecurringInvoice = defineUseCase({
  name: "saveRecurringInvoice",
  kind: "write",
  rights: ["prepare.payables"],
  what: "prepare recurring invoices",
  company: (i) => i.template.invoice.company,
  schema: object({
    id: number().integer(),
    version: number().integer().default(0),
    template: recurringInvoiceSchema.required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const { tx, masters, person, now, today, audit } = context;
    const written = input.template as RecurringInvoice;
    const company = masters.companyByCode.get(written.invoice.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: written.invoice.company, field: "company" });
    const first = readDate(written.rhythm.first, today);
    const until = written.rhythm.until.trim() === "" ? "" : readDate(written.rhythm.until, today);
    if (!first)
      return fail(
        written.rhythm.first.trim() === ""
          ? { code: "REQUIRED", what: "The first date", field: "first" }
          : { code: "DATE_INVALID", text: written.rhythm.first, field: "first" },
      );
    if (until === null)
      return fail({ code: "DATE_INVALID", text: written.rhythm.until, field: "until" });
    if (until && until < first)
      return fail({ code: "INVALID", what: "It ends before it begins", field: "until" });
    const template: RecurringInvoice = { ...written, rhythm: { ...written.rhythm, first, until } };
    const currency = template.invoice.currency || company.currency;
    if (template.agreed !== "" && !readAmount(template.agreed, currency).ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: template.agreed, field: "agreed" });
    if (template.spread && (template.agreed === "" || until === ""))
      return fail({
        code: "REQUIRED",
        what: template.agreed === "" ? "What was agreed in all" : "The last date",
        field: template.agreed === "" ? "agreed" : "until",
      });
    const suppliers = new Set(
      (
        await rows<{ code: string }>(
          tx,
          sql`select code from partner where supplier and code = any(${arrayOf(template.suppliers)}::text[])`,
        )
      ).map((p) => p.code),
    );
    const unknown = template.suppliers.find((s) => !suppliers.has(s));
    if (unknown !== undefined)
      return fail({ code: "PARTNER_UNKNOWN", partner: unknown, field: "suppliers" });
    const problems = await problemsOf(context, template, first);
    if (!problems.ok) return problems;
    const [one, ...others] = problems.value;
    if (one) return fail(one, ...others);
    const content = JSON.stringify(template);
    const entry = {
      kind: "recurring-invoice" as const,
      companyId: company.id,
      date: first,
      currency,
      title: template.name,
      words: `recurring ${template.suppliers.join(" ")}`,
    };
    if (input.id !== undefined) {
      const [before] = await readTemplates(context, sql`d.id = ${input.id}`, { lock: true });
      if (!before) return fail({ code: "NOT_FOUND", what: "such recurring invoice" });
      if (before.company !== company.code)
        return fail({ code: "INVALID", what: "It belongs to another company", field: "company" });
      if (before.version !== input.version) return fail({ code: "STALE", by: "Somebody", at: "" });
      await registerAgain(tx, [{ ...entry, id: input.id }]);
      await tx.execute(
        sql`update recurring_invoice set content = ${content}::jsonb, version = version + 1,
          updated_by = ${person.id}, updated_at = ${now.toISOString()}
          where document_id = ${input.id}`,
      );
      await audit({
        action: "changed",
        kind: "recurring-invoice",
        recordId: input.id,
        label: template.name,
        companyId: company.id,
        before: before.content,
        after: template,
      });
      return ok({ id: input.id, version: before.version + 1 });
    }
    const [id] = await register(context, [{ ...entry, status: "active" }]);
    await tx.execute(
      sql`insert into recurring_invoice (document_id, content, updated_by, updated_at)
        values (${id}, ${content}::jsonb, ${person.id}, ${now.toISOString()})`,
    );
    await audit({
      action: "added",
      kind: "recurring-invoice",
      recordId: id!,
      label: template.name,
      companyId: company.id,
      after: template,
    });
    return ok({ id: id!, version: 1 });
  },
});

/**
 * Leaves a date out, takes it in again, ends a template or lets it go on. What was said before
 * stays in its history.
 */
export const changeRecurringInvoice = defineUseCase({
  name: "changeRecurringInvoice",
  kind: "write",
  rights: ["prepare.payables"],
  what: "change recurring invoices",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    what: string()
      .oneOf(["skip", "take again", "end", "go on"] as const)
      .required(),
    date: string().default(""),
    reason: string().trim().default("").max(200),
  }),
  run: async (context, input): Promise<Result<unknown>> => {
    const { tx } = context;
    const [found] = await readTemplates(context, sql`d.id = ${input.id}`, { lock: true });
    if (!found) return fail({ code: "NOT_FOUND", what: "such recurring invoice" });
    if (!context.may("prepare.payables", found.company))
      return fail({ code: "FORBIDDEN", what: `change recurring invoices of ${found.company}` });
    const skipped = { ...found.skipped };
    if (input.what === "skip") {
      if (!datesOf(found.content.rhythm, input.date).includes(input.date))
        return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
      if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
      skipped[input.date] = input.reason;
    } else if (input.what === "take again") delete skipped[input.date];
    else await setStatus(tx, [input.id], input.what === "end" ? "ended" : "active");
    await tx.execute(
      sql`update recurring_invoice set skipped = ${JSON.stringify(skipped)}::jsonb
        where document_id = ${input.id}`,
    );
    await context.audit({
      action: {
        skip: `left out ${input.date}`,
        "take again": `took ${input.date} in again`,
        end: "ended",
        "go on": "goes on",
      }[input.what],
      kind: "recurring-invoice",
      recordId: input.id,
      label: found.content.name,
      companyId: context.masters.companyByCode.get(found.company)!.id,
      after: { reason: input.reason },
    });
    return ok({});
  },
});
