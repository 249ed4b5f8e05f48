import { sql, type SQL } from "drizzle-orm";
import { number, object } from "yup";
import {
  letterText,
  remittanceLetter,
  type Letter,
  type LetterLanguage,
  type RemittancePaper,
} from "@/core/letters";
import { runPages } from "@/core/runs";
import { idField, amountText, dateText, fail, minor, ok, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase, type Context } from "../access";
import { askForJob, defineJobKind } from "../jobs";
import { drawLetter, sendMails, senderOf, type Mail } from "../letters";

/** So many advices are drawn and sent by a step. */
const AT_ONCE = 25;

interface AdviceItem {
  reference: string;
  date: string;
  taken: string;
  discount: string;
}

/** A payment of which its supplier is to be told. */
interface Payment {
  id: bigint;
  number: string;
  date: string;
  amount: bigint;
  currency: string;
  payee: string;
  email: string;
  companyId: number;
  code: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
  language: LetterLanguage;
  method: RemittancePaper["method"];
  paidTo: string;
  items: AdviceItem[] | null;
}

/** Payments that stand and have no advice yet. */
const untold = (which: SQL) => sql`from payment p join document d on d.id = p.document_id
    left join partner s on s.code = p.partner
  where ${which} and d.status in ('posted', 'sent', 'cleared')
    and not exists (select 1 from outbox o where o.document_id = d.id)`;
const ofRun = (run: number) => sql`p.run_id = ${run}::bigint`;

/** An advice, ready to be drawn. */
interface ReadyAdvice {
  payment: Payment;
  letter: Letter;
  sender: Awaited<ReturnType<typeof senderOf>>;
}

/** The next advices to suppliers with an address. */
async function nextAdvices(tx: Db, which: SQL, most: number): Promise<ReadyAdvice[]> {
  const payments = await rows<Payment>(
    tx,
    sql`select d.id, d.number, d.date, d.amount, d.currency, p.payee, s.email,
      d.company_id as "companyId", s.code, s.street, s.postcode, s.city, s.country, s.language,
      p.method, coalesce(nullif(p.iban, ''), p.account_number) as "paidTo",
        (select jsonb_agg(jsonb_build_object('reference', i.reference, 'date', i.date, 'taken',
          (-t.taken)::text, 'discount', t.discount::text) order by i.due_date, i.id)
          from payment_item t join open_item i on i.id = t.item_id
          where t.payment_id = d.id) as items
      ${untold(which)} and s.email <> '' order by d.id limit ${most}`,
  );
  const senders = new Map<string, ReadyAdvice["sender"]>();
  const ready: ReadyAdvice[] = [];
  for (const payment of payments) {
    const key = `${payment.companyId} ${payment.language}`;
    const sender = senders.get(key) ?? (await senderOf(tx, payment.companyId, payment.language));
    senders.set(key, sender);
    ready.push({ payment, letter: letterOf(payment, sender), sender });
  }
  return ready;
}

const letterOf = (f: Payment, { company, contact, layout }: ReadyAdvice["sender"]): Letter =>
  remittanceLetter({
    ...f,
    company,
    payee: { ...f, name: f.payee },
    contact,
    amount: minor(f.amount),
    items: (f.items ?? []).map((i) => ({
      reference: i.reference,
      date: i.date,
      taken: minor(BigInt(i.taken)),
      discount: minor(BigInt(i.discount)),
    })),
    opening: letterText(layout, "remittance", f.language, "opening"),
    closing: letterText(layout, "remittance", f.language, "closing"),
  });

async function drawAdvices(ready: readonly ReadyAdvice[]): Promise<Mail[]> {
  const drawn: Mail[] = [];
  for (const { payment: f, letter, sender } of ready)
    drawn.push({
      documentId: Number(f.id),
      companyId: f.companyId,
      to: f.email,
      subject: `Remittance advice ${f.number}`,
      body: `We have paid ${amountText(minor(f.amount), f.currency)} ${f.currency} on ${dateText(f.date)}. The list of what it settles is attached.`,
      files: [{ name: `${f.number}.pdf`, content: await drawLetter(letter, sender) }],
    });
  return drawn;
}

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
