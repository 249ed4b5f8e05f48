import { boolean, number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { companiesOf, lockChains, type Context } from "../access";
import { setStatus } from "../documents";
import { defineJobKind } from "../jobs";
import { clearRun } from "./storedRun";
import { computePart, finishPreview, runInParts, unwrite, writePart } from "./parts";
import { finishPosting } from "./postRun";

const schema = object({ run: number().integer().required() });
const postingSchema = schema.shape({
  /** How all that the items rest on stood when posting was asked for; it must not move after that. */
  stand: string().required(),
  /** Whether that was how it stood when the preview was computed. */
  standing: boolean().default(false),
});

/** Computes a large run, part by part; after a crash it goes on behind the last part. */
export const computeRunJob = defineJobKind({
  id: "compute-run",
  schema,
  async work(job) {
    for (;;) {
      const part = await job.step(async (context) => {
        const run = await runInParts(context, job.params.run);
        if (!run.ok) return run;
        if (run.value.status !== "computing") return ok({ last: true, items: 0 });
        const computed = await computePart(context, run.value);
        return computed.ok ? ok({ ...computed.value, done: computed.value.items }) : computed;
      });
      if (!part.ok) return part;
      if (part.value.last) break;
    }
    return job.step(async (context) => {
      const run = await runInParts(context, job.params.run);
      if (!run.ok || run.value.status !== "computing") return run;
      return finishPreview(context, run.value);
    });
  },
  /** What is computed in part is no preview. */
  async over(context, { run }) {
    const found = await runInParts(context, run);
    if (!found.ok || found.value.status !== "computing") return;
    await clearRun(context.tx, run);
    await setStatus(context.tx, [run], "discarded");
  },
});

/**
 * Posts a large run: first each part is held against the data as they are now and leaves its rows,
 * hidden; then, in one transaction and only if nothing has moved meanwhile, the journals.
 */
export const postRunJob = defineJobKind({
  id: "post-run",
  schema: postingSchema,
  async work(job) {
    for (;;) {
      const part = await job.step(async (context) => {
        const run = await runInParts(context, job.params.run);
        if (!run.ok) return run;
        if (run.value.status !== "posting") return ok({ last: true, items: 0 });
        const written = await writePart(context, run.value, job.params.standing);
        return written.ok ? ok({ ...written.value, done: written.value.items }) : written;
      });
      if (!part.ok) return part;
      if (part.value.last) break;
    }
    return job.step((context) => finish(context, job.params));
  },
  /** It is a preview again, and nothing of it stays. */
  async over(context, { run }) {
    const found = await runInParts(context, run);
    if (!found.ok || found.value.status !== "posting") return;
    await unwrite(context, found.value);
    await setStatus(context.tx, [run], "preview");
  },
});

async function finish(
  context: Context,
  { run: id, stand }: { run: number; stand: string },
): Promise<Result<unknown>> {
  await lockChains(context.tx, await companiesOf(context.tx, [id]));
  const run = await runInParts(context, id);
  if (!run.ok) return run;
  const { definition, params, status, company } = run.value;
  // It was posted by an attempt whose machine stopped before it could say so.
  if (status === "posted" || status === "reversed") return ok({});
  if (status !== "posting") return fail({ code: "RUN_STATE", state: status });
  if (!context.may(definition.right, company))
    return fail({ code: "FORBIDDEN", what: `post this run in ${company}` });
  if ((await definition.parts.stand(context, params)) !== stand)
    return fail({ code: "RUN_MOVED", what: "The data have changed" });
  return finishPosting(context, run.value);
}
