import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import type { RunOverrides } from "@/core/runs";
import { encodeJson, fail, ok, textRecord, type Result } from "@/core/shared";
import { companiesOf, defineUseCase } from "../access";
import { noteWriter, registerPreview } from "../documents";
import { basisOf } from "./basis";
import { readRun, runOf } from "./readRun";
import { aloneWith, reserve, taken } from "./reserve";

/** Takes over what a person has changed in a preview, and computes it again. */
export const changeRun = defineUseCase({
  name: "changeRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "change previews",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({
    key: string().required().max(40),
    dropped: array(string().required().max(200)).max(50_000).default([]),
    amounts: textRecord(),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await readRun(context, input.key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `change this preview in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    const overrides: RunOverrides = {
      dropped: [...new Set(input.dropped)].sort(),
      amounts: Object.fromEntries(
        Object.entries(input.amounts)
          .filter(([, text]) => text.trim() !== "")
          .sort(),
      ),
    };
    await aloneWith(context, definition, row.params);
    const proposed = await definition.propose(context, row.params, overrides, Number(row.id));
    if (!proposed.ok) return proposed;
    const { company: _company, yearId: _year, date: _date, ...proposal } = proposed.value;
    const id = Number(row.id);
    const free = await definition.changing?.(context, { id, params: row.params, next: proposal });
    if (free && !free.ok) return free;
    const reserved = await reserve(context, definition, id, taken(proposal, overrides));
    if (!reserved.ok) return reserved;
    await context.tx.execute(
      sql`update run set overrides = ${JSON.stringify(overrides)}::jsonb,
        proposal = ${encodeJson(proposal)}::jsonb, basis = ${basisOf(proposal)} where id = ${id}`,
    );
    // Whoever has proposed or changed it has written it: somebody else has to approve.
    await noteWriter(context, id);
    await registerPreview(context, id, proposal.figures[0]?.amount ?? 0n);
    await context.audit({
      action: "changed",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
      before: row.overrides,
      after: overrides,
    });
    return ok({ id });
  },
});
