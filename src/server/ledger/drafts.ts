import { sql } from "drizzle-orm";
import { boolean, number, object } from "yup";
import {
  atEntry, checkEntry, codingFromKey, dimensionsOf, journalInput, journalInputSchema, journalRequestSchema, mergeProblems, preparePostings, readJournal,
  type DraftLine, type Effect, type EntryCheck, type JournalInput, type JournalReading, type PostingContext,
} from "@/core/ledger";
import { decimalText, describeFound, fail, isCurrency, minor, ok, type Found, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPostingContext, postDrafts, type PostedJournal } from "./posting";
import { ratesFor } from "../rates";
import { effectIn } from "./effect";
import { linkJournals } from "./journals";

/** A problem as it is shown: its sentence and its place. */
export interface ShownProblem {
  line: number | null;
  field: string | null;
  code: string;
  message: string;
}
export const showProblem = (p: Found): ShownProblem => ({ line: p.line ?? null, field: p.field ?? null, code: p.code, message: describeFound(p) });

/** A line as posting would write it, with what the system adds. */
export interface PreviewLine {
  account: string;
  name: string;
  dimensions: Readonly<Record<string, string>>;
  description: string;
  side: "debit" | "credit";
  amount: Minor;
  foreignAmount: Minor | null;
  added: DraftLine["added"] | null;
}
/** The journal that one company would get. */
export interface Preview {
  company: string;
  companyName: string;
  currency: string;
  foreign: string | null;
  rate: { rate: string; how: string } | null;
  lines: PreviewLine[];
}

export interface DraftCheck {
  problems: ShownProblem[];
  /** In the currency of the journal. */
  debits: Minor;
  credits: Minor;
  currency: string;
  /** What would be posted, where that is more than what was typed: several companies, a foreign currency, lines that are added. */
  previews: Preview[];
  /** What posting would do, by company; empty while the period is not known. */
  effects: Effect[];
}

interface StoredDraft {
  content: JournalInput;
  version: number;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
}

const readStored = async ({ tx }: Context, id: number): Promise<StoredDraft | undefined> =>
  (
    await rows<StoredDraft>(
      tx,
      sql`select d.content, d.version, d.updated_by as "updatedBy", p.name as "updatedByName", d.updated_at as "updatedAt" from journal_draft d join person p on p.id = d.updated_by where d.document_id = ${id} for update of d`,
    )
  )[0];

const functionalOf = ({ masters }: Context) => (code: string): string | undefined => masters.companyByCode.get(code)?.currency;

async function read(context: Context, input: JournalInput): Promise<Result<{ reading: JournalReading; posting: PostingContext; check: EntryCheck }>> {
  const company = context.masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const type = context.masters.typeByCode.get(input.type);
  const reading = readJournal(input, functionalOf(context), context.today);
  if (type && !type.manual) reading.problems.push({ code: "TYPE_NOT_MANUAL", type: type.name, field: "type" });
  const { entry } = reading;
  const companies = [...new Set([entry.company, ...entry.lines.flatMap((l) => l.company ?? [])])];
  const rates = await ratesFor(context.tx, context.masters, [{ companies, currency: entry.currency, date: entry.date }]);
  const posting = await loadPostingContext(context, companies.map((c) => ({ company: c, date: entry.date, type: entry.type })));
  return ok({ reading, posting, check: checkEntry(reading, posting, rates) });
}

async function check(context: Context, input: JournalInput): Promise<Result<DraftCheck>> {
  const found = await read(context, input);
  if (!found.ok) return found;
  const { masters, tx } = context;
  const { reading: { entry }, posting, check: { drafts, problems } } = found.value;
  const sideSum = (side: "debit" | "credit") => minor(entry.lines.reduce((total, l) => (l.side === side ? total + l.amount : total), 0n));
  const balancing = masters.dimensions.some((d) => d.balancing === "add");
  const prepared = balancing && problems.length === 0 ? preparePostings(drafts.map((d) => d.draft), posting) : null;
  const previews = drafts.map(({ draft, rate }, i): Preview => {
    const company = masters.companyByCode.get(draft.company)!;
    const added: PreviewLine[] = prepared?.ok ? prepared.value[i]!.lines.slice(draft.lines.length).map((l) => ({ account: l.account.number, name: l.account.name, dimensions: dimensionsOf(codingFromKey(l.coding), masters), description: l.description, side: l.side, amount: l.amount, foreignAmount: draft.currency ? l.foreignAmount : null, added: l.added })) : [];
    return {
      company: company.code, companyName: company.name, currency: company.currency, foreign: draft.currency ?? null, rate,
      lines: [...draft.lines.map((l): PreviewLine => ({ account: l.account, name: masters.accountByNumber.get(l.account)?.name ?? "", dimensions: l.dimensions, description: l.description, side: l.side, amount: l.amount, foreignAmount: l.foreignAmount ?? null, added: l.added ?? null })), ...added],
    };
  });
  const effects: Effect[] = [];
  for (const { draft } of drafts) {
    const company = masters.companyByCode.get(draft.company)!;
    const period = posting.periods.find((p) => p.companyId === company.id && !p.adjustment && p.start <= draft.date && draft.date <= p.end);
    const book = draft.book ? masters.bookByCode.get(draft.book) : masters.mainBook;
    if (period) effects.push(await effectIn(tx, masters, company.id, book?.id ?? 1, period, draft.lines));
  }
  return ok({
    problems: problems.map(showProblem), debits: sideSum("debit"), credits: sideSum("credit"), currency: entry.currency, effects,
    previews: previews.length > 1 || previews.some((p) => p.foreign || p.lines.some((l) => l.added)) ? previews : [],
  });
}

const registerDraft = async (context: Context, input: JournalInput, id: number | undefined): Promise<number> => {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(input.company)!;
  const { entry } = readJournal(input, functionalOf(context), context.today);
  const amount = entry.lines.reduce((total, l) => (l.side === "debit" ? total + l.amount : total), 0n);
  const title = input.description.slice(0, 200) || "Untitled journal";
  const search = `${title} ${input.reference} ${decimalText(amount, entry.currency)}`.slice(0, 500).toLowerCase();
  const date = entry.date || null;
  // A code that is none yet, while it is being typed, is no currency of the register.
  const currency = isCurrency(entry.currency) ? entry.currency : company.currency;
  if (id !== undefined) {
    await tx.execute(sql`update document set type = ${input.type}, company_id = ${company.id}, date = ${date}, amount = ${amount}, currency = ${currency}, title = ${title}, search = ${search} where id = ${id}`);
    return id;
  }
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, company_id, date, amount, currency, title, search, created_by, created_at, status)
        values ('journal', ${input.type}, ${company.id}, ${date}, ${amount}, ${currency}, ${title}, ${search}, ${person.id}, ${now.toISOString()}, 'draft') returning id`,
  );
  return Number(made!.id);
};
const draftSchema = object({ id: number().integer(), version: number().integer().default(0), overwrite: boolean().default(false), content: journalInputSchema.required() });

export interface SavedDraft extends DraftCheck {
  id: number;
  version: number;
  savedAt: string;
}

/** Keeps what was typed, whatever is wrong with it, and says what is. A copy older than what is kept is refused, not merged. */
export const saveDraft = defineUseCase({
  name: "saveDraft", kind: "write", rights: ["prepare.ledger"], what: "prepare journals", company: (i) => i.content.company, schema: draftSchema,
  run: async (context, input): Promise<Result<SavedDraft>> => {
    const { tx, person, now } = context;
    const content = input.content as JournalInput;
    const checked = await check(context, content);
    if (!checked.ok) return checked;
    let version = 1;
    let id = input.id;
    if (id !== undefined) {
      const stored = await guardStale(context, id, input.version, input.overwrite);
      if (!stored.ok) return stored;
      version = stored.value.version + 1;
      await registerDraft(context, content, id);
      await tx.execute(sql`update journal_draft set content = ${JSON.stringify(content)}::jsonb, version = ${version}, updated_by = ${person.id}, updated_at = ${now.toISOString()} where document_id = ${id}`);
    } else {
      id = await registerDraft(context, content, undefined);
      await tx.execute(sql`insert into journal_draft (document_id, content, version, updated_by, updated_at) values (${id}, ${JSON.stringify(content)}::jsonb, 1, ${person.id}, ${now.toISOString()})`);
      await context.audit({ action: "drafted", kind: "journal", recordId: id, label: content.description.slice(0, 80), companyId: context.masters.companyByCode.get(content.company)!.id });
    }
    return ok({ id, version, savedAt: now.toISOString(), ...checked.value });
  },
});

async function guardStale(context: Context, id: number, version: number, overwrite: boolean): Promise<Result<StoredDraft>> {
  const stored = await readStored(context, id);
  if (!stored) {
    const [posted] = await rows<{ number: string }>(context.tx, sql`select number from journal where id = ${id}`);
    return posted ? fail({ code: "ALREADY_POSTED", number: posted.number }) : fail({ code: "NOT_FOUND", what: "such draft; it may have been deleted" });
  }
  if (stored.version !== version && !overwrite) return fail({ code: "STALE", by: stored.updatedBy === context.person.id ? "You, in another window," : stored.updatedByName, at: stored.updatedAt.slice(11, 16) });
  return ok(stored);
}

/** Checks without keeping anything. */
export const checkJournal = defineUseCase({
  name: "checkJournal", kind: "read", rights: ["prepare.ledger"], what: "prepare journals", company: (i) => i.company, schema: journalInputSchema,
  run: (context, input) => check(context, input as JournalInput),
});

async function post(context: Context, content: JournalInput, id: number | undefined): Promise<Result<PostedJournal>> {
  const found = await read(context, content);
  if (!found.ok) return found;
  const { check: { drafts, problems }, reading } = found.value;
  if (problems.length > 0) return fail(...problems);
  const prepared = id === undefined ? undefined : (await rows<{ by: number }>(context.tx, sql`select created_by as by from document where id = ${id}`))[0];
  const posted = await postDrafts(context, drafts.map((d) => d.draft), { documentIds: [id], ...(prepared ? { preparedBy: drafts.map(() => prepared.by) } : {}) });
  if (!posted.ok) return fail(...mergeProblems(reading, posted.problems.map((p) => atEntry(p, drafts[p.journal ?? 0]!.sources))));
  await linkJournals(context.tx, posted.value.map((p) => p.id));
  return ok(posted.value[0]!);
}

/** Posts a draft, with what stands on the screen: what is posted is what was seen. A second click finds it posted. */
export const postDraft = defineUseCase({
  name: "postDraft", kind: "write", rights: ["post.ledger"], what: "post journals", company: (i) => i.content.company,
  schema: object({ id: number().integer().required(), version: number().integer().required(), content: journalInputSchema.required() }),
  run: async (context, input) => {
    const stored = await guardStale(context, input.id, input.version, false);
    if (!stored.ok) return stored;
    return post(context, input.content as JournalInput, input.id);
  },
});

/** Posts kept drafts as they are, each by itself: the list's answer says which were posted and what stands against the others. */
export const postStoredDraft = defineUseCase({
  name: "postStoredDraft", kind: "write", rights: ["post.ledger"], what: "post journals", schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<PostedJournal>> => {
    const stored = await readStored(context, input.id);
    if (!stored) return guardStale(context, input.id, 0, false) as Promise<Result<never>>;
    if (!context.may("post.ledger", stored.content.company)) return fail({ code: "FORBIDDEN", what: `post journals in ${stored.content.company}` });
    return post(context, journalInput(stored.content), input.id);
  },
});

/** A journal from a program: posted at once, or kept as a draft. One with problems is not kept. */
export const createJournal = defineUseCase({
  name: "createJournal", kind: "write", rights: ["prepare.ledger"], what: "prepare journals", company: (i) => i.company, schema: journalRequestSchema,
  run: async (context, input): Promise<Result<{ id: number; number: string | null; status: string }>> => {
    const { post: wanted, ...raw } = input;
    const content = raw as JournalInput;
    if (wanted) {
      if (!context.may("post.ledger", content.company)) return fail({ code: "FORBIDDEN", what: `post journals in ${content.company}` });
      const posted = await post(context, content, undefined);
      return posted.ok ? ok({ id: posted.value.id, number: posted.value.number, status: "posted" }) : posted;
    }
    const found = await read(context, content);
    if (!found.ok) return found;
    const problems = found.value.check.problems.filter((p) => p.code !== "FORBIDDEN");
    if (problems.length > 0) return fail(...problems);
    const id = await registerDraft(context, content, undefined);
    await context.tx.execute(sql`insert into journal_draft (document_id, content, version, updated_by, updated_at) values (${id}, ${JSON.stringify(content)}::jsonb, 1, ${context.person.id}, ${context.now.toISOString()})`);
    await context.audit({ action: "drafted", kind: "journal", recordId: id, label: content.description.slice(0, 80), companyId: context.masters.companyByCode.get(content.company)!.id });
    return ok({ id, number: null, status: "draft" });
  },
});

export const deleteDraft = defineUseCase({
  name: "deleteDraft", kind: "write", rights: ["prepare.ledger"], what: "delete drafts", schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const stored = await readStored(context, input.id);
    if (!stored) return guardStale(context, input.id, 0, false) as Promise<Result<never>>;
    if (!context.may("prepare.ledger", stored.content.company)) return fail({ code: "FORBIDDEN", what: `delete drafts in ${stored.content.company}` });
    await context.tx.execute(sql`delete from document where id = ${input.id}`);
    await context.audit({ action: "draft deleted", kind: "journal", recordId: input.id, label: stored.content.description.slice(0, 80), companyId: context.masters.companyByCode.get(stored.content.company)?.id ?? null, before: stored.content });
    return ok({});
  },
});
