import { sql } from "drizzle-orm";
import { mixed, object, string } from "yup";
import { NO_OVERRIDES, runKindName, runPages } from "@/core/runs";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { insertAll, rows, schema } from "../db";
import { defineUseCase, type Context } from "../access";
import { noteWriter, register, takeNumber } from "../documents";
import { askForJob } from "../jobs";
import { ACT } from "./actOnRun";
import { basisOf } from "./basis";
import { runKind, type Proposed, type RunInParts, type RunKind, type RunPlace } from "./kind";
import { computeAll, INLINE } from "./parts";

import { storeHead, storeItems } from "./storedRun";
import { aloneWith } from "./taking";

/** A run that was proposed; one that is large is computed by and by. */
export interface ProposedRun {
  id: number;
  number: string;
  status: "computing" | "preview";
}

export const proposeRun = defineUseCase({
  name: "proposeRun",
  kind: "write",
  rights: ACT,
  what: "propose runs",
  of: "checked",
  schema: object({
    kind: string().required(),
    params: mixed<Record<string, unknown>>().required(),
  }),
  run: async (context, input): Promise<Result<ProposedRun>> => {
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
    if (kind.parts) return beginInParts(context, kind, params);
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
): Promise<Result<ProposedRun>> {
  const made = await registerRun(context, kind, params, proposed, {
    status: "preview",
    amount: minor(proposed.figures[0]?.amount ?? 0n),
    basis: basisOf(proposed),
    detail: proposed.detail,
  });
  if (!made.ok) return made;
  const { id } = made.value;
  const stored = await storeItems(context.tx, kind, id, proposed.items, NO_OVERRIDES);
  if (!stored.ok) return stored;
  await storeHead(context.tx, id, proposed, proposed.drafts);
  return made;
}

/** A small run is computed at once; a large one by a job, part by part. */
async function beginInParts(
  context: Context,
  kind: RunInParts,
  params: Record<string, unknown>,
): Promise<Result<ProposedRun>> {
  const begun = await kind.parts.begin(context, params);
  if (!begun.ok) return begun;
  const { size, ...place } = begun.value;
  const made = await registerRun(context, kind, params, place, {
    status: "computing",
    amount: minor(0n),
    basis: "",
    detail: undefined,
  });
  if (!made.ok) return made;
  const { id, number } = made.value;
  if (size <= INLINE) {
    const computed = await computeAll(context, id);
    return computed.ok ? ok({ id, number, status: "preview" }) : computed;
  }
  await askForJob(context, {
    kind: "compute-run",
    company: place.company,
    title: `${number}: ${place.title}`,
    page: `${runPages(kind.id)}/${id}`,
    params: { run: id },
    alone: `compute ${kind.takesAs ?? kind.id} ${place.company}`,
    total: size,
  });
  return made;
}

async function registerRun(
  context: Context,
  kind: Pick<RunKind, "id" | "right">,
  params: Record<string, unknown>,
  { company, yearId, date, title }: RunPlace,
  made: { status: ProposedRun["status"]; amount: Minor; basis: string; detail: unknown },
): Promise<Result<ProposedRun>> {
  const { tx, now, may } = context;
  if (!may(kind.right, company))
    return fail({
      code: "FORBIDDEN",
      what: `make the run ${runKindName(kind.id).toLowerCase()} in ${company}`,
    });
  const { id: companyId, currency } = context.masters.companyByCode.get(company)!;
  const [year] = await rows<{ id: number; name: string }>(
    tx,
    sql`select id, name from fiscal_year where id = ${yearId}`,
  );
  const number = await takeNumber(tx, {
    series: "run",
    company: { id: companyId, code: company },
    year: year!,
  });
  const { status, amount, basis, detail } = made;
  const [registered] = await register(context, [
    { kind: "run", type: kind.id, number, companyId, date, amount, currency, title, status },
  ]);
  const id = registered!;
  await insertAll(tx, schema.run, [
    { id, kind: kind.id, companyId, params, detail, basis, proposedAt: now },
  ]);
  await noteWriter(context, id);
  await context.audit({
    action: "proposed",
    kind: "run",
    recordId: id,
    label: number,
    companyId,
  });
  return ok({ id, number, status });
}
