"use server";
import type { ListPage } from "@/core/lists";
import type { UseCase } from "@/server/access";
import { listAssets } from "@/server/assets";
import { listBatches, listJournals } from "@/server/ledger";
import { listInvoices } from "@/server/payables";
import { listSales } from "@/server/receivables";
import { listOrders, listGoodsReceipts } from "@/server/purchasing";
import { listRunGroups, listRunItems, listRuns } from "@/server/runs";
import { answer, type Answer } from "./answer";
import { actionCaller } from "./session";
import { listPayments, listReceipts, listStatementLines, listTransfers } from "@/server/banks";

const LISTS = {
  journals: listJournals,
  batches: listBatches,
  invoices: listInvoices,
  sales: listSales,
  orders: listOrders,
  "goods-receipts": listGoodsReceipts,
  payments: listPayments,
  receipts: listReceipts,
  transfers: listTransfers,
  "statement-lines": listStatementLines,
  runs: listRuns,
  "run-items": listRunItems,
  "run-groups": listRunGroups,
  assets: listAssets,
};
export type ListName = keyof typeof LISTS;

/** A further page of a list of documents. */
export async function readList(
  name: ListName,
  input: unknown,
): Promise<Answer<ListPage<Record<string, unknown>>>> {
  if (!Object.hasOwn(LISTS, name))
    return { ok: false, message: "There is no such list.", problems: [] };
  const list: UseCase<ListPage<Record<string, unknown>>> = LISTS[name];
  return answer(await list(await actionCaller(), input));
}
