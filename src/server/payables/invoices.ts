import { sql } from "drizzle-orm";
import { invoiceSchema, type InvoiceInput } from "@/core/payables";
import { encodeJson, fail, ok, type Found, type Result } from "@/core/shared";
import { type Context } from "../access";
import { documentLinks, giveNumber, takeNumber } from "../documents";
import {
  defineCheck,
  defineCreate,
  defineKept,
  definePostKept,
  defineSubmitKept,
  keepOne,
  type KeptKind,
  type Saved,
} from "../keptDocuments";
import { ruleFor, whyOf } from "../ledger";
import { recordMatches } from "../purchasing";
import {
  checkOf,
  prepare,
  readPaper,
  readStored,
  type InvoiceCheck,
  type Ready,
  type Stored,
} from "./checkInvoice";
import { hold } from "./heldInvoices";
import { INVOICES } from "./keepInvoices";
import { paperFigures, paperToApprove, postPaper } from "../trade";

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
export async function post(
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
    const [rule] = await ruleFor(context, [paperToApprove(reading)]);
    if (rule) return fail({ code: "APPROVAL_NEEDED", why: whyOf(rule) });
  }
  const posted = await postPaper(context, {
    id,
    company: content.company,
    kind: content.kind,
    direction: "purchase",
    reading,
    drafts,
    reportedOn: ready.value.taxDay.on,
  });
  if (!posted.ok) return posted;
  const { journals, seq, year } = posted.value;
  const corrected = ready.value.correction?.invoice;
  if (corrected) await documentLinks(tx, "corrects", [[id, corrected.id]]);
  const company = masters.companyByCode.get(content.company)!;
  const invoiceNumber = await takeNumber(tx, { series: "invoice", company, year });
  await giveNumber(tx, id, invoiceNumber, "posted");
  await tx.execute(
    sql`update invoice set journal_id = ${journals[0]!.id},
      figures = ${encodeJson(paperFigures(reading))}::jsonb where document_id = ${id}`,
  );
  await recordMatches(
    context,
    id,
    company.id,
    reading.matches,
    { id: journals[0]!.id, seq, date: reading.entry.date },
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

const KIND: KeptKind<InvoiceInput, Stored, Ready, InvoiceCheck, PostedInvoice> = {
  ...INVOICES,
  one: "invoice",
  many: "invoices",
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
    const [rule] = await ruleFor(context, [paperToApprove(reading)]);
    return ok(rule ? { role: rule.role, why: whyOf(rule) } : null);
  },
  holdBack: async (context, content, { reading }, { id, stored }) => {
    const released = stored?.released?.holds ?? [];
    const held = reading.holds.filter((h) => !released.includes(h));
    return held.length > 0 ? (await hold(context, id!, content, held)).note! : null;
  },
  check: checkOf,
  post: async (context, content, { id, stored, asKept, justKept }) => {
    if (asKept && stored.status !== "draft")
      return fail({ code: "RUN_STATE", state: stored.status });
    // The register is brought up to what is posted: rates may have changed since it was kept.
    if (!justKept)
      await keepOne(INVOICES, context, {
        id,
        content,
        prepared: { reading: await readPaper(context, content) },
      });
    return post(context, content, id, false, asKept ? [] : stored.released?.holds);
  },
  approve: async (context, id) => {
    const stored = await readStored(context, id);
    const posted = await post(context, stored!.content, id, true, [
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
} = defineKept(KIND, {
  save: "saveInvoice",
  post: "postInvoice",
  submit: "submitInvoice",
  remove: "deleteInvoice",
});

export const checkInvoice = defineCheck(KIND, "checkInvoice");

/** Posts a draft as it is kept. */
export const postStoredInvoice = definePostKept(KIND, "postStoredInvoice");
export const submitStoredInvoice = defineSubmitKept(KIND, "submitStoredInvoice");

/**
 * An invoice from a program: posted at once, or kept as a draft with what stands against it. One
 * that can't be posted is not kept.
 */
export const createInvoice = defineCreate(KIND, "createInvoice", {
  posts: false,
  faulty: "kept",
  posted: ({ id, number, held }) => ({
    id,
    number: number || null,
    status: held ? "held" : "posted",
    problems: [],
    ...(held ? { held } : {}),
  }),
});
