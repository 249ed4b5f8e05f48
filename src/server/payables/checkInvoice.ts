import { sql } from "drizzle-orm";
import { atEntry, checkDraft, expandEntry, type Effect } from "@/core/ledger";
import { numberKey, readInvoice, type InvoiceInput, type InvoiceReading } from "@/core/payables";
import { dateText, fail, isCalendarDate, minor, ok, type Found, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import type { Context } from "../access";
import { effectIn, loadPostingContext, ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { listTerms } from "../partners";
import { ratesFor } from "../rates";
import { grniAccount, orderedLines, readShares } from "../purchasing";
import { readTaxCodes } from "../taxes";

/** Another invoice that this one may be a copy of. */
export interface PossibleCopy {
  id: number;
  number: string;
  supplierNumber: string;
  date: string | null;
  amount: Minor;
  currency: string;
  status: string;
  why: string;
  /** The same number of the same supplier: that is refused, not only pointed out. */
  same: boolean;
}

/** What an invoice comes to, in its currency: computed while it is a draft, kept as it was once it is posted. */
export type InvoiceFigures = Pick<InvoiceReading, "lines" | "taxes" | "net" | "tax" | "gross" | "currency" | "instalments">;
export const figuresOf = ({ lines, taxes, net, tax, gross, currency, instalments }: InvoiceReading): InvoiceFigures => ({ lines, taxes, net, tax, gross, currency, instalments });

export interface InvoiceCheck extends InvoiceFigures {
  problems: ShownProblem[];
  copies: PossibleCopy[];
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
  /** What does not fit to orders and receipts: with this it is held instead of posted. */
  holds: string[];
}

const CONTROL = "payables";

/** The account on which invoices of suppliers stand: the first of that kind that is not an advance, by number. */
const controlAccount = ({ masters }: Context): string => masters.accounts.find((a) => a.control === CONTROL && a.type === "liability" && !a.blocked)?.number ?? "";

export async function readPaper(context: Context, input: InvoiceInput): Promise<InvoiceReading> {
  const { tx, masters } = context;
  const [supplier = null] = await rows<NonNullable<Parameters<typeof readInvoice>[1]["supplier"]>>(tx, sql`select code, name, terms, blocked from partner where supplier and code = ${input.supplier.trim()}`);
  const terms = await listTerms.definition.run(context, {});
  const company = masters.companyByCode.get(input.company);
  const refs = [...new Set(input.lines.map((l) => l.order.trim().toUpperCase()).filter((r) => r !== ""))];
  const shared = input.lines.some((l) => l.shares.trim() !== "");
  return readInvoice(input, {
    company: input.company, ordered: company ? await orderedLines(context, company.id, { refs }) : new Map(), shares: new Map(shared ? (await readShares(tx)).map((s) => [s.code, s]) : []),
    matching: { grni: grniAccount(masters) ?? "", priceVariance: masters.purposes.priceVariance ?? "", quantityVariance: masters.purposes.quantityVariance ?? "" },
    functional: masters.companyByCode.get(input.company)?.currency ?? "EUR", today: context.today, supplier, payablesAccount: controlAccount(context), payablesAccounts: new Set(masters.accounts.filter((a) => a.control === CONTROL && a.type === "liability" && !a.blocked).map((a) => a.number)),
    taxCodes: new Map((await readTaxCodes(tx)).filter((t) => !t.blocked).map((t) => [t.code, t])), terms: new Map(terms.ok ? terms.value.map((t) => [t.code, t.terms]) : []),
  });
}

/** Possible copies: the same number of the supplier, or the same amount with a date within two weeks. Cancelled ones do not count. */
async function copiesOf({ tx }: Context, input: InvoiceInput, reading: InvoiceReading, id: number | undefined): Promise<PossibleCopy[]> {
  if (input.supplier.trim() === "") return [];
  const key = numberKey(input.number);
  const found = await rows<Omit<PossibleCopy, "id" | "amount" | "why" | "same"> & { id: bigint; amount: bigint; key: string }>(
    tx,
    sql`select d.id, coalesce(d.number, '') as number, i.content->>'number' as "supplierNumber", d.date, coalesce(d.amount, 0)::bigint as amount, d.currency, d.status, i.number_key as key
        from invoice i join document d on d.id = i.document_id join partner p on p.id = i.partner_id
        where p.code = ${input.supplier.trim()} and d.status not in ('reversed') and d.id <> ${id ?? 0}
          and ((i.number_key = ${key} and ${key} <> '') or (d.amount = ${reading.gross} and d.amount <> 0 and d.currency = ${reading.currency} and d.date between ${reading.date || null}::date - 14 and ${reading.date || null}::date + 14)) order by d.id desc limit 10`,
  );
  return found.map(({ key: other, ...f }) => {
    const same = key !== "" && other === key;
    return { ...f, id: Number(f.id), amount: minor(f.amount), same: same && f.status !== "draft", why: same ? "the same number" : "the same amount, about the same day" };
  });
}

export interface Ready {
  reading: InvoiceReading;
  drafts: ReturnType<typeof expandEntry>["drafts"];
  problems: Found[];
  copies: PossibleCopy[];
}

/** Reads and checks an invoice as it would be posted, with the problems at the lines as written. */
export async function prepare(context: Context, input: InvoiceInput, id?: number): Promise<Result<Ready>> {
  const { tx, masters } = context;
  if (!masters.companyByCode.has(input.company)) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const reading = await readPaper(context, input);
  const { entry } = reading;
  const companies = [...new Set([entry.company, ...entry.lines.flatMap((l) => l.company ?? [])])];
  const rates = await ratesFor(tx, masters, [{ companies, currency: entry.currency, date: entry.date }]);
  const { drafts, problems: expanding } = expandEntry(entry, { masters, rates });
  const posting = await loadPostingContext(context, companies.map((company) => ({ company, date: entry.date, type: entry.type, lines: entry.lines })));
  const unclear = reading.problems.length > 0 || expanding.length > 0;
  const checked = [...expanding, ...drafts.flatMap(({ draft, sources }) => checkDraft(draft, posting).map((p) => atEntry(p, sources)))].flatMap((p): Found[] => {
    // What follows from a problem of the reading is not said twice.
    if (unclear && ["UNBALANCED", "FOREIGN_UNBALANCED", "NO_LINES", "VALUE_UNBALANCED"].includes(p.code)) return [];
    if (p.field === "date" && p.code === "DATE_INVALID" && reading.problems.some((q) => q.field === "date")) return [];
    const { line, ...rest } = p;
    const written = line === undefined ? undefined : reading.sources[line - 1];
    if (line !== undefined && (written === null || written === undefined) && p.code === "PARTNER_UNKNOWN") return [];
    const field = p.field === "debit" || p.field === "credit" ? "net" : p.field === "date" && entry.date !== reading.date ? "postingDate" : p.field;
    return [{ ...rest, ...(field ? { field } : {}), ...(written ? { line: written } : {}) } as Found];
  });
  const copies = await copiesOf(context, input, reading, id);
  const double = copies.find((c) => c.same);
  const problems: Found[] = [...reading.problems, ...checked, ...(double ? [{ code: "INVOICE_DOUBLE", number: double.supplierNumber, supplier: input.supplier, date: double.date ? dateText(double.date) : "no date", field: "number" } as Found] : [])];
  return ok({ reading, drafts, problems, copies });
}

export const toApprove = (r: InvoiceReading) => ({ type: r.entry.type, company: r.entry.company, date: r.entry.date, currency: r.entry.currency, lines: r.entry.lines });

/** What there is to say of a paper that has been prepared: what it comes to, what it does to balances, and who has to approve it. */
export async function checkOf(context: Context, input: InvoiceInput, { reading, drafts, problems, copies }: Ready): Promise<InvoiceCheck> {
  const { tx, masters } = context;
  const effects: Effect[] = [];
  const own = drafts.find((d) => d.draft.company === input.company);
  if (own && isCalendarDate(own.draft.date)) {
    const company = masters.companyByCode.get(input.company)!;
    const posting = await loadPostingContext(context, [{ company: company.code, date: own.draft.date, type: own.draft.type }]);
    const period = posting.periods.find((p) => p.companyId === company.id && !p.adjustment && p.start <= own.draft.date && own.draft.date <= p.end);
    if (period) effects.push(await effectIn(tx, masters, company.id, masters.mainBook!.id, period, own.draft.lines));
  }
  const [rule] = await ruleFor(context, [toApprove(reading)]);
  return { ...figuresOf(reading), problems: problems.map(showProblem), copies, effects, approval: rule ? whyOf(rule) : null, holds: reading.holds };
}

/** An invoice as it is kept. */
export interface Stored { supplierName: string; content: InvoiceInput; version: number; status: string; number: string | null; updatedBy: number; updatedByName: string; updatedAt: string; journalId: number | null; figures: string | null; company: string; createdBy: number; holds: string[]; released: { by: number; reason: string; holds: string[] } | null }
export const readStored = async ({ tx }: Context, id: number, lock = true): Promise<Stored | undefined> =>
  (
    await rows<Stored>(
      tx,
      sql`select coalesce((select s.name from partner s where s.id = i.partner_id), '') as "supplierName", i.content, i.version, d.status, d.number, i.updated_by as "updatedBy", p.name as "updatedByName", i.updated_at as "updatedAt", i.journal_id::int as "journalId", i.figures::text as figures, c.code as company, d.created_by as "createdBy", i.holds, i.released
          from invoice i join document d on d.id = i.document_id join company c on c.id = d.company_id join person p on p.id = i.updated_by where i.document_id = ${id} ${lock ? sql`for update of i` : sql``}`,
    )
  )[0];
