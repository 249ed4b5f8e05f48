import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { batchSchema, readControls, type BatchInput, type Total } from "@/core/ledger";
import { periodKey, periodName, type Period } from "@/core/organisation";
import { fail, minor, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import {
  defineCreate,
  definePostKept,
  defineRemove,
  defineSave,
  defineSubmitKept,
  type KeptKind,
} from "../keptDocuments";
import { calendarOf } from "../organisation/periods";
import { notOpen, one, readBatch, type Row } from "./batchViews";
import { postWholeBatch, ruleOfBatch } from "./postBatch";

interface Prepared {
  name: string;
  period: Period;
  totals: Total[];
}

/** Reads a batch as written. Its name is proposed where none is given. */
async function prepare(
  context: Context,
  content: BatchInput,
  stored: Row | null,
): Promise<Result<Prepared>> {
  const { tx, masters } = context;
  const company = masters.companyByCode.get(content.company);
  if (!company)
    return fail({ code: "COMPANY_UNKNOWN", company: content.company, field: "company" });
  const { periods } = await calendarOf(tx, masters, company.id);
  const period = periods.find((p) => periodKey(p) === content.period);
  if (!period)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: content.period,
      company: company.name,
      field: "period",
    });
  const { totals, problems } = readControls(content.controls);
  const [first, ...others] = problems;
  if (first) return fail(first, ...others);
  const name = content.name || stored?.name || (await nextName(context, company.id, period));
  return ok({ name, period, totals });
}

async function nextName({ tx }: Context, companyId: number, period: Period): Promise<string> {
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from document
      where kind = 'batch' and company_id = ${companyId} and date = ${period.end}`,
  );
  return `${periodName(period)}, batch ${count!.n + 1}`;
}

/** A batch that was posted: its name stands for a number. */
interface PostedBatch {
  id: number;
  number: string;
  journals: string[];
}

const KIND: KeptKind<BatchInput, Row, Prepared, { problems: [] }, PostedBatch> = {
  kinds: ["batch"],
  table: "batch",
  one: "batch",
  many: "batches",
  rights: { prepare: "prepare.ledger", post: "post.ledger" },
  posting: "post batches",
  reachesLedger: true,
  schema: batchSchema,
  deciding: { waive: string().trim().default("").max(500) },
  register: async ({ masters }, papers) =>
    papers.map(({ content, prepared: { name, period, totals } }) => {
      const company = masters.companyByCode.get(content.company)!;
      return {
        companyId: company.id,
        date: period.end,
        amount: totals[0]?.amount ?? minor(0n),
        currency: totals[0]?.currency ?? company.currency,
        title: name,
        words: `batch ${content.description}`,
      };
    }),
  read: readBatch,
  refuses: ({ status }) => (status === "draft" ? null : { code: "BATCH_POSTED" }),
  prepare: (context, content, { stored }) => prepare(context, content, stored),
  // What is wrong with its journals is said at them.
  problems: () => [],
  check: async () => ({ problems: [] }),
  rule: (context, _content, _prepared, { id, input }) =>
    ruleOfBatch(context, id!, String(input.waive ?? "")),
  // Its drafts stay as they are, without a batch.
  removing: ({ tx }, id) =>
    tx.execute(sql`update journal_draft set batch_id = null where batch_id = ${id}`),
  post: async (context, _content, { id, input }) => {
    const posted = await postWholeBatch(context, id, { waive: String(input.waive ?? "") });
    return posted.ok
      ? ok({ id, number: posted.value.name, journals: posted.value.journals })
      : posted;
  },
  approve: async (context, id) => {
    const posted = await postWholeBatch(context, id, { approved: true });
    return posted.ok ? ok({ number: posted.value.name }) : posted;
  },
  label: ({ name, period }) => name || period,
};

/** Makes a batch, or changes one that is not posted. */
export const saveBatch = defineSave(KIND, "saveBatch");
/** A batch from a program, to put journals into. */
export const createBatch = defineCreate(KIND, "createBatch", {
  posts: false,
  faulty: "refused",
  posted: (posted) => ({ ...posted, status: "posted" }),
});
export const deleteBatch = defineRemove(KIND, "deleteBatch");
/**
 * Posts every journal of a batch, or none. Refused while the control totals differ, unless somebody
 * who may says why it is right so.
 */
export const postBatch = definePostKept(KIND, "postBatch");
/**
 * Sends a whole batch for approval: all its journals wait together, and approving posts them
 * together. A difference to the control total needs its reason as in posting.
 */
export const submitBatch = defineSubmitKept(KIND, "submitBatch");
export const approveBatch = KIND.approve;

/** Puts a draft into a batch of its company, or takes it out. */
export const moveToBatch = defineUseCase({
  name: "moveToBatch",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "move journals between batches",
  of: "checked",
  schema: object({
    journal: number().integer().required(),
    batch: number().integer().nullable().default(null),
  }),
  run: async (context, input) => {
    const [draft] = await rows<{ company: string; title: string; from: string | null }>(
      context.tx,
      sql`select c.code as company, d.title, (select b.status from document b
        where b.id = x.batch_id) as "from" from journal_draft x
        join document d on d.id = x.document_id join company c on c.id = d.company_id
        where x.document_id = ${input.journal}`,
    );
    if (!draft) return fail({ code: "NOT_FOUND", what: "such draft" });
    if (!context.may("prepare.ledger", draft.company))
      return fail({ code: "FORBIDDEN", what: `prepare journals in ${draft.company}` });
    if (draft.from !== null && draft.from !== "draft") return notOpen(draft.from);
    if (input.batch !== null) {
      const batch = await one(context, input.batch, true);
      if (!batch.ok) return batch;
      if (batch.value.status !== "draft") return notOpen(batch.value.status);
      if (batch.value.company !== draft.company)
        return fail({
          code: "INVALID",
          what: "The batch belongs to another company",
          field: "batch",
        });
    }
    await context.tx.execute(
      sql`update journal_draft set batch_id = ${input.batch} where document_id = ${input.journal}`,
    );
    await context.audit({
      action: input.batch === null ? "taken out of its batch" : "put into a batch",
      kind: "journal",
      recordId: input.journal,
      label: draft.title,
      after: { batch: input.batch },
    });
    return ok({});
  },
});
