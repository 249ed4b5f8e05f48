import { sql, type SQL } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  invoiceInput,
  recurringContent,
  recurringInvoiceSchema,
  type RecurringInvoice,
} from "@/core/payables";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  readRhythm,
  rhythmText,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
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

type Content = Omit<RecurringInvoice, "name" | "rhythm">;

export const RECURRING_INVOICES: RecurringKind<Content> = {
  id: "recurring-invoice",
  noun: "recurring invoice",
  plural: "recurring invoices",
  prepare: "prepare.payables",
  partsOf: (content) => content.suppliers,
};

/** A template with what was made of its agreed total, by supplier: each has an agreement of its own. */
export interface Template extends Recurring<Content> {
  written: RecurringInvoice;
  used: Readonly<Record<string, bigint>>;
}

/** The templates that are meant, each with what was made of it. Two queries, whatever their number. */
export async function readTemplates(
  context: Context,
  where: SQL,
  options: { run?: number } = {},
): Promise<Template[]> {
  const found = await readRecurring(context, RECURRING_INVOICES, where, options);
  const used = await rows<{ id: bigint; supplier: string; amount: bigint }>(
    context.tx,
    sql`select l.from_id as id, p.code as supplier, sum(x.amount)::bigint as amount
      from document_link l join document x on x.id = l.to_id
        join invoice i on i.document_id = x.id join partner p on p.id = i.partner_id
      where l.from_id = any(${arrayOf(found.map((f) => f.id))}::bigint[]) and l.kind = 'made'
        and x.status <> 'reversed' group by 1, 2`,
  );
  const byId = new Map<number, Record<string, bigint>>();
  for (const u of used)
    byId.set(Number(u.id), { ...byId.get(Number(u.id)), [u.supplier]: u.amount });
  return found.map((f) => ({
    ...f,
    written: { ...f.content, name: f.name, rhythm: f.rhythm },
    used: byId.get(f.id) ?? {},
  }));
}

export const agreedOf = (s: Pick<Template, "content" | "currency">): Minor | null => {
  const read = s.content.agreed === "" ? null : readAmount(s.content.agreed, s.currency);
  return read?.ok ? read.amount : null;
};

/** What is left of the agreed total with a supplier. */
export const leftOf = (s: Template, agreed: Minor, supplier: string): Minor =>
  minor(agreed - (s.used[supplier] ?? 0n));

/** How many invoices of each supplier are still to come up to the last date. */
export function leftToMake(s: Template): Map<string, number> {
  const counts = new Map<string, number>();
  for (const { part } of dueOf(RECURRING_INVOICES, s, s.rhythm.until))
    counts.set(part, (counts.get(part) ?? 0) + 1);
  return counts;
}

function shown(s: Template, upTo: CalendarDate): RecurringInvoiceRow {
  const agreed = agreedOf(s);
  return {
    id: s.id,
    name: s.name,
    status: s.status,
    company: s.company,
    suppliers: s.content.suppliers,
    rhythmText: rhythmText(s.rhythm),
    due: [...new Set(dueOf(RECURRING_INVOICES, s, upTo).map((d) => d.date))],
    last: s.last,
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
      template: { ...found.written, invoice: invoiceInput(found.content.invoice) },
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
  return ok(ready.value.problems.filter((p) => !LATER.has(p.code) && p.code !== "INVOICE_DOUBLE"));
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
    const { tx, masters } = context;
    const written = input.template as RecurringInvoice;
    const company = masters.companyByCode.get(written.invoice.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: written.invoice.company, field: "company" });
    const rhythm = readRhythm(written.rhythm, context.today);
    if (!rhythm.ok) return rhythm;
    const template: RecurringInvoice = { ...written, rhythm: rhythm.value };
    const currency = template.invoice.currency || company.currency;
    if (template.agreed !== "" && !readAmount(template.agreed, currency).ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: template.agreed, field: "agreed" });
    if (template.spread && (template.agreed === "" || template.rhythm.until === ""))
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
    const problems = await problemsOf(context, template, template.rhythm.first);
    if (!problems.ok) return problems;
    const [one, ...others] = problems.value;
    if (one) return fail(one, ...others);
    const { name, rhythm: dates, ...content } = template;
    return keepRecurring(context, RECURRING_INVOICES, {
      ...input,
      name,
      content,
      rhythm: dates,
      entry: {
        companyId: company.id,
        date: dates.first,
        currency,
        title: name,
        words: `recurring ${template.suppliers.join(" ")}`,
      },
    });
  },
});

export const endRecurringInvoice = defineEnd("endRecurringInvoice", RECURRING_INVOICES);
export const skipRecurringInvoice = defineSkip("skipRecurringInvoice", RECURRING_INVOICES);
