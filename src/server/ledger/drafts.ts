import { sql } from "drizzle-orm";
import { number } from "yup";
import {
  atEntry,
  checkEntry,
  codingFromKey,
  dimensionsOf,
  journalInput,
  journalInputSchema,
  journalRequestSchema,
  mergeProblems,
  preparePostings,
  readJournal,
  type DraftLine,
  type Effect,
  type EntryCheck,
  type JournalInput,
  type JournalReading,
  type PostingContext,
} from "@/core/ledger";
import {
  decimalText,
  describeFound,
  fail,
  isCurrency,
  minor,
  ok,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, rows } from "../db";
import {
  defineCheck,
  defineKept,
  definePostKept,
  type KeptKind,
  type Saved,
} from "../keptDocuments";
import { defineUseCase, type Context, companiesOf } from "../access";
import { loadPostingContext, postDrafts, type PostedJournal } from "./posting";
import { ratesFor } from "../rates";
import { ruleFor, whyOf } from "./approvalRules";
import { effectIn } from "./effect";
import { linkJournals } from "./linkedJournals";

/** A problem as it is shown: its sentence and its place. */
export interface ShownProblem {
  line: number | null;
  field: string | null;
  code: string;
  message: string;
}
export const showProblem = (p: Found): ShownProblem => ({
  line: p.line ?? null,
  field: p.field ?? null,
  code: p.code,
  message: describeFound(p),
});

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
  /**
   * What would be posted, where that is more than what was typed: several companies, a foreign
   * currency, lines that are added.
   */
  previews: Preview[];
  /** What posting would do, by company; empty while the period is not known. */
  effects: Effect[];
  /** Who has to approve it, in a sentence; null where nobody has to. */
  approval: string | null;
}

interface StoredDraft {
  company: string;
  content: JournalInput;
  batch: string | null;
  status: string;
  version: number;
  updatedBy: number;
  updatedByName: string;
  updatedAt: string;
}

const readStored = async ({ tx }: Context, id: number): Promise<StoredDraft | undefined> =>
  (
    await rows<StoredDraft>(
      tx,
      sql`select c.code as company, d.content, (select b.title from document b where b.id = d.batch_id) as batch,
        (select case when b.status = 'waiting' then 'waiting' else r.status end from document r left
        join document b on b.id = d.batch_id where r.id = d.document_id) as status, d.version,
        d.updated_by as "updatedBy", p.name as "updatedByName", d.updated_at as "updatedAt"
        from journal_draft d join person p on p.id = d.updated_by
        join document o on o.id = d.document_id join company c on c.id = o.company_id
        where d.document_id = ${id} for update of d`,
    )
  )[0];

const functionalOf =
  ({ masters }: Context) =>
  (code: string): string | undefined =>
    masters.companyByCode.get(code)?.currency;

export interface ReadEntry {
  input: JournalInput;
  reading: JournalReading;
  check: EntryCheck;
}

/** Reads and checks any number of journals as written, with as many queries as one takes. */
export async function readEntries(
  context: Context,
  inputs: readonly JournalInput[],
): Promise<{ entries: ReadEntry[]; posting: PostingContext }> {
  const { masters, tx } = context;
  const readings = inputs.map((input) => {
    const reading = readJournal(input, functionalOf(context), context.today);
    const type = masters.typeByCode.get(input.type);
    if (type && !type.manual)
      reading.problems.push({ code: "TYPE_NOT_MANUAL", type: type.name, field: "type" });
    return reading;
  });
  const wanted = readings.map(({ entry }) => ({
    entry,
    companies: [...new Set([entry.company, ...entry.lines.flatMap((l) => l.company ?? [])])],
  }));
  const rates = await ratesFor(
    tx,
    masters,
    wanted.map(({ entry, companies }) => ({
      companies,
      currency: entry.currency,
      date: entry.date,
    })),
  );
  const posting = await loadPostingContext(
    context,
    wanted.flatMap(({ entry, companies }) =>
      companies.map((company) => ({
        company,
        date: entry.date,
        type: entry.type,
        lines: entry.lines,
      })),
    ),
  );
  return {
    posting,
    entries: readings.map((reading, i) => ({
      input: inputs[i]!,
      reading,
      check: checkEntry(reading, posting, rates),
    })),
  };
}

/** A journal as it is read, with what it is checked against. */
interface Prepared {
  reading: JournalReading;
  posting: PostingContext;
  check: EntryCheck;
}

async function read(context: Context, input: JournalInput): Promise<Result<Prepared>> {
  if (!context.masters.companyByCode.has(input.company))
    return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const { entries, posting } = await readEntries(context, [input]);
  return ok({ reading: entries[0]!.reading, posting, check: entries[0]!.check });
}

/**
 * Posts journals as written, all or none. Those of several companies are linked. The answer holds
 * one posted journal for each entry.
 * Problems carry the entry's place (from 0) where there are several.
 */
export async function postEntries(
  context: Context,
  inputs: readonly JournalInput[],
  documentIds: readonly (number | undefined)[] = [],
  options: { approved?: boolean } = {},
): Promise<Result<PostedJournal[]>> {
  const { entries } = await readEntries(context, inputs);
  const several = inputs.length > 1;
  const found = entries.flatMap((e, journal) =>
    e.check.problems.map((p) => (several ? { ...p, journal } : p)),
  );
  if (found.length > 0) return fail(...found);
  if (!options.approved) {
    const rules = await ruleFor(
      context,
      entries.map((e) => e.reading.entry),
    );
    const needed = rules.flatMap((rule, journal): Found[] =>
      rule ? [{ code: "APPROVAL_NEEDED", why: whyOf(rule), ...(several ? { journal } : {}) }] : [],
    );
    if (needed.length > 0) return fail(...needed);
  }
  const ids = documentIds.filter((id) => id !== undefined);
  const by = new Map(
    (ids.length > 0
      ? await rows<{ id: bigint; by: number }>(
          context.tx,
          sql`select id, created_by as by from document where id = any(${arrayOf(ids)}::bigint[])`,
        )
      : []
    ).map((r) => [Number(r.id), r.by]),
  );
  const drafts = entries.flatMap((e, journal) =>
    e.check.drafts.map(({ draft, sources }, n) => ({
      draft,
      sources,
      journal,
      id: n === 0 ? documentIds[journal] : undefined,
      by: by.get(documentIds[journal] ?? -1) ?? context.person.id,
    })),
  );
  const posted = await postDrafts(
    context,
    drafts.map((d) => d.draft),
    { documentIds: drafts.map((d) => d.id), preparedBy: drafts.map((d) => d.by) },
  );
  if (!posted.ok)
    return fail(
      ...posted.problems.flatMap((p) => {
        const at = drafts[p.journal ?? 0]!;
        return mergeProblems(entries[at.journal]!.reading, [atEntry(p, at.sources)]).map((q) =>
          several ? { ...q, journal: at.journal } : q,
        );
      }),
    );
  const groups = entries.map((_, journal) =>
    posted.value.slice(0, drafts.length).filter((_p, i) => drafts[i]!.journal === journal),
  );
  for (const group of groups)
    if (group.length > 1)
      await linkJournals(
        context.tx,
        group.map((p) => p.id),
      );
  return ok(groups.map((g) => g[0]!));
}

async function checkOf(
  context: Context,
  _input: JournalInput,
  { reading: { entry }, posting, check: { drafts, problems } }: Prepared,
): Promise<DraftCheck> {
  const { masters, tx } = context;
  const sideSum = (side: "debit" | "credit") =>
    minor(entry.lines.reduce((total, l) => (l.side === side ? total + l.amount : total), 0n));
  const balancing = masters.dimensions.some((d) => d.balancing === "add");
  const prepared =
    balancing && problems.length === 0
      ? preparePostings(
          drafts.map((d) => d.draft),
          posting,
        )
      : null;
  const previews = drafts.map(({ draft, rate }, i): Preview => {
    const company = masters.companyByCode.get(draft.company)!;
    const added: PreviewLine[] = prepared?.ok
      ? prepared.value[i]!.lines.slice(draft.lines.length).map((l) => ({
          account: l.account.number,
          name: l.account.name,
          dimensions: dimensionsOf(codingFromKey(l.coding), masters),
          description: l.description,
          side: l.side,
          amount: l.amount,
          foreignAmount: draft.currency ? l.foreignAmount : null,
          added: l.added,
        }))
      : [];
    return {
      company: company.code,
      companyName: company.name,
      currency: company.currency,
      foreign: draft.currency ?? null,
      rate,
      lines: [
        ...draft.lines.map((l): PreviewLine => ({
          account: l.account,
          name: masters.accountByNumber.get(l.account)?.name ?? "",
          dimensions: l.dimensions,
          description: l.description,
          side: l.side,
          amount: l.amount,
          foreignAmount: l.foreignAmount ?? null,
          added: l.added ?? null,
        })),
        ...added,
      ],
    };
  });
  const effects: Effect[] = [];
  for (const { draft } of drafts) {
    const company = masters.companyByCode.get(draft.company)!;
    const period = posting.periods.find(
      (p) =>
        p.companyId === company.id && !p.adjustment && p.start <= draft.date && draft.date <= p.end,
    );
    const book = draft.book ? masters.bookByCode.get(draft.book) : masters.mainBook;
    if (period)
      effects.push(await effectIn(tx, masters, company.id, book?.id ?? 1, period, draft.lines));
  }
  const [rule] = await ruleFor(context, [entry]);
  return {
    approval: rule ? whyOf(rule) : null,
    problems: problems.map(showProblem),
    debits: sideSum("debit"),
    credits: sideSum("credit"),
    currency: entry.currency,
    effects,
    previews:
      previews.length > 1 || previews.some((p) => p.foreign || p.lines.some((l) => l.added))
        ? previews
        : [],
  };
}

const registerDraft = async (
  context: Context,
  input: JournalInput,
  id: number | undefined,
): Promise<number> => {
  const { tx, masters, person, now } = context;
  const company = masters.companyByCode.get(input.company)!;
  const { entry } = readJournal(input, functionalOf(context), context.today);
  const amount = entry.lines.reduce(
    (total, l) => (l.side === "debit" ? total + l.amount : total),
    0n,
  );
  const title = input.description.slice(0, 200) || "Untitled journal";
  const search = `${title} ${input.reference} ${decimalText(amount, entry.currency)}`
    .slice(0, 500)
    .toLowerCase();
  const date = entry.date || null;
  // A code that is none yet, while it is being typed, is no currency of the register.
  const currency = isCurrency(entry.currency) ? entry.currency : company.currency;
  if (id !== undefined) {
    await tx.execute(
      sql`update document set type = ${input.type}, company_id = ${company.id}, date = ${date},
        amount = ${amount}, currency = ${currency}, title = ${title}, search = ${search}
        where id = ${id}`,
    );
    return id;
  }
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, type, company_id, date, amount, currency, title, search,
      created_by, created_at, status)
        values ('journal', ${input.type}, ${company.id}, ${date}, ${amount}, ${currency}, ${title},
          ${search}, ${person.id}, ${now.toISOString()}, 'draft') returning id`,
  );
  return Number(made!.id);
};
export type SavedDraft = Saved<DraftCheck>;

/** The batch that a new draft goes into, while it can be added to. */
const openBatch = ({ tx }: Context, batch: number, company: string): Promise<{ id: bigint }[]> =>
  rows<{ id: bigint }>(
    tx,
    sql`select d.id from document d join company c on c.id = d.company_id
      where d.id = ${batch} and d.kind = 'batch' and d.status = 'draft'
        and c.code = ${company} for update of d`,
  );

/** Keeps a new draft as it is, whatever is wrong with it. */
export async function keepDraft(
  context: Context,
  content: JournalInput,
  batch: number | null = null,
): Promise<number> {
  const id = await registerDraft(context, content, undefined);
  await context.tx.execute(
    sql`insert into journal_draft (document_id, content, version, updated_by, updated_at, batch_id)
      values (${id}, ${JSON.stringify(content)}::jsonb, 1, ${context.person.id},
      ${context.now.toISOString()}, ${batch})`,
  );
  await context.audit({
    action: "drafted",
    kind: "journal",
    recordId: id,
    label: content.description.slice(0, 80),
    companyId: context.masters.companyByCode.get(content.company)!.id,
  });
  return id;
}

async function post(
  context: Context,
  content: JournalInput,
  id: number | undefined,
): Promise<Result<PostedJournal>> {
  if (!context.masters.companyByCode.has(content.company))
    return fail({ code: "COMPANY_UNKNOWN", company: content.company, field: "company" });
  const posted = await postEntries(context, [content], [id]);
  return posted.ok ? ok(posted.value[0]!) : posted;
}

const inBatch = (name: string): Found => ({
  code: "IN_USE",
  what: `The journal belongs to ${name}, which posts its journals together. Take it out of there to post it alone`,
});

const KIND: KeptKind<JournalInput, StoredDraft, Prepared, DraftCheck, PostedJournal> = {
  kinds: ["journal"],
  one: "journal",
  many: "journals",
  names: { save: "saveDraft", post: "postDraft", submit: "submitDraft", remove: "deleteDraft" },
  rights: { prepare: "prepare.ledger", post: "post.ledger" },
  posting: "post journals",
  reachesLedger: true,
  schema: journalInputSchema,
  more: { batch: number().integer().nullable() },
  read: readStored,
  missing: async ({ tx }, id) => {
    const [posted] = await rows<{ number: string }>(
      tx,
      sql`select number from journal where id = ${id}`,
    );
    return posted
      ? { code: "ALREADY_POSTED", number: posted.number }
      : { code: "NOT_FOUND", what: "such draft; it may have been deleted" };
  },
  refuses: ({ batch }, act) =>
    batch !== null && (act === "post" || act === "submit") ? inBatch(batch) : null,
  prepare: async (context, content, { stored, input }) => {
    const found = await read(context, content);
    if (!found.ok || stored || !input.batch) return found;
    const [open] = await openBatch(context, Number(input.batch), content.company);
    return open
      ? found
      : fail({ code: "NOT_FOUND", what: "such batch; it may be posted", field: "batch" });
  },
  problems: ({ check: { problems } }) => problems,
  rule: async (context, _content, { reading }) => {
    const [rule] = await ruleFor(context, [reading.entry]);
    return rule ? { role: rule.role, why: whyOf(rule) } : null;
  },
  keep: async (context, content, _prepared, { id, stored, input }) => {
    if (id === undefined || !stored)
      return {
        id: await keepDraft(context, content, input.batch ? Number(input.batch) : null),
        version: 1,
      };
    await registerDraft(context, content, id);
    await context.tx.execute(
      sql`update journal_draft set content = ${JSON.stringify(content)}::jsonb,
        version = version + 1, updated_by = ${context.person.id},
        updated_at = ${context.now.toISOString()} where document_id = ${id}`,
    );
    return { id, version: stored.version + 1 };
  },
  check: checkOf,
  post: (context, content, { id, asKept }) =>
    post(context, asKept ? journalInput(content) : content, id),
  approve: async (context, id) => {
    const stored = await readStored(context, id);
    const posted = await postEntries(context, [journalInput(stored!.content)], [id], {
      approved: true,
    });
    return posted.ok ? ok({ number: posted.value[0]!.number }) : posted;
  },
  label: (content) => content.description,
};

export const {
  save: saveDraft,
  post: postDraft,
  submit: submitDraft,
  remove: deleteDraft,
  approve: approveDraft,
} = defineKept(KIND);
export const checkJournal = defineCheck(KIND, "checkJournal");
/**
 * Posts kept drafts as they are, each by itself: the list's answer says which were posted and what
 * stands against the others.
 */
export const postStoredDraft = definePostKept(KIND, "postStoredDraft");

/** A journal from a program: posted at once, or kept as a draft. One with problems is not kept. */
export const createJournal = defineUseCase({
  name: "createJournal",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "prepare journals",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], input),
  schema: journalRequestSchema,
  run: async (
    context,
    input,
  ): Promise<Result<{ id: number; number: string | null; status: string }>> => {
    const { post: wanted, ...raw } = input;
    const content = raw as JournalInput;
    if (wanted) {
      if (!context.may("post.ledger", content.company))
        return fail({ code: "FORBIDDEN", what: `post journals in ${content.company}` });
      const posted = await post(context, content, undefined);
      return posted.ok
        ? ok({ id: posted.value.id, number: posted.value.number, status: "posted" })
        : posted;
    }
    const found = await read(context, content);
    if (!found.ok) return found;
    const problems = found.value.check.problems.filter((p) => p.code !== "FORBIDDEN");
    if (problems.length > 0) return fail(...problems);
    const id = await keepDraft(context, content);
    return ok({ id, number: null, status: "draft" });
  },
});
