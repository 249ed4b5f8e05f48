import { sql } from "drizzle-orm";
import { saleSchema, type SaleInput } from "@/core/receivables";
import { encodeJson, fail, isCalendarDate, ok, type Found, type Result } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { documentLinks, giveNumber, linkedCorrections, takeNumber } from "../documents";
import {
  defineCancel,
  defineCheck,
  defineCreate,
  defineKept,
  definePostKept,
  defineSubmitKept,
  keepOne,
  type KeptKind,
  type Saved,
} from "../keptDocuments";
import { reverseJournals, ruleFor, whyOf } from "../ledger";
import { paperToApprove, postPaper } from "../trade";
import {
  checkOf,
  prepareSale,
  readStoredSale,
  type ReadySale,
  type SaleCheck,
  type StoredSale,
} from "./checkSale";
import { SALES } from "./keepSales";

export type SavedSale = Saved<SaleCheck>;

export interface PostedSale {
  id: number;
  number: string;
  journal: string;
}

/**
 * Posts an invoice or credit note to a customer. Its number is taken first, since the journal and
 * the items say it; whatever then stands against it gives the number back with the transaction.
 */
async function post(
  context: Context,
  content: SaleInput,
  id: number,
  approved: boolean,
): Promise<Result<PostedSale>> {
  const { tx, masters } = context;
  const first = await prepareSale(context, content, id);
  if (!first.ok) return first;
  if (first.value.problems.length > 0)
    return fail(...(first.value.problems as [Found, ...Found[]]));
  if (!approved) {
    const [rule] = await ruleFor(context, [paperToApprove(first.value.reading)]);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const company = masters.companyByCode.get(content.company)!;
  const year = await yearOf(context, company.id, first.value.reading.entry.date);
  const number = await takeNumber(tx, { series: "sale", company, year });
  const ready = await prepareSale(context, content, id, number);
  if (!ready.ok) return ready;
  const { reading, drafts, taxDay, corrected, figures } = ready.value;
  const posted = await postPaper(context, {
    id,
    company: company.code,
    kind: content.kind,
    direction: "sale",
    reading,
    drafts,
    reportedOn: taxDay.on,
  });
  if (!posted.ok) return posted;
  const { journals } = posted.value;
  if (corrected) await documentLinks(tx, "corrects", [[id, corrected.id]]);
  await giveNumber(tx, id, number, "posted");
  await tx.execute(
    sql`update sale set journal_id = ${journals[0]!.id}, figures = ${encodeJson(figures)}::jsonb
      where document_id = ${id}`,
  );
  await context.audit({
    action: "posted",
    kind: "sale",
    recordId: id,
    label: number,
    companyId: company.id,
    after: { journals: journals.map((j) => j.number) },
  });
  return ok({ id, number, journal: journals[0]!.number });
}

/** The fiscal year of a day that is open: its number carries the year. */
async function yearOf(
  { tx }: Context,
  companyId: number,
  day: string,
): Promise<{ id: number; name: string }> {
  const [year] = isCalendarDate(day)
    ? await rows<{ id: number; name: string }>(
        tx,
        sql`select y.id, y.name from fiscal_year y join period n on n.year_id = y.id
          where y.company_id = ${companyId} and n.start_date <= ${day} and n.end_date >= ${day}
          limit 1`,
      )
    : [];
  if (!year) throw new Error(`No fiscal year of company ${companyId} on ${day}`);
  return year;
}

const KIND: KeptKind<SaleInput, StoredSale, ReadySale, SaleCheck, PostedSale> = {
  ...SALES,
  one: "invoice",
  many: "sales invoices",
  rights: { prepare: "prepare.receivables", post: "post.receivables" },
  posting: "post sales invoices",
  reachesLedger: true,
  schema: saleSchema,
  read: readStoredSale,
  refuses: ({ status, number }) =>
    status === "posted" || status === "reversed"
      ? { code: "ALREADY_POSTED", number: number ?? "" }
      : null,
  prepare: (context, content, { id }) => prepareSale(context, content, id),
  problems: ({ problems }) => problems,
  rule: async (context, _content, { reading }) => {
    const [rule] = await ruleFor(context, [paperToApprove(reading)]);
    return ok(rule ? { role: rule.role, why: whyOf(rule) } : null);
  },
  check: checkOf,
  post: async (context, content, { id, stored, asKept, justKept }) => {
    if (asKept && stored.status !== "draft")
      return fail({ code: "RUN_STATE", state: stored.status });
    // The register is brought up to what is posted: rates may have changed since it was kept.
    if (!justKept) {
      const prepared = await prepareSale(context, content, id);
      if (!prepared.ok) return prepared;
      await keepOne(SALES, context, { id, content, prepared: prepared.value });
    }
    return post(context, content, id, false);
  },
  approve: async (context, id) => {
    const stored = await readStoredSale(context, id);
    const posted = await post(context, stored!.content, id, true);
    return posted.ok ? ok({ number: posted.value.number }) : posted;
  },
  label: (content) => content.customer,
};

export const {
  save: saveSale,
  post: postSale,
  submit: submitSale,
  remove: deleteSale,
  approve: approveSale,
} = defineKept(KIND, {
  save: "saveSale",
  post: "postSale",
  submit: "submitSale",
  remove: "deleteSale",
});

export const checkSale = defineCheck(KIND, "checkSale");
export const postStoredSale = definePostKept(KIND, "postStoredSale");
export const submitStoredSale = defineSubmitKept(KIND, "submitStoredSale");

/** An invoice from a program: posted at once, or kept as a draft with what stands against it. */
export const createSale = defineCreate(KIND, "createSale", {
  posts: false,
  faulty: "kept",
  posted: ({ id, number }) => ({ id, number, status: "posted", problems: [] }),
});

/**
 * Takes back what was posted by mistake before anybody saw it: its journals are reversed. One that
 * went out, or that anything was paid of, is corrected by a credit note.
 */
export const cancelSale = defineCancel("cancelSale", {
  kind: "sale",
  what: "cancel sales invoices",
  right: "reverse.receivables",
  action: "cancelled",
  to: "reversed",
  read: readStoredSale,
  label: ({ number }) => number ?? "",
  takeBack: async (context, id, { journalId, sentAt, number }) => {
    if (sentAt)
      return fail({
        code: "IN_USE",
        what: `${number} has gone out to the customer; correct it by a credit note`,
      });
    const { correctedBy } = await linkedCorrections(context, id);
    if (correctedBy[0])
      return fail({
        code: "IN_USE",
        what: `${correctedBy[0].number} corrects it; cancel that first`,
      });
    const reversed = await reverseJournals(context, [journalId!], null);
    if (!reversed.ok) return reversed;
    const { id: reversal, number: journal, date } = reversed.value[0]!;
    await documentLinks(context.tx, "made", [[id, reversal]]);
    return ok({ id, journal, date });
  },
});
