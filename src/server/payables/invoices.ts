import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { convert } from "@/core/rates";
import { atEntry, checkDraft, expandEntry, type Effect } from "@/core/ledger";
import { invoiceInput, invoiceSchema, numberKey, readInvoice, type InvoiceInput, type InvoiceReading, type TaxSum } from "@/core/payables";
import { dateText, decimalText, fail, isCalendarDate, isCurrency, minor, ok, type Found, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { askApproval, registerApprovable } from "../approvals";
import { documentLinks, takeNumber } from "../documents";
import { effectIn, linkJournals, loadPostingContext, postDrafts, reverseJournals, ruleFor, showProblem, whyOf, type ShownProblem } from "../ledger";
import { listPartners, listTerms } from "../partners";
import { ratesFor } from "../rates";
import { readTaxCodes } from "./taxCodes";

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

export interface InvoiceCheck {
  problems: ShownProblem[];
  /** By line as written. */
  lines: { line: number; net: Minor; tax: Minor }[];
  taxes: TaxSum[];
  net: Minor;
  tax: Minor;
  gross: Minor;
  currency: string;
  instalments: { due: string; amount: Minor; discounts: { until: string; amount: Minor; percent: string }[] }[];
  copies: PossibleCopy[];
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
}

const CONTROL = "payables";

/** The account on which invoices of suppliers stand: the first of that kind that is not an advance, by number. */
const controlAccount = ({ masters }: Context): string => masters.accounts.find((a) => a.control === CONTROL && a.type === "liability" && !a.blocked)?.number ?? "";

async function read(context: Context, input: InvoiceInput): Promise<InvoiceReading> {
  const { tx, masters } = context;
  const partners = await listPartners.definition.run(context, { role: "supplier" });
  const supplier = partners.ok ? (partners.value.find((p) => p.code === input.supplier.trim()) ?? null) : null;
  const terms = await listTerms.definition.run(context, {});
  return readInvoice(input, {
    functional: masters.companyByCode.get(input.company)?.currency ?? "EUR", today: context.today, supplier, payablesAccount: controlAccount(context),
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

interface Ready {
  reading: InvoiceReading;
  drafts: ReturnType<typeof expandEntry>["drafts"];
  problems: Found[];
  copies: PossibleCopy[];
}

/** Reads and checks an invoice as it would be posted, with the problems at the lines as written. */
async function prepare(context: Context, input: InvoiceInput, id?: number): Promise<Result<Ready>> {
  const { tx, masters } = context;
  if (!masters.companyByCode.has(input.company)) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const reading = await read(context, input);
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

const toApprove = (r: InvoiceReading) => ({ type: r.entry.type, company: r.entry.company, date: r.entry.date, currency: r.entry.currency, lines: r.entry.lines });

async function check(context: Context, input: InvoiceInput, id?: number): Promise<Result<InvoiceCheck>> {
  const ready = await prepare(context, input, id);
  if (!ready.ok) return ready;
  const { reading, drafts, problems, copies } = ready.value;
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
  const { lines, taxes, net, tax, gross, currency, instalments } = reading;
  return ok({ problems: problems.map(showProblem), lines, taxes, net, tax, gross, currency, instalments, copies, effects, approval: rule ? whyOf(rule) : null });
}

interface Stored { supplierName: string; content: InvoiceInput; version: number; status: string; number: string | null; updatedBy: number; updatedByName: string; updatedAt: string; journalId: number | null; company: string }
const readStored = async ({ tx }: Context, id: number, lock = true): Promise<Stored | undefined> =>
  (
    await rows<Stored>(
      tx,
      sql`select coalesce((select s.name from partner s where s.id = i.partner_id), '') as "supplierName", i.content, i.version, d.status, d.number, i.updated_by as "updatedBy", p.name as "updatedByName", i.updated_at as "updatedAt", i.journal_id::int as "journalId", c.code as company
          from invoice i join document d on d.id = i.document_id join company c on c.id = d.company_id join person p on p.id = i.updated_by where i.document_id = ${id} ${lock ? sql`for update of i` : sql``}`,
    )
  )[0];

async function guard(context: Context, id: number, version: number, overwrite = false): Promise<Result<Stored>> {
  const stored = await readStored(context, id);
  if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice; it may have been deleted" });
  if (stored.status === "posted" || stored.status === "reversed") return fail({ code: "ALREADY_POSTED", number: stored.number ?? "" });
  if (stored.status === "waiting") return fail({ code: "IN_USE", what: "The invoice waits for approval and stays as it was sent. Withdraw it to change it" });
  if (stored.version !== version && !overwrite) return fail({ code: "STALE", by: stored.updatedBy === context.person.id ? "You, in another window," : stored.updatedByName, at: stored.updatedAt.slice(11, 16) });
  return ok(stored);
}

/** Keeps what was typed and brings the register up to it. */
async function keep(context: Context, input: InvoiceInput, reading: InvoiceReading, id: number | undefined): Promise<{ id: number; version: number }> {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(input.company)!;
  const [partner] = await rows<{ id: number; name: string }>(tx, sql`select id, name from partner where code = ${input.supplier.trim()}`);
  const title = `${partner?.name || input.supplier || "Supplier"}, ${input.number.trim() || "no number yet"}`.slice(0, 200);
  const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
  const search = `${title} ${input.description} ${decimalText(reading.gross, currency)}`.toLowerCase().slice(0, 500);
  const content = JSON.stringify(input);
  if (id === undefined) {
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into document (kind, type, company_id, date, amount, currency, title, search, created_by, created_at, status) values ('invoice', ${input.kind}, ${company.id}, ${reading.date || null}, ${reading.gross}, ${currency}, ${title}, ${search}, ${person.id}, ${now.toISOString()}, 'draft') returning id`,
    );
    await tx.execute(sql`insert into invoice (document_id, partner_id, number_key, content, updated_by, updated_at) values (${made!.id}, ${partner?.id ?? null}, ${numberKey(input.number)}, ${content}::jsonb, ${person.id}, ${now.toISOString()})`);
    await context.audit({ action: "drafted", kind: "invoice", recordId: String(made!.id), label: title, companyId: company.id });
    return { id: Number(made!.id), version: 1 };
  }
  await tx.execute(sql`update document set type = ${input.kind}, company_id = ${company.id}, date = ${reading.date || null}, amount = ${reading.gross}, currency = ${currency}, title = ${title}, search = ${search} where id = ${id}`);
  const [saved] = await rows<{ version: number }>(tx, sql`update invoice set partner_id = ${partner?.id ?? null}, number_key = ${numberKey(input.number)}, content = ${content}::jsonb, version = version + 1, updated_by = ${person.id}, updated_at = ${now.toISOString()} where document_id = ${id} returning version`);
  return { id, version: saved!.version };
}

export interface SavedInvoice extends InvoiceCheck {
  id: number;
  version: number;
  savedAt: string;
}

const draftSchema = object({ id: number().integer(), version: number().integer().default(0), overwrite: boolean().default(false), content: invoiceSchema.required() });

/** Keeps an invoice as it is typed, whatever is wrong with it, and says what is. */
export const saveInvoice = defineUseCase({
  name: "saveInvoice", kind: "write", rights: ["prepare.payables"], what: "prepare invoices", company: (i) => i.content.company, schema: draftSchema,
  run: async (context, input): Promise<Result<SavedInvoice>> => {
    const content = input.content as InvoiceInput;
    const checked = await check(context, content, input.id);
    if (!checked.ok) return checked;
    if (input.id !== undefined) {
      const stored = await guard(context, input.id, input.version, input.overwrite);
      if (!stored.ok) return stored;
    }
    const kept = await keep(context, content, await read(context, content), input.id);
    return ok({ ...kept, savedAt: context.now.toISOString(), ...checked.value });
  },
});

/** Checks an invoice without keeping it. */
export const checkInvoice = defineUseCase({ name: "checkInvoice", kind: "read", rights: ["prepare.payables"], what: "prepare invoices", company: (i) => i.company, schema: invoiceSchema, run: (context, input) => check(context, input as InvoiceInput) });

/** Posts an invoice: its journals, its open items by instalment, and the records of its taxes. */
async function post(context: Context, content: InvoiceInput, id: number, approved: boolean): Promise<Result<{ id: number; number: string; journal: string }>> {
  const { tx, masters } = context;
  // One invoice of a supplier at a time: two people with the same paper find each other.
  await tx.execute(sql`select 1 from partner where code = ${content.supplier.trim()} for update`);
  const ready = await prepare(context, content, id);
  if (!ready.ok) return ready;
  const { reading, drafts, problems } = ready.value;
  if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
  if (!approved) {
    const [rule] = await ruleFor(context, [toApprove(reading)]);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const posted = await postDrafts(context, drafts.map((d) => ({ ...d.draft, origin: id })));
  if (!posted.ok) return posted;
  const journals = posted.value.slice(0, drafts.length);
  await linkJournals(tx, journals.map((j) => j.id));
  await documentLinks(tx, "made", journals.map((j) => [id, j.id] as const));
  const company = masters.companyByCode.get(content.company)!;
  const [journal] = await rows<{ year: { id: number; name: string }; seq: bigint }>(tx, sql`select json_build_object('id', y.id, 'name', y.name) as year, j.seq from journal j join fiscal_year y on y.id = j.year_id where j.id = ${journals[0]!.id}`);
  const invoiceNumber = await takeNumber(tx, { series: "invoice", company, year: journal!.year });
  await tx.execute(sql`update document set number = ${invoiceNumber}, status = 'posted', search = lower(${invoiceNumber}) || ' ' || search where id = ${id}`);
  await tx.execute(sql`update invoice set journal_id = ${journals[0]!.id} where document_id = ${id}`);
  await storeTaxes(context, company.id, id, { id: journals[0]!.id, seq: journal!.seq }, reading, drafts[0]!.rate?.rate ?? null, content.kind === "credit note" ? -1n : 1n, company.currency);
  await context.audit({ action: "posted", kind: "invoice", recordId: id, label: invoiceNumber, companyId: company.id, after: { journals: journals.map((j) => j.number) } });
  return ok({ id, number: invoiceNumber, journal: journals[0]!.number });
}

/** What the taxes were computed from: kept with rate, its day, and the day by which it was chosen. Credit notes are negative. */
async function storeTaxes({ tx }: Context, companyId: number, documentId: number, journal: { id: number; seq: bigint }, reading: InvoiceReading, rate: string | null, sign: bigint, functional: string): Promise<void> {
  const own = (amount: Minor): Minor => (rate === null ? amount : convert(amount, reading.currency, functional, rate));
  for (const t of reading.taxes)
    await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code, percent, rate_from, tax_date, return_line, currency, base, tax, recoverable, functional_base, functional_tax)
      values (${companyId}, ${documentId}, ${journal.id}, ${journal.seq}, ${t.code}, ${t.percent}::numeric, ${t.from}, ${reading.date}, ${t.returnLine}, ${reading.currency}, ${sign * t.base}, ${sign * t.tax}, ${sign * t.recoverable}, ${sign * own(t.base)}, ${sign * own(t.tax)})`);
}

export const postInvoice = defineUseCase({
  name: "postInvoice", kind: "write", rights: ["post.payables"], what: "post invoices", company: (i) => i.content.company, schema: object({ id: number().integer().required(), version: number().integer().required(), content: invoiceSchema.required() }),
  run: async (context, input): Promise<Result<{ id: number; number: string; journal: string }>> => {
    const content = input.content as InvoiceInput;
    const stored = await guard(context, input.id, input.version);
    if (!stored.ok) return stored;
    await keep(context, content, await read(context, content), input.id);
    return post(context, content, input.id, false);
  },
});

/** An invoice from a program: posted at once, or kept as a draft with what stands against it. One that can't be posted is not kept. */
export const createInvoice = defineUseCase({
  name: "createInvoice", kind: "write", rights: ["prepare.payables"], what: "prepare invoices", company: (i) => i.company, schema: invoiceSchema.shape({ post: boolean().default(false) }),
  run: async (context, input): Promise<Result<{ id: number; number: string | null; status: string; problems: ShownProblem[] }>> => {
    const { post: wanted, ...raw } = input;
    const content = raw as InvoiceInput;
    const ready = await prepare(context, content);
    if (!ready.ok) return ready;
    const kept = await keep(context, content, ready.value.reading, undefined);
    if (!wanted) return ok({ id: kept.id, number: null, status: "draft", problems: ready.value.problems.map(showProblem) });
    if (!context.may("post.payables", content.company)) return fail({ code: "FORBIDDEN", what: `post invoices of ${content.company}` });
    const posted = await post(context, content, kept.id, false);
    return posted.ok ? ok({ id: kept.id, number: posted.value.number, status: "posted", problems: [] }) : posted;
  },
});

/** Sends an invoice to whoever answers for it, where a rule asks for that. */
export const submitInvoice = defineUseCase({
  name: "submitInvoice", kind: "write", rights: ["prepare.payables"], what: "send invoices for approval", company: (i) => i.content.company, schema: object({ id: number().integer().required(), version: number().integer().required(), content: invoiceSchema.required() }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const content = input.content as InvoiceInput;
    const stored = await guard(context, input.id, input.version);
    if (!stored.ok) return stored;
    const ready = await prepare(context, content, input.id);
    if (!ready.ok) return ready;
    const problems = ready.value.problems.filter((p) => p.code !== "FORBIDDEN");
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    const [rule] = await ruleFor(context, [toApprove(ready.value.reading)]);
    if (!rule) return fail({ code: "INVALID", what: "No rule asks for the approval of this invoice; post it" });
    const kept = await keep(context, content, ready.value.reading, input.id);
    await askApproval(context, input.id, { role: rule.role, why: whyOf(rule), version: kept.version });
    return ok({ id: input.id, number: "" });
  },
});

registerApprovable({
  kind: "invoice",
  approve: async (context, id) => {
    const stored = await readStored(context, id);
    const posted = await post(context, invoiceInput(stored!.content), id, true);
    return posted.ok ? ok({ number: posted.value.number }) : posted;
  },
});

/** Cancels a posted invoice: its journals are reversed and its taxes taken back. One that is paid, even in part, can't be before that is undone. */
export const cancelInvoice = defineUseCase({
  name: "cancelInvoice", kind: "write", rights: ["reverse.payables"], what: "cancel invoices", schema: object({ id: number().integer().required(), reason: string().trim().default("").max(500) }),
  run: async (context, input): Promise<Result<{ id: number; journal: string; date: string }>> => {
    const { tx, masters } = context;
    const stored = await readStored(context, input.id);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!context.may("reverse.payables", stored.company)) return fail({ code: "FORBIDDEN", what: `cancel invoices of ${stored.company}` });
    if (stored.status !== "posted" || stored.journalId === null) return fail({ code: "RUN_STATE", state: stored.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const reversed = await reverseJournals(context, [stored.journalId], null);
    if (!reversed.ok) return reversed;
    const { id: journalId, number: journal, date } = reversed.value[0]!;
    await documentLinks(tx, "made", [[input.id, journalId]]);
    await tx.execute(sql`update document set status = 'reversed' where id = ${input.id}`);
    await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code, percent, rate_from, tax_date, return_line, currency, base, tax, recoverable, functional_base, functional_tax)
      select company_id, document_id, ${journalId}, (select seq from journal where id = ${journalId}), tax_code, percent, rate_from, ${date}, return_line, currency, -base, -tax, -recoverable, -functional_base, -functional_tax from tax_record where document_id = ${input.id} and journal_id = ${stored.journalId}`);
    await context.audit({ action: "cancelled", kind: "invoice", recordId: input.id, label: stored.number ?? "", companyId: masters.companyByCode.get(stored.company)!.id, after: { reason: input.reason, journal } });
    return ok({ id: input.id, journal, date });
  },
});

export const deleteInvoice = defineUseCase({
  name: "deleteInvoice", kind: "write", rights: ["prepare.payables"], what: "delete drafts of invoices", schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const stored = await readStored(context, input.id);
    const free = await guard(context, input.id, stored?.version ?? 0);
    if (!free.ok) return free;
    if (!context.may("prepare.payables", free.value.company)) return fail({ code: "FORBIDDEN", what: `delete invoices of ${free.value.company}` });
    await context.tx.execute(sql`delete from document where id = ${input.id}`);
    await context.audit({ action: "draft deleted", kind: "invoice", recordId: input.id, label: free.value.content.number, companyId: context.masters.companyByCode.get(free.value.company)?.id ?? null, before: free.value.content });
    return ok({});
  },
});

export interface InvoiceRow {
  id: number;
  number: string | null;
  supplier: string;
  supplierName: string;
  supplierNumber: string;
  kind: string;
  date: string | null;
  amount: Minor;
  currency: string;
  status: string;
  by: string;
  /** What is left of it to be paid, in its currency; null while it is not posted. */
  left: Minor | null;
  due: string | null;
}

export const listInvoices = defineUseCase({
  name: "listInvoices", kind: "read", rights: ["read.payables"], what: "see invoices", company: (i) => i.company, schema: object({ company: string().required(), from: string(), to: string(), status: string().oneOf(["draft", "waiting", "posted", "reversed", "all"] as const).default("all"), text: string().max(200) }),
  run: async ({ tx, masters }, input): Promise<Result<InvoiceRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<InvoiceRow, "id" | "amount" | "left"> & { id: bigint; amount: bigint | null; left: bigint | null }>(
      tx,
      sql`select d.id, d.number, coalesce(p.code, i.content->>'supplier') as supplier, coalesce(p.name, '') as "supplierName", i.content->>'number' as "supplierNumber", d.type as kind, d.date, d.amount, d.currency, d.status, b.name as by,
            (select sum(o.left_amount)::bigint from open_item o where o.document_id = d.id) as "left", (select min(o.due_date) from open_item o where o.document_id = d.id and o.left_amount <> 0) as due
          from document d join invoice i on i.document_id = d.id left join partner p on p.id = i.partner_id join person b on b.id = d.created_by
          where d.kind = 'invoice' and d.company_id = ${company.id} ${input.status === "all" ? sql`` : sql`and d.status = ${input.status}`} ${input.text?.trim() ? sql`and d.search like ${`%${input.text.trim().toLowerCase().replace(/[%_\\]/g, "\\$&")}%`}` : sql``}
            ${input.from && isCalendarDate(input.from) ? sql`and (d.date >= ${input.from} or d.status in ('draft', 'waiting'))` : sql``} ${input.to && isCalendarDate(input.to) ? sql`and (d.date <= ${input.to} or d.status in ('draft', 'waiting'))` : sql``}
          order by (d.status in ('draft', 'waiting')) desc, d.date desc nulls first, d.id desc limit 1000`,
    );
    return ok(found.map((f) => ({ ...f, id: Number(f.id), amount: minor(f.amount ?? 0n), left: f.left === null ? null : minor(f.left) })));
  },
});

export interface InvoiceView {
  id: number;
  number: string | null;
  status: string;
  company: string;
  supplierName: string;
  content: InvoiceInput;
  version: number;
  savedAt: string;
  check: InvoiceCheck | null;
  journals: { id: number; number: string; description: string; total: bigint }[];
  items: { id: number; due: string; amount: Minor; left: Minor }[];
  mayChange: boolean;
  mayPost: boolean;
  mayCancel: boolean;
}

export const getInvoice = defineUseCase({
  name: "getInvoice", kind: "read", rights: ["read.payables"], what: "see invoices", schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<InvoiceView>> => {
    const { tx, may } = context;
    const stored = await readStored(context, input.id, false);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!may("read.payables", stored.company)) return fail({ code: "FORBIDDEN", what: `see invoices of ${stored.company}` });
    const content = invoiceInput(stored.content);
    const open = stored.status === "draft" || stored.status === "waiting";
    const checked = await check(context, content, input.id);
    const journals = await rows<{ id: bigint; number: string; description: string; total: bigint }>(tx, sql`select j.id, j.number, j.description, j.total from document_link l join journal j on j.id = l.to_id where l.from_id = ${input.id} and l.kind = 'made' order by j.id`);
    const items = await rows<{ id: bigint; due: string; amount: bigint; left: bigint }>(tx, sql`select id, due_date as due, amount, left_amount as "left" from open_item where document_id = ${input.id} and journal_id = ${stored.journalId ?? 0} order by due_date, id`);
    return ok({
      id: input.id, number: stored.number, status: stored.status, company: stored.company, supplierName: stored.supplierName, content, version: stored.version, savedAt: stored.updatedAt, check: checked.ok ? checked.value : null, journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      items: items.map((i) => ({ ...i, id: Number(i.id), amount: minor(i.amount), left: minor(i.left) })), mayChange: open && may("prepare.payables", stored.company), mayPost: open && may("post.payables", stored.company), mayCancel: stored.status === "posted" && may("reverse.payables", stored.company),
    });
  },
});

export interface TaxSummaryRow {
  code: string;
  name: string;
  returnLine: string;
  percent: string;
  documents: number;
  base: Minor;
  tax: Minor;
}

/** What was recorded by tax code over a stretch of tax days, in functional currency. */
export const taxSummary = defineUseCase({
  name: "taxSummary", kind: "read", rights: ["read.payables"], what: "see taxes", company: (i) => i.company, schema: object({ company: string().required(), from: string().required(), to: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<{ currency: string; rows: TaxSummaryRow[] }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<TaxSummaryRow, "base" | "tax"> & { base: bigint; tax: bigint }>(
      tx,
      sql`select r.tax_code as code, coalesce(t.name, '') as name, r.return_line as "returnLine", r.percent::text as percent, count(distinct r.document_id)::int as documents, sum(r.functional_base)::bigint as base, sum(r.functional_tax)::bigint as tax
          from tax_record r left join tax_code t on t.code = r.tax_code where r.company_id = ${company.id} and r.tax_date between ${input.from} and ${input.to} group by 1, 2, 3, 4 order by 3, 1, 4`,
    );
    return ok({ currency: company.currency, rows: found.map((f) => ({ ...f, base: minor(f.base), tax: minor(f.tax) })) });
  },
});
