import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { type Conversion, convertBy } from "@/core/rates";
import {
  invoiceInput,
  invoiceSchema,
  numberKey,
  type InvoiceInput,
  type InvoiceReading,
} from "@/core/payables";
import {
  decimalText,
  encodeJson,
  fail,
  isCurrency,
  ok,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
  minor,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { askApproval } from "../approvals";
import { linkedCorrections } from "./corrections";
import { documentLinks, takeNumber, writersOf } from "../documents";
import {
  defineCheck,
  defineKept,
  definePostKept,
  type KeptKind,
  type Saved,
} from "../keptDocuments";
import {
  linkJournals,
  postDrafts,
  reverseJournals,
  ruleFor,
  showProblem,
  whyOf,
  type ShownProblem,
} from "../ledger";
import { recordMatches, undoMatches, type AfterReceipt } from "../purchasing";
import {
  checkOf,
  figuresOf,
  prepare,
  readPaper,
  readStored,
  toApprove,
  type InvoiceCheck,
  type Ready,
  type Stored,
} from "./checkInvoice";

/** What is owed by an invoice as the register has it: credit notes are negative. */
export const signedTotal = (input: InvoiceInput, reading: InvoiceReading): Minor =>
  minor(input.kind === "credit note" ? -reading.gross : reading.gross);

/** Keeps what was typed and brings the register up to it. */
export async function keepInvoice(
  context: Context,
  input: InvoiceInput,
  reading: InvoiceReading,
  id: number | undefined,
): Promise<{ id: number; version: number }> {
  if (id === undefined)
    return { id: (await keepInvoices(context, [{ input, reading }]))[0]!, version: 1 };
  const { tx, person, now } = context;
  const [{ partner, company, title, search, currency }] = (await registerOf(context, [
    { input, reading },
  ])) as [Registered];
  await tx.execute(
    sql`update document set type = ${input.kind}, company_id = ${company},
      date = ${reading.date || null}, amount = ${signedTotal(input, reading)}, currency = ${currency},
      title = ${title}, search = ${search} where id = ${id}`,
  );
  const [saved] = await rows<{ version: number }>(
    tx,
    sql`update invoice set partner_id = ${partner}, number_key = ${numberKey(input.number)},
      content = ${JSON.stringify(input)}::jsonb, version = version + 1, updated_by = ${person.id},
      updated_at = ${now.toISOString()} where document_id = ${id} returning version`,
  );
  return { id, version: saved!.version };
}

interface Registered {
  partner: number | null;
  company: number;
  title: string;
  search: string;
  currency: string;
}

/** How invoices stand in the register of documents. */
async function registerOf(
  { tx, masters }: Context,
  papers: readonly { input: InvoiceInput; reading: InvoiceReading }[],
): Promise<Registered[]> {
  const codes = [...new Set(papers.map((p) => p.input.supplier.trim()))];
  const partners = new Map(
    (
      await rows<{ id: number; code: string; name: string }>(
        tx,
        sql`select id, code, name from partner where code = any(${arrayOf(codes)}::text[])`,
      )
    ).map((p) => [p.code, p]),
  );
  return papers.map(({ input, reading }) => {
    const company = masters.companyByCode.get(input.company)!;
    const partner = partners.get(input.supplier.trim());
    const title =
      `${partner?.name || input.supplier || "Supplier"}, ${input.number.trim() || "no number yet"}`.slice(
        0,
        200,
      );
    const currency = isCurrency(reading.currency) ? reading.currency : company.currency;
    return {
      partner: partner?.id ?? null,
      company: company.id,
      title,
      currency,
      search: `${title} ${input.description} ${decimalText(reading.gross, currency)}`
        .toLowerCase()
        .slice(0, 500),
    };
  });
}

/** Keeps new drafts; their identities come in the order of the papers. */
export async function keepInvoices(
  context: Context,
  papers: readonly { input: InvoiceInput; reading: InvoiceReading }[],
): Promise<number[]> {
  const { tx, person, now } = context;
  const register = await registerOf(context, papers);
  const column = <T extends string | number | bigint | null>(
    pick: (p: (typeof papers)[number], r: Registered) => T,
  ) => arrayOf(papers.map((p, i) => pick(p, register[i]!)));
  const made = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, company_id, date, amount, currency, title, search,
      created_by, created_at, status)
        select 'invoice', x.type, x.company, x.day, x.amount, x.currency, x.title, x.search,
          ${person.id}, ${now.toISOString()}, 'draft'
        from unnest(${column((p) => p.input.kind)}::text[], ${column((_, r) => r.company)}::int[],
          ${column((p) => p.reading.date || null)}::date[],
          ${column((p) => signedTotal(p.input, p.reading))}::bigint[],
          ${column((_, r) => r.currency)}::char(3)[],
          ${column((_, r) => r.title)}::text[], ${column((_, r) => r.search)}::text[])
          with ordinality as x(type, company, day, amount, currency, title, search, n) order by x.n
            returning id`,
  );
  // Identities are given in the order of the rows; in what order they are returned is not said.
  const ids = made.map((m) => Number(m.id)).sort((a, b) => a - b);
  await tx.execute(sql`
    insert into invoice (document_id, partner_id, number_key, content, updated_by, updated_at)
    select x.id, x.partner, x.key, x.content, ${person.id}, ${now.toISOString()}
    from unnest(${arrayOf(ids)}::bigint[], ${column((_, r) => r.partner)}::int[],
      ${column((p) => numberKey(p.input.number))}::text[],
      ${column((p) => JSON.stringify(p.input))}::jsonb[]) as x(id, partner, key, content)`);
  await tx.execute(sql`
    insert into audit_event (at, person_id, action, kind, record_id, label, company_id)
    select ${now.toISOString()}, ${person.id}, 'drafted', 'invoice', x.id, x.label, x.company
      from unnest(${arrayOf(ids.map(String))}::text[], ${column((_, r) => r.title)}::text[],
      ${column((_, r) => r.company)}::int[]) as x(id, label, company)`);
  return ids;
}

export type SavedInvoice = Saved<InvoiceCheck>;

/** An invoice that was posted; or held, with what does not fit. */
export interface PostedInvoice {
  id: number;
  number: string;
  journal: string;
  held?: string[];
  /** What to tell the person instead of the number. */
  note?: string;
}

/** Posts an invoice: its journals, its open items by instalment, and the records of its taxes. */
async function post(
  context: Context,
  content: InvoiceInput,
  id: number,
  approved: boolean,
  released: readonly string[] = [],
): Promise<Result<PostedInvoice>> {
  const { tx, masters } = context;
  // One invoice of a supplier at a time: two people with the same paper find each other.
  await tx.execute(sql`select 1 from partner where code = ${content.supplier.trim()} for update`);
  const ready = await prepare(context, content, id);
  if (!ready.ok) return ready;
  const { reading, drafts, problems } = ready.value;
  if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
  const held = reading.holds.filter((h) => !released.includes(h));
  if (held.length > 0) return ok(await hold(context, id, content, held));
  if (!approved) {
    const [rule] = await ruleFor(context, [toApprove(reading)]);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const posted = await postDrafts(
    context,
    drafts.map((d) => ({ ...d.draft, origin: id })),
  );
  if (!posted.ok) return posted;
  const journals = posted.value.slice(0, drafts.length);
  await linkJournals(
    tx,
    journals.map((j) => j.id),
  );
  await documentLinks(
    tx,
    "made",
    journals.map((j) => [id, j.id] as const),
  );
  const corrected = ready.value.correction?.invoice;
  if (corrected) await documentLinks(tx, "corrects", [[id, corrected.id]]);
  const company = masters.companyByCode.get(content.company)!;
  const [journal] = await rows<{ year: { id: number; name: string }; seq: bigint }>(
    tx,
    sql`select json_build_object('id', y.id, 'name', y.name) as year, j.seq from journal j
      join fiscal_year y on y.id = j.year_id where j.id = ${journals[0]!.id}`,
  );
  const invoiceNumber = await takeNumber(tx, { series: "invoice", company, year: journal!.year });
  await tx.execute(
    sql`update document set number = ${invoiceNumber}, status = 'posted',
      search = lower(${invoiceNumber}) || ' ' || search where id = ${id}`,
  );
  await tx.execute(
    sql`update invoice set journal_id = ${journals[0]!.id},
      figures = ${encodeJson(figuresOf(reading))}::jsonb where document_id = ${id}`,
  );
  await storeTaxes(
    context,
    company.id,
    id,
    { id: journals[0]!.id, seq: journal!.seq },
    reading,
    drafts[0]!.rate ? { rate: drafts[0]!.rate.rate } : "same",
    content.kind === "credit note" ? -1n : 1n,
    company.currency,
    ready.value.taxDay.on,
  );
  await recordMatches(
    context,
    id,
    company.id,
    reading.matches,
    { id: journals[0]!.id, seq: journal!.seq, date: reading.entry.date },
    content.kind === "credit note" ? -1n : 1n,
  );
  await context.audit({
    action: "posted",
    kind: "invoice",
    recordId: id,
    label: invoiceNumber,
    companyId: company.id,
    after: { journals: journals.map((j) => j.number) },
  });
  return ok({ id, number: invoiceNumber, journal: journals[0]!.number });
}

/**
 * What the taxes were computed from: kept with rate, its day, and the day by which it was chosen.
 * Credit notes are negative.
 */
async function storeTaxes(
  { tx }: Context,
  companyId: number,
  documentId: number,
  journal: { id: number; seq: bigint },
  reading: InvoiceReading,
  rate: Conversion,
  sign: bigint,
  functional: string,
  reportedOn: CalendarDate | null,
): Promise<void> {
  const own = (amount: Minor): Minor => convertBy(amount, reading.currency, functional, rate);
  for (const t of reading.taxes)
    await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code,
      percent, rate_from, tax_date, reported_on, return_line, account, owed_account, currency, base,
      tax, recoverable, functional_base, functional_tax)
      select ${companyId}, ${documentId}, ${journal.id}, ${journal.seq}, ${t.code},
        ${t.percent}::numeric, ${t.from}, ${reading.date}, ${reportedOn}::date, ${t.returnLine},
        case when c.kind = 'withheld' then '' else c.account end, case when c.kind in ('reverse',
        'withheld') then c.owed_account else '' end,
        ${reading.currency}, ${sign * t.base}, ${sign * t.tax}, ${sign * t.recoverable},
          ${sign * own(t.base)}, ${sign * own(t.tax)} from tax_code c where c.code = ${t.code}`);
}

const KIND: KeptKind<InvoiceInput, Stored, Ready, InvoiceCheck, PostedInvoice> = {
  kinds: ["invoice"],
  one: "invoice",
  many: "invoices",
  names: {
    save: "saveInvoice",
    post: "postInvoice",
    submit: "submitInvoice",
    remove: "deleteInvoice",
  },
  rights: { prepare: "prepare.payables", post: "post.payables" },
  posting: "post invoices",
  reachesLedger: true,
  schema: invoiceSchema,
  read: readStored,
  refuses: ({ status, number: given }) =>
    status === "posted" || status === "reversed"
      ? { code: "ALREADY_POSTED", number: given ?? "" }
      : null,
  prepare: (context, content, { id }) => prepare(context, content, id),
  problems: ({ problems }) => problems,
  rule: async (context, _content, { reading }) => {
    const [rule] = await ruleFor(context, [toApprove(reading)]);
    return rule ? { role: rule.role, why: whyOf(rule) } : null;
  },
  holdBack: async (context, content, { reading }, { id, stored }) => {
    const released = stored?.released?.holds ?? [];
    const held = reading.holds.filter((h) => !released.includes(h));
    return held.length > 0 ? (await hold(context, id!, content, held)).note! : null;
  },
  keep: (context, content, { reading }, { id }) => keepInvoice(context, content, reading, id),
  check: checkOf,
  post: async (context, written, { id, stored, asKept }) => {
    if (asKept && stored.status !== "draft")
      return fail({ code: "RUN_STATE", state: stored.status });
    // The register is brought up to what is posted: rates may have changed since it was kept.
    const content = asKept ? invoiceInput(written) : written;
    await keepInvoice(context, content, await readPaper(context, content), id);
    return post(context, content, id, false, asKept ? [] : stored.released?.holds);
  },
  approve: async (context, id) => {
    const stored = await readStored(context, id);
    const posted = await post(context, invoiceInput(stored!.content), id, true, [
      ...(stored!.released?.holds ?? []),
      ...stored!.holds,
    ]);
    if (!posted.ok) return posted;
    const { held, number } = posted.value;
    // Nobody approves what has not been decided on: nothing is posted, and the approver is told.
    return held
      ? fail({
          code: "INVALID",
          what: `Since it was sent, something has come up: ${held.join(" ")} Return it, so that it can be decided on`,
        })
      : ok({ number });
  },
  label: (content) => content.number,
};

export const {
  save: saveInvoice,
  post: postInvoice,
  submit: submitInvoice,
  remove: deleteInvoice,
  approve: approveInvoice,
} = defineKept(KIND);
export const checkInvoice = defineCheck(KIND, "checkInvoice");
/** Posts a draft as it is kept. */
export const postStoredInvoice = definePostKept(KIND, "postStoredInvoice");

/**
 * An invoice from a program: posted at once, or kept as a draft with what stands against it. One
 * that can't be posted is not kept.
 */
export const createInvoice = defineUseCase({
  name: "createInvoice",
  kind: "write",
  rights: ["prepare.payables"],
  what: "prepare invoices",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], input),
  schema: invoiceSchema.shape({ post: boolean().default(false) }),
  run: async (
    context,
    input,
  ): Promise<
    Result<{
      id: number;
      number: string | null;
      status: string;
      problems: ShownProblem[];
      held?: string[];
    }>
  > => {
    const { post: wanted, ...raw } = input;
    const content = raw as InvoiceInput;
    const ready = await prepare(context, content);
    if (!ready.ok) return ready;
    const kept = await keepInvoice(context, content, ready.value.reading, undefined);
    if (!wanted)
      return ok({
        id: kept.id,
        number: null,
        status: "draft",
        problems: ready.value.problems.map(showProblem),
      });
    if (!context.may("post.payables", content.company))
      return fail({ code: "FORBIDDEN", what: `post invoices of ${content.company}` });
    const posted = await post(context, content, kept.id, false);
    return posted.ok
      ? ok({
          id: kept.id,
          number: posted.value.number || null,
          status: posted.value.held ? "held" : "posted",
          problems: [],
          ...(posted.value.held ? { held: posted.value.held } : {}),
        })
      : posted;
  },
});

/**
 * Cancels a posted invoice: its journals are reversed and its taxes taken back. One that is paid,
 * even in part, can't be before that is undone.
 */
export const cancelInvoice = defineUseCase({
  name: "cancelInvoice",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel invoices",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(500),
  }),
  run: async (context, input): Promise<Result<{ id: number; journal: string; date: string }>> => {
    const { tx, masters } = context;
    const stored = await readStored(context, input.id);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!context.may("reverse.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `cancel invoices of ${stored.company}` });
    if (stored.status !== "posted" || stored.journalId === null)
      return fail({ code: "RUN_STATE", state: stored.status });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const { correctedBy } = await linkedCorrections(context, input.id);
    if (correctedBy[0])
      return fail({
        code: "IN_USE",
        what: `${correctedBy[0].number} corrects it; cancel that first`,
      });
    const reversed = await reverseJournals(context, [stored.journalId], null);
    if (!reversed.ok) return reversed;
    const { id: journalId, number: journal, date } = reversed.value[0]!;
    await documentLinks(tx, "made", [[input.id, journalId]]);
    await undoMatches(context, input.id, { id: journalId, date });
    await tx.execute(sql`update document set status = 'reversed' where id = ${input.id}`);
    await tx.execute(sql`insert into tax_record (company_id, document_id, journal_id, seq, tax_code,
      percent, rate_from, tax_date, return_line, account, owed_account, currency, base, tax,
      recoverable, functional_base, functional_tax)
      select company_id, document_id, ${journalId}, (select seq from journal
        where id = ${journalId}), tax_code, percent, rate_from, ${date}, return_line, account,
        owed_account, currency, -base, -tax, -recoverable, -functional_base, -functional_tax
        from tax_record where document_id = ${input.id} and journal_id = ${stored.journalId}`);
    await context.audit({
      action: "cancelled",
      kind: "invoice",
      recordId: input.id,
      label: stored.number ?? "",
      companyId: masters.companyByCode.get(stored.company)!.id,
      after: { reason: input.reason, journal },
    });
    return ok({ id: input.id, journal, date });
  },
});

/**
 * Holds an invoice back that does not fit to what was ordered and received: it stays as it is, and
 * says why.
 */
async function hold(
  context: Context,
  id: number,
  content: InvoiceInput,
  holds: string[],
): Promise<PostedInvoice> {
  await context.tx.execute(sql`update document set status = 'held' where id = ${id}`);
  await context.tx.execute(
    sql`update invoice set holds = ${JSON.stringify(holds)}::jsonb where document_id = ${id}`,
  );
  await context.audit({
    action: "held",
    kind: "invoice",
    recordId: id,
    label: content.number,
    companyId: context.masters.companyByCode.get(content.company)!.id,
    after: { holds },
  });
  return { id, number: "", journal: "", held: holds, note: `Held: ${holds.join(" ")}` };
}

/**
 * Lets what does not fit pass, by somebody other than who entered the invoice, and posts it; or
 * sends it for approval where a rule asks for that.
 */
export const releaseInvoice = defineUseCase({
  name: "releaseInvoice",
  kind: "write",
  rights: ["post.payables"],
  what: "release invoices",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<PostedInvoice>> => {
    const stored = await readStored(context, input.id);
    if (!stored) return fail({ code: "NOT_FOUND", what: "such invoice" });
    if (!context.may("post.payables", stored.company))
      return fail({ code: "FORBIDDEN", what: `release invoices of ${stored.company}` });
    if (stored.status !== "held") return fail({ code: "RUN_STATE", state: stored.status });
    const [own] = await rows(
      context.tx,
      sql`select 1 from ${writersOf(sql`${input.id}::bigint`)} z
        where z.person_id = ${context.person.id}`,
    );
    if (own || stored.createdBy === context.person.id)
      return fail({
        code: "FORBIDDEN",
        what: "release an invoice that you entered or changed; a second person has to",
      });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    const released = { by: context.person.id, reason: input.reason, holds: stored.holds };
    await context.tx.execute(
      sql`update invoice set released = ${JSON.stringify(released)}::jsonb, holds = '[]'::jsonb
        where document_id = ${input.id}`,
    );
    await context.tx.execute(sql`update document set status = 'draft' where id = ${input.id}`);
    await context.audit({
      action: "released",
      kind: "invoice",
      recordId: input.id,
      label: stored.content.number,
      companyId: context.masters.companyByCode.get(stored.company)!.id,
      after: released,
    });
    const posted = await post(context, invoiceInput(stored.content), input.id, false, stored.holds);
    const needed = posted.ok
      ? undefined
      : posted.problems.find((p) => p.code === "APPROVAL_NEEDED");
    if (!needed || needed.code !== "APPROVAL_NEEDED") return posted;
    const ready = await prepare(context, invoiceInput(stored.content), input.id);
    const [rule] = ready.ok ? await ruleFor(context, [toApprove(ready.value.reading)]) : [];
    await askApproval(context, input.id, {
      role: rule!.role,
      why: whyOf(rule!),
      version: stored.version,
    });
    return ok({
      id: input.id,
      number: "",
      journal: "",
      note: `Released; it waits for approval: ${whyOf(rule!)}.`,
    });
  },
});

// What is held for something that comes after all goes back to whoever entered it, ready to be
// posted.
export const releaseFitting: AfterReceipt = async (context, orderId) => {
  const waiting = await rows<{ id: bigint }>(
    context.tx,
    sql`select i.document_id as id from invoice i join document d on d.id = i.document_id
      join document o on o.id = ${orderId} where d.status = 'held' and d.company_id = o.company_id
      and exists (select 1 from jsonb_array_elements(i.content->'lines') l
      where upper(l->>'order') like o.number || '/%')`,
  );
  for (const { id } of waiting) {
    const stored = await readStored(context, Number(id));
    const ready = await prepare(context, invoiceInput(stored!.content), Number(id));
    if (!ready.ok || ready.value.reading.holds.length > 0 || ready.value.problems.length > 0)
      continue;
    await context.tx.execute(sql`update document set status = 'draft' where id = ${id}`);
    await context.tx.execute(sql`update invoice set holds = '[]'::jsonb where document_id = ${id}`);
    await context.audit({
      action: "released by itself: what it was held for has come",
      kind: "invoice",
      recordId: Number(id),
      label: stored!.content.number,
      companyId: context.masters.companyByCode.get(stored!.company)!.id,
    });
  }
  return ok({});
};
