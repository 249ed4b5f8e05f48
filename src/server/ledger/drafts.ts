import { sql } from "drizzle-orm";
import { boolean, number, object } from "yup";
import { checkDraft, isResult, journalInputSchema, journalRequestSchema, mergeProblems, readJournal, type JournalInput, type JournalReading } from "@/core/ledger";
import { decimalText, describeFound, fail, minor, ok, type Found, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPostingContext, postDrafts, type PostedJournal } from "./posting";
import { resultOfPeriod } from "./effect";

/** A problem as it is shown: its sentence and its place. */
export interface ShownProblem {
  line: number | null;
  field: string | null;
  code: string;
  message: string;
}
export const showProblem = (p: Found): ShownProblem => ({ line: p.line ?? null, field: p.field ?? null, code: p.code, message: describeFound(p) });

export interface DraftCheck {
  problems: ShownProblem[];
  debits: Minor;
  credits: Minor;
  currency: string;
  /** Result of the journal's period before and after posting; null while the period is not known. */
  effect: { period: string; before: bigint; after: bigint } | null;
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

function read(context: Context, input: JournalInput): Result<JournalReading> {
  const company = context.masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const type = context.masters.typeByCode.get(input.type);
  const reading = readJournal(input, company.currency, context.today);
  if (type && !type.manual) reading.problems.push({ code: "TYPE_NOT_MANUAL", type: type.name, field: "type" });
  return ok(reading);
}

async function check(context: Context, input: JournalInput): Promise<Result<DraftCheck>> {
  const reading = read(context, input);
  if (!reading.ok) return reading;
  const { draft } = reading.value;
  const company = context.masters.companyByCode.get(input.company)!;
  const posting = await loadPostingContext(context, [draft]);
  const sideSum = (side: "debit" | "credit") => minor(draft.lines.reduce((total, l) => (l.side === side ? total + l.amount : total), 0n));
  const period = posting.periods.find((p) => !p.adjustment && p.start <= draft.date && draft.date <= p.end);
  let effect: DraftCheck["effect"] = null;
  if (period) {
    const book = draft.book ? context.masters.bookByCode.get(draft.book) : context.masters.mainBook;
    const before = await resultOfPeriod(context.tx, company.id, book?.id ?? 1, period);
    const own = draft.lines.reduce((total, l) => {
      const account = context.masters.accountByNumber.get(l.account);
      return account && isResult(account.type) ? total + (l.side === "credit" ? l.amount : -l.amount) : total;
    }, 0n);
    effect = { period: period.name, before, after: before + own };
  }
  return ok({ problems: mergeProblems(reading.value, checkDraft(draft, posting)).map(showProblem), debits: sideSum("debit"), credits: sideSum("credit"), currency: company.currency, effect });
}

const registerDraft = async (context: Context, input: JournalInput, id: number | undefined): Promise<number> => {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(input.company)!;
  const reading = readJournal(input, company.currency, context.today);
  const amount = reading.draft.lines.reduce((total, l) => (l.side === "debit" ? total + l.amount : total), 0n);
  const title = input.description.slice(0, 200) || "Untitled journal";
  const search = `${title} ${input.reference} ${decimalText(amount, company.currency)}`.slice(0, 500).toLowerCase();
  const date = reading.draft.date || null;
  if (id !== undefined) {
    await tx.execute(sql`update document set type = ${input.type}, company_id = ${company.id}, date = ${date}, amount = ${amount}, currency = ${company.currency}, title = ${title}, search = ${search} where id = ${id}`);
    return id;
  }
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, company_id, date, amount, currency, title, search, created_by, created_at, status)
        values ('journal', ${input.type}, ${company.id}, ${date}, ${amount}, ${company.currency}, ${title}, ${search}, ${person.id}, ${now.toISOString()}, 'draft') returning id`,
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
  const reading = read(context, content);
  if (!reading.ok) return reading;
  if (reading.value.problems.length > 0) {
    const posting = await loadPostingContext(context, [reading.value.draft]);
    return fail(...mergeProblems(reading.value, checkDraft(reading.value.draft, posting)));
  }
  const prepared = id === undefined ? undefined : (await rows<{ by: number }>(context.tx, sql`select created_by as by from document where id = ${id}`))[0];
  const posted = await postDrafts(context, [reading.value.draft], { documentIds: [id], ...(prepared ? { preparedBy: [prepared.by] } : {}) });
  return posted.ok ? ok(posted.value[0]!) : fail(...mergeProblems(reading.value, posted.problems));
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
    return post(context, stored.content, input.id);
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
    const reading = read(context, content);
    if (!reading.ok) return reading;
    const posting = await loadPostingContext(context, [reading.value.draft]);
    const problems = mergeProblems(reading.value, checkDraft(reading.value.draft, posting)).filter((p) => p.code !== "FORBIDDEN");
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
