import { sql } from "drizzle-orm";
import { number } from "yup";
import { journalInput, journalInputSchema, type JournalInput } from "@/core/ledger";
import { decimalText, fail, isCurrency, minor, ok, type Found, type Result } from "@/core/shared";
import { rows } from "../db";
import {
  defineCheck,
  defineCreate,
  defineKept,
  definePostKept,
  defineSubmitKept,
  type KeptKind,
  type KeptStore,
  type Saved,
} from "../keptDocuments";
import { type Context } from "../access";
import { ruleFor, whyOf } from "./approvalRules";
import { checkOf, type DraftCheck } from "./draftCheck";
import { postEntries, readOne, type Prepared } from "./entries";
import type { PostedJournal } from "./posting";

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

async function readStored({ tx }: Context, id: number): Promise<StoredDraft | undefined> {
  const [row] = await rows<StoredDraft>(
    tx,
    sql`select c.code as company, d.content, (select b.title from document b where b.id = d.batch_id) as batch,
        (select case when b.status = 'waiting' then 'waiting' else r.status end from document r left
        join document b on b.id = d.batch_id where r.id = d.document_id) as status, d.version,
        d.updated_by as "updatedBy", p.name as "updatedByName", d.updated_at as "updatedAt"
        from journal_draft d join person p on p.id = d.updated_by
        join document o on o.id = d.document_id join company c on c.id = o.company_id
        where d.document_id = ${id} for update of d`,
  );
  // What an older draft lacks is as it would be left out today.
  return row && { ...row, content: journalInput(row.content) };
}

export type SavedDraft = Saved<DraftCheck>;

/** The batch that a new draft goes into, while it can be added to. */
const openBatch = ({ tx }: Context, batch: number, company: string): Promise<{ id: bigint }[]> =>
  rows<{ id: bigint }>(
    tx,
    sql`select d.id from document d join company c on c.id = d.company_id
      where d.id = ${batch} and d.kind = 'batch' and d.status = 'draft'
        and c.code = ${company} for update of d`,
  );

/** How drafts of journals are kept. */
export const DRAFTS: KeptStore<JournalInput, Pick<Prepared, "reading">> = {
  kinds: ["journal"],
  table: "journal_draft",
  register: async ({ masters }, papers) =>
    papers.map(({ content, prepared: { reading } }) => {
      const company = masters.companyByCode.get(content.company)!;
      const { entry } = reading;
      const amount = minor(
        entry.lines.reduce((total, l) => (l.side === "debit" ? total + l.amount : total), 0n),
      );
      return {
        type: content.type,
        companyId: company.id,
        date: entry.date || null,
        amount,
        // A code that is none yet, while it is being typed, is no currency of the register.
        currency: isCurrency(entry.currency) ? entry.currency : company.currency,
        title: content.description || "Untitled journal",
        words: `${content.reference} ${decimalText(amount, entry.currency)}`,
      };
    }),
};

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
  ...DRAFTS,
  one: "journal",
  many: "journals",
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
    const found = await readOne(context, content);
    if (!found.ok || stored || !input.batch) return found;
    const [open] = await openBatch(context, Number(input.batch), content.company);
    return open
      ? found
      : fail({ code: "NOT_FOUND", what: "such batch; it may be posted", field: "batch" });
  },
  problems: ({ check: { problems } }) => problems,
  rule: async (context, _content, { reading }) => {
    const [rule] = await ruleFor(context, [reading.entry]);
    return ok(rule ? { role: rule.role, why: whyOf(rule) } : null);
  },
  added: async ({ tx }, id, { batch }) =>
    batch &&
    (await tx.execute(
      sql`update journal_draft set batch_id = ${Number(batch)} where document_id = ${id}`,
    )),
  check: checkOf,
  post: (context, content, { id }) => post(context, content, id),
  postNew: (context, content) => post(context, content, undefined),
  approve: async (context, id) => {
    const stored = await readStored(context, id);
    const posted = await postEntries(context, [stored!.content], [id], {
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
} = defineKept(KIND, {
  save: "saveDraft",
  post: "postDraft",
  submit: "submitDraft",
  remove: "deleteDraft",
});
export const checkJournal = defineCheck(KIND, "checkJournal");
/**
 * Posts kept drafts as they are, each by itself: the list's answer says which were posted and what
 * stands against the others.
 */
export const postStoredDraft = definePostKept(KIND, "postStoredDraft");
export const submitStoredDraft = defineSubmitKept(KIND, "submitStoredDraft");

/** A journal from a program: posted at once, or kept as a draft. One with problems is not kept. */
export const createJournal = defineCreate(KIND, "createJournal", {
  posts: false,
  faulty: "refused",
  posted: ({ id, number: given }) => ({ id, number: given, status: "posted" }),
});
