import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { setStatus } from "../documents";
import { defineUseCase } from "../access";
import { readRun } from "./readRun";

export const discardRun = defineUseCase({
  name: "discardRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "discard previews",
  of: "checked",
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<{ id: number }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `discard this preview in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    const free = await definition.changing?.(context, {
      id: Number(row.id),
      params: row.params,
      next: null,
    });
    if (free && !free.ok) return free;
    await context.tx.execute(sql`delete from run_reservation where run_id = ${row.id}`);
    await setStatus(context.tx, [Number(row.id)], "discarded");
    await context.audit({
      action: "discarded",
      kind: "run",
      recordId: Number(row.id),
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
    });
    return ok({ id: Number(row.id) });
  },
});
