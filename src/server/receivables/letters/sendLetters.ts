import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { AccountLetter } from "@/core/receivables";
import { runPages, type RunKindId } from "@/core/runs";
import { fail, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { askForJob, defineJobKind } from "../../jobs";
import { sendMails } from "../../letters";
import {
  drawLetters,
  lettersOf,
  readyLetters,
  type DrawnLetter,
  type ReadyLetter,
} from "./letterPapers";

/** So many letters are drawn and sent by a step. */
const AT_ONCE = 25;

/** A run that writes to customers, wherever it stands. */
interface LettersRun {
  id: number;
  kind: RunKindId;
  number: string;
  title: string;
  company: string;
  companyId: number;
  status: string;
  /** The date of its letters, and the day on which they say something will be done. */
  date: CalendarDate;
  onDay: CalendarDate | null;
  what: AccountLetter;
}

export async function lettersRunOf({ tx }: Context, key: string): Promise<LettersRun | null> {
  const [found] = await rows<LettersRun>(
    tx,
    sql`select d.id::int as id, r.kind, d.number, d.title, c.code as company, c.id as "companyId",
        d.status, case when r.kind = 'letters' then d.date else coalesce((select min(l.date)
          from customer_letter l where l.run_id = d.id), d.created_at::date) end as date,
        case when r.kind = 'letters' then null else d.date end as "onDay",
        coalesce(r.params->>'what', 'debit') as what
      from run r join document d on d.id = r.id join company c on c.id = d.company_id
      where r.kind in ('letters', 'direct-debit') and (d.number = ${key} or d.id::text = ${key}) limit 1`,
  );
  return found ?? null;
}

/**
 * The same, held for this transaction: whoever takes the run back meanwhile comes before or after. It
 * is held first and read then, so that what others did is seen.
 */
async function heldRun(context: Context, key: string): Promise<LettersRun | null> {
  const found = await lettersRunOf(context, key);
  if (!found) return null;
  await context.tx.execute(sql`select 1 from run where id = ${found.id} for update`);
  return lettersRunOf(context, key);
}

/** Sends the letters of a posted run, by and by; from then on it can't be taken back. */
export const sendLetters = defineUseCase({
  name: "sendLetters",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "send letters",
  of: "checked",
  schema: object({ run: string().required().max(40) }),
  run: async (context, input): Promise<Result<{ letters: number }>> => {
    const run = await heldRun(context, input.run);
    if (!run) return fail({ code: "NOT_FOUND", what: "such run of letters" });
    if (!context.may("prepare.receivables", run.company))
      return fail({ code: "FORBIDDEN", what: `send letters of ${run.company}` });
    if (run.status !== "posted") return fail({ code: "RUN_STATE", state: run.status });
    const [waiting] = await rows<{ letters: number; asked: boolean }>(
      context.tx,
      sql`select count(*)::int as letters, exists (select 1 from job where kind = 'send-letters'
          and state in ('waiting', 'running') and params->>'run' = ${String(run.id)}) as asked
        from customer_letter where run_id = ${run.id} and sent_at is null`,
    );
    if (waiting!.letters === 0)
      return fail({ code: "INVALID", what: `All letters of ${run.number} have gone out` });
    if (waiting!.asked)
      return fail({ code: "INVALID", what: `The letters of ${run.number} are being sent` });
    await askForJob(context, {
      kind: "send-letters",
      company: run.company,
      title: `${run.number}: ${run.title}`,
      page: `${runPages(run.kind)}/${run.id}`,
      params: { run: run.id },
      alone: `send letters ${run.id}`,
      total: waiting!.letters,
    });
    await context.audit({
      action: "sent",
      kind: "run",
      recordId: run.id,
      label: run.number,
      companyId: run.companyId,
      after: { letters: waiting!.letters },
    });
    return ok(waiting!);
  },
});

/** Draws the letters of a run and sends them; stopped, those that are left wait as before. */
export const sendLettersJob = defineJobKind({
  id: "send-letters",
  schema: object({ run: number().integer().required() }),
  async work(job) {
    const { run } = job.params;
    let done = 0;
    for (;;) {
      const next = await job.step((context) => nextLetters(context, run));
      if (!next.ok) return next;
      if (next.value.length === 0) return ok({});
      // Between the steps: others are answered while it draws.
      const drawn = await drawLetters(next.value);
      const sent = await job.step(async (context) => {
        const part = await sendDrawn(context, run, drawn);
        return part.ok ? ok({ done: done + part.value.letters }) : part;
      });
      if (!sent.ok) return sent;
      done = sent.value.done;
    }
  },
  /** What has gone out has gone out. */
  over: async () => {},
});

/** The run while its letters may be sent; null where nothing is to be sent any more. */
async function sendingRun(context: Context, id: number): Promise<Result<LettersRun | null>> {
  const run = await heldRun(context, String(id));
  if (run?.status !== "posted") return ok(null);
  return context.may("prepare.receivables", run.company)
    ? ok(run)
    : fail({ code: "FORBIDDEN", what: `send letters of ${run.company}` });
}

/** The next letters that wait, ready to be drawn. */
async function nextLetters(context: Context, id: number): Promise<Result<ReadyLetter[]>> {
  const run = await sendingRun(context, id);
  if (!run.ok || run.value === null) return run.ok ? ok([]) : run;
  const waiting = await rows<{ partner: string }>(
    context.tx,
    sql`select partner from customer_letter where run_id = ${id} and sent_at is null
      order by partner limit ${AT_ONCE}`,
  );
  const customers = waiting.map((w) => w.partner);
  return ok(await readyLetters(context, await lettersOf(context, run.value, customers)));
}

/** Sends what is drawn and still waits. */
async function sendDrawn(
  context: Context,
  id: number,
  drawn: readonly DrawnLetter[],
): Promise<Result<{ letters: number }>> {
  const { tx, person, now } = context;
  const found = await sendingRun(context, id);
  if (!found.ok || found.value === null) return found.ok ? ok({ letters: 0 }) : found;
  const run = found.value;
  const waiting = await rows<{ id: bigint; partner: string }>(
    tx,
    sql`select id, partner from customer_letter where run_id = ${id} and sent_at is null
      and partner = any(${arrayOf(drawn.map((d) => d.customer))}::text[]) for update`,
  );
  const still = new Set(waiting.map((w) => w.partner));
  const going = drawn.filter((d) => still.has(d.customer));
  const sentTo = new Map(going.map((d) => [d.customer, d.to || "printer"]));
  await sendMails(
    context,
    going.map((d) => ({
      documentId: id,
      companyId: run.companyId,
      to: d.to || "printer",
      subject: `${d.title}, ${run.company}`,
      body: d.title,
      files: [
        {
          name: `${run.number}-${d.customer.replace(/[^A-Za-z0-9-]/g, "")}.pdf`,
          content: d.file,
        },
      ],
    })),
  );
  await tx.execute(
    sql`update customer_letter l set sent_to = x."to", sent_by = ${person.id},
        sent_at = ${now.toISOString()}
      from unnest(${arrayOf(waiting.map((w) => w.id))}::bigint[],
        ${arrayOf(waiting.map((w) => sentTo.get(w.partner) ?? "printer"))}::text[]) as x(id, "to")
      where l.id = x.id`,
  );
  return ok({ letters: waiting.length });
}

/** A letter of a run as it is, or will be, sent. */
export const getLetterPdf = defineUseCase({
  name: "getLetterPdf",
  kind: "read",
  rights: ["read.receivables"],
  what: "see letters",
  of: "checked",
  schema: object({ run: string().required().max(40), customer: string().required().max(60) }),
  run: async (context, input): Promise<Result<{ name: string; file: Uint8Array }>> => {
    const run = await lettersRunOf(context, input.run);
    if (!run) return fail({ code: "NOT_FOUND", what: "such run of letters" });
    if (!context.may("read.receivables", run.company))
      return fail({ code: "FORBIDDEN", what: `see letters of ${run.company}` });
    const [letter] = await lettersOf(context, run, [input.customer]);
    if (!letter)
      return fail({ code: "NOT_FOUND", what: `letter to ${input.customer} in ${run.number}` });
    const [drawn] = await drawLetters(await readyLetters(context, [letter]));
    return ok({ name: `${run.number}-${input.customer}.pdf`, file: drawn!.file });
  },
});
