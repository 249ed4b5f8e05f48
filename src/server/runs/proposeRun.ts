import { sql } from "drizzle-orm";
import { mixed, object, string } from "yup";
import { NO_OVERRIDES, runKindName } from "@/core/runs";
import { encodeJson, fail, minor, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { noteWriter, register, takeNumber } from "../documents";
import { basisOf } from "./basis";
import { runKind, type Proposed, type RunKind } from "./kind";
import { aloneWith, reserve, taken } from "./reserve";

export const proposeRun = defineUseCase({
  name: "proposeRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "propose runs",
  of: "checked",
  schema: object({
    kind: string().required(),
    params: mixed<Record<string, unknown>>().required(),
  }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const kind = await runKind(input.kind);
    if (!kind) return fail({ code: "NOT_FOUND", what: `kind of run ${input.kind}`, field: "kind" });
    let params: Record<string, unknown>;
    try {
      params = kind.schema.validateSync(input.params, { stripUnknown: true }) as Record<
        string,
        unknown
      >;
    } catch (error) {
      return fail({ code: "INVALID", what: (error as Error).message });
    }
    await aloneWith(context, kind, params);
    const proposed = await kind.propose(context, params, NO_OVERRIDES);
    return proposed.ok ? keepProposal(context, kind, params, proposed.value) : proposed;
  },
});

/** Keeps what a kind of run proposes as a preview, and its items from other runs. */
export async function keepProposal(
  context: Context,
  kind: Pick<RunKind, "id" | "right" | "takesAs">,
  params: Record<string, unknown>,
  proposed: Proposed,
): Promise<Result<{ id: number; number: string }>> {
  const { tx, now, may } = context;
  const { company, yearId, date, ...proposal } = proposed;
  if (!may(kind.right, company))
    return fail({
      code: "FORBIDDEN",
      what: `make the run ${runKindName(kind.id).toLowerCase()} in ${company}`,
    });
  const companyId = context.masters.companyByCode.get(company)!.id;
  const [year] = await rows<{ id: number; name: string }>(
    tx,
    sql`select id, name from fiscal_year where id = ${yearId}`,
  );
  const runNumber = await takeNumber(tx, {
    series: "run",
    company: { id: companyId, code: company },
    year: year!,
  });
  const [made] = await register(context, [
    {
      kind: "run",
      type: kind.id,
      number: runNumber,
      companyId,
      date,
      amount: minor(proposal.figures[0]?.amount ?? 0n),
      currency: context.masters.companyByCode.get(company)!.currency,
      title: proposal.title,
      status: "preview",
    },
  ]);
  const id = made!;
  await tx.execute(
    sql`insert into run (id, kind, company_id, params, proposal, basis, proposed_at)
      values (${id}, ${kind.id}, ${companyId}, ${JSON.stringify(params)}::jsonb,
      ${encodeJson(proposal)}::jsonb, ${basisOf(proposal)}, ${now.toISOString()})`,
  );
  await noteWriter(context, id);
  const reserved = await reserve(context, kind, id, taken(proposal, NO_OVERRIDES));
  if (!reserved.ok) return reserved;
  await context.audit({
    action: "proposed",
    kind: "run",
    recordId: id,
    label: runNumber,
    companyId,
  });
  return ok({ id, number: runNumber });
}
