import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  agreementSale,
  agreementSchema,
  indexMove,
  saleInput,
  type Agreement,
  type IndexMove,
} from "@/core/receivables";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readRhythm,
  rhythmText,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { partnersByCode } from "../../partners";
import { defineEnd, defineSkip, dueOf, keepRecurring, LATER } from "../../recurring";
import { prepareSales } from "../checkSale";
import { readPriceIndices } from "./priceIndices";
import { AGREEMENTS, moveOf, readAgreements, type KeptAgreement } from "./readAgreements";

export interface AgreementRow {
  id: number;
  name: string;
  status: "active" | "ended";
  company: string;
  customer: string;
  customerName: string;
  rhythmText: string;
  due: CalendarDate[];
  last: CalendarDate | null;
  until: CalendarDate | null;
  currency: string;
  index: string;
  /** How far its index has moved by the day in view. */
  move: IndexMove | null;
}

export interface AgreementView extends AgreementRow {
  agreement: Agreement;
  version: number;
  skipped: Record<string, string>;
  made: { id: number; number: string; date: CalendarDate; status: string; amount: Minor }[];
}

function shown(
  a: KeptAgreement,
  upTo: CalendarDate,
  names: ReadonlyMap<string, { name: string }>,
  move: IndexMove | null,
): AgreementRow {
  const { customer } = a.written.sale;
  return {
    id: a.id,
    name: a.name,
    status: a.status,
    company: a.company,
    customer,
    customerName: names.get(customer)?.name ?? customer,
    rhythmText: rhythmText(a.rhythm),
    due: dueOf(AGREEMENTS, a, upTo).map((d) => d.date),
    last: a.last,
    until: isCalendarDate(a.rhythm.until) ? a.rhythm.until : null,
    currency: a.currency,
    index: a.written.clause.index,
    move,
  };
}

const READ = ["read.receivables"] as const;

export const listAgreements = defineUseCase({
  name: "listAgreements",
  kind: "read",
  rights: READ,
  what: "see agreements",
  company: (i) => i.company,
  schema: object({ company: string().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<AgreementRow[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const { upTo } = input;
    if (!isCalendarDate(upTo)) return fail({ code: "DATE_INVALID", text: upTo, field: "upTo" });
    const found = await readAgreements(context, sql`d.company_id = ${company.id}`);
    const names = await partnersByCode(
      context.tx,
      found.map((a) => a.written.sale.customer),
    );
    const move = await moveOf(context);
    return ok(found.map((a) => shown(a, upTo, names, move(a.written, upTo))));
  },
});

export const getAgreement = defineUseCase({
  name: "getAgreement",
  kind: "read",
  rights: READ,
  what: "see agreements",
  of: "checked",
  schema: object({ id: number().integer().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<AgreementView>> => {
    const { upTo } = input;
    if (!isCalendarDate(upTo)) return fail({ code: "DATE_INVALID", text: upTo, field: "upTo" });
    const [found] = await readAgreements(context, sql`d.id = ${input.id}::bigint`);
    if (!found) return fail({ code: "NOT_FOUND", what: "such agreement" });
    if (!context.may("read.receivables", found.company))
      return fail({ code: "FORBIDDEN", what: `see agreements of ${found.company}` });
    const made = await rows<{
      id: bigint;
      number: string;
      date: string;
      status: string;
      amount: bigint;
    }>(
      context.tx,
      sql`select x.id, coalesce(x.number, x.title) as number, x.date, x.status, x.amount
        from document_link l join document x on x.id = l.to_id and x.kind = 'sale'
        where l.from_id = ${input.id}::bigint and l.kind = 'made' order by x.date desc, x.id desc`,
    );
    const names = await partnersByCode(context.tx, [found.written.sale.customer]);
    const move = (await moveOf(context))(found.written, upTo);
    return ok({
      ...shown(found, upTo, names, move),
      agreement: found.written,
      version: found.version,
      skipped: found.skipped,
      made: made.map((m) => ({ ...m, id: Number(m.id), amount: minor(m.amount) })),
    });
  },
});

/** What stands against the clause by which prices follow an index. */
async function againstClause(
  context: Context,
  { clause, rhythm }: Agreement,
): Promise<Found | null> {
  if (clause.index === "") return null;
  const index = (await readPriceIndices(context.tx)).find((i) => i.code === clause.index);
  if (!index) return { code: "NOT_FOUND", what: `price index ${clause.index}`, field: "index" };
  if (!/^\d{1,6}(\.\d{1,4})?$/.test(clause.base) || Number(clause.base) === 0)
    return {
      code: "INVALID",
      what: "Say what the index stood at when the prices were agreed, as 112.4",
      field: "base",
    };
  return indexMove(clause, index.values, rhythm.first) === null
    ? {
        code: "INVALID",
        what: `${index.code} has no value yet on the first date`,
        field: "index",
      }
    : null;
}

/** Keeps an agreement: a new one, or a version of one that is there. */
export const saveAgreement = defineUseCase({
  name: "saveAgreement",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "prepare agreements",
  company: (i) => i.agreement.sale.company,
  schema: object({
    id: number().integer(),
    version: number().integer().default(0),
    agreement: agreementSchema.required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; version: number }>> => {
    const written: Agreement = { ...input.agreement, sale: saleInput(input.agreement.sale) };
    const company = context.masters.companyByCode.get(written.sale.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: written.sale.company, field: "company" });
    const rhythm = readRhythm(written.rhythm, context.today);
    if (!rhythm.ok) return rhythm;
    const agreement: Agreement = { ...written, rhythm: rhythm.value };
    const clause = await againstClause(context, agreement);
    if (clause) return fail(clause);
    const currency = agreement.sale.currency || company.currency;
    const first = agreementSale(agreement, rhythm.value.first, null, currency);
    const prepared = await prepareSales(context, [{ input: first }]);
    if (!prepared.ok) return prepared;
    const [against, ...others] = prepared.value[0]!.problems.filter((p) => !LATER.has(p.code));
    if (against) return fail(against, ...others);
    const { name, rhythm: dates, ...content } = agreement;
    return keepRecurring(context, AGREEMENTS, {
      ...input,
      name,
      content,
      rhythm: dates,
      entry: {
        companyId: company.id,
        date: dates.first,
        currency,
        title: name,
        words: `agreement ${agreement.sale.customer}`,
      },
    });
  },
});

export const endAgreement = defineEnd("endAgreement", AGREEMENTS);
export const skipAgreement = defineSkip("skipAgreement", AGREEMENTS);
