import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { runPages } from "@/core/runs";
import { fail, idField, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { askForJob, defineJobKind } from "../jobs";
import { sendMails, type Mail } from "../letters";
import { drawAdvices, nextAdvices, untold } from "./advicePapers";

/** So many advices are drawn and sent by a step. */
const AT_ONCE = 25;

const ofRun = (run: number) => sql`p.run_id = ${run}::bigint`;

/** Sends what is drawn, but of payments that were undone or told of meanwhile. */
async function sendDrawn(context: Context, drawn: readonly Mail[]): Promise<void> {
  const ids = arrayOf(drawn.map((m) => m.documentId));
  await context.tx.execute(
    sql`select 1 from payment where document_id = any(${ids}::bigint[]) order by document_id for update`,
  );
  const still = new Set(
    (
      await rows<{ id: bigint }>(
        context.tx,
        sql`select d.id ${untold(sql`d.id = any(${ids}::bigint[])`)}`,
      )
    ).map((s) => Number(s.id)),
  );
  await sendMails(
    context,
    drawn.filter((m) => still.has(m.documentId!)),
  );
}

/**
 * Sends each supplier of a run the list of what was paid, as a PDF: into the simulated mailbox,
 * where it can be read; by a job, for drawing hundreds takes its time. That of one payment goes at
 * once. Suppliers without an address are named, and those that have one are left out.
 */
export const sendAdvices = defineUseCase({
  name: "sendAdvices",
  kind: "write",
  rights: ["post.payables"],
  what: "send remittance advices",
  of: async ({ tx }, input) =>
    (
      await rows<{ company: string }>(
        tx,
        sql`select c.code as company from document d join company c on c.id = d.company_id
          where d.id in (${input.run ?? 0}::bigint, ${input.payment ?? 0}::bigint)`,
      )
    ).map((r) => r.company),
  schema: object({ run: idField(), payment: idField() }),
  run: async (context, input): Promise<Result<{ advices: number; without: string[] }>> => {
    const { tx } = context;
    const which = input.run ? ofRun(input.run) : sql`d.id = ${input.payment ?? 0}::bigint`;
    const found = await rows<{ payee: string; email: string }>(
      tx,
      sql`select p.payee, coalesce(s.email, '') as email ${untold(which)} order by d.id`,
    );
    if (found.length === 0)
      return fail({ code: "IN_USE", what: "Every payment has its advice already" });
    const without = found.filter((f) => f.email === "").map((f) => f.payee);
    const advices = found.length - without.length;
    if (advices === 0) return ok({ advices, without });
    if (input.run) {
      const asked = await askForAdvices(context, input.run, advices);
      if (!asked.ok) return asked;
    } else await sendDrawn(context, await drawAdvices(await nextAdvices(tx, which, 1)));
    return ok({ advices, without });
  },
});

async function askForAdvices(context: Context, run: number, total: number) {
  const [found] = await rows<{ number: string; title: string; company: string; asked: boolean }>(
    context.tx,
    sql`select d.number, d.title, c.code as company, exists (select 1 from job
        where kind = 'send-advices' and state in ('waiting', 'running')
          and params->>'run' = ${String(run)}) as asked
      from document d join company c on c.id = d.company_id where d.id = ${run}::bigint for update of d`,
  );
  if (!found) return fail({ code: "NOT_FOUND", what: "such payment run" });
  const { number, title, company, asked } = found;
  if (asked) return fail({ code: "INVALID", what: `The advices of ${number} are being sent` });
  await askForJob(context, {
    kind: "send-advices",
    company,
    title: `${number}: ${title}`,
    page: `${runPages("payment")}/${run}`,
    params: { run },
    alone: `send advices ${run}`,
    total,
  });
  return ok({});
}

/** Draws the advices of a run and sends them; stopped, those that are left can be sent later. */
export const sendAdvicesJob = defineJobKind({
  id: "send-advices",
  schema: object({ run: number().integer().required() }),
  async work(job) {
    const which = ofRun(job.params.run);
    let done = 0;
    for (;;) {
      const next = await job.step(async (context) => {
        const ready = await nextAdvices(context.tx, which, AT_ONCE);
        const barred = ready.some(
          ({ payment: { companyId } }) =>
            !context.may("post.payables", context.masters.companyById.get(companyId)!.code),
        );
        return barred ? fail({ code: "FORBIDDEN", what: "send remittance advices" }) : ok(ready);
      });
      if (!next.ok || next.value.length === 0) return next;
      // Between the steps: others are answered while it draws.
      const drawn = await drawAdvices(next.value);
      done += drawn.length;
      const sent = await job.step(async (context) => {
        await sendDrawn(context, drawn);
        return ok({ done });
      });
      if (!sent.ok) return sent;
    }
  },
  /** What has gone out has gone out. */
  over: async () => {},
});
