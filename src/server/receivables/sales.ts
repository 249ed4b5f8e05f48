import { saleSchema, type SaleInput } from "@/core/receivables";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
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
import { ruleFor, whyOf } from "../ledger";
import { paperToApprove } from "../trade";
import {
  checkOf,
  prepareSale,
  readStoredSale,
  type ReadySale,
  type SaleCheck,
  type StoredSale,
} from "./checkSale";
import { SALES } from "./keepSales";
import { withItems } from "./saleItems";
import { postSales, type PostedSale } from "./postSales";
import { takeBackSales } from "./takeBackSales";

export type SavedSale = Saved<SaleCheck>;

async function post(
  context: Context,
  content: SaleInput,
  id: number,
  approved: boolean,
): Promise<Result<PostedSale>> {
  const posted = await postSales(context, [{ id, content }], { approved });
  return posted.ok ? ok(posted.value[0]!) : posted;
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
  complete: async (context, content) => (await withItems(context, [content]))[0]!,
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
  takeBack: async (context, id) => {
    const taken = await takeBackSales(context, [id]);
    return taken.ok ? ok(taken.value[0]!) : taken;
  },
});
