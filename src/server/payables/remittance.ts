import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  letterText,
  remittanceLetter,
  type LetterLanguage,
  type RemittancePaper,
} from "@/core/letters";
import { idField, amountText, dateText, fail, minor, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { drawLetter, senderOf } from "../letters";

interface AdviceItem {
  reference: string;
  date: string;
  taken: string;
  discount: string;
}

/**
 * Sends each supplier of a run the list of what was paid, as a PDF: into the simulated mailbox,
 * where it can be read. Those that have one are left out.
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
  run: async (context, input): Promise<Result<{ sent: number; without: string[] }>> => {
    const { tx, person, now } = context;
    const found = await rows<{
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
    }>(
      tx,
      sql`select d.id, d.number, d.date, d.amount, d.currency, p.payee, coalesce(s.email,
        '') as email, d.company_id as "companyId", coalesce(s.code, '') as code,
        coalesce(s.street, '') as street, coalesce(s.postcode, '') as postcode,
        coalesce(s.city, '') as city, coalesce(s.country, '') as country,
        coalesce(s.language, 'en') as language, p.method,
        coalesce(nullif(p.iban, ''), p.account_number) as "paidTo",
            (select jsonb_agg(jsonb_build_object('reference', i.reference, 'date', i.date, 'taken',
              (-t.taken)::text, 'discount', t.discount::text) order by i.due_date, i.id)
              from payment_item t join open_item i on i.id = t.item_id
              where t.payment_id = d.id) as items
          from payment p join document d on d.id = p.document_id
            left join partner s on s.code = p.partner
          where ${input.run ? sql`p.run_id = ${input.run}` : sql`d.id = ${input.payment ?? 0}`}
            and d.status in ('posted', 'sent', 'cleared') and not exists (select 1 from outbox o
            where o.document_id = d.id) order by d.id`,
    );
    if (found.length === 0)
      return fail({ code: "IN_USE", what: "Every payment has its advice already" });
    const reachable = found.filter((f) => f.email !== "");
    const made: {
      id: bigint;
      companyId: number;
      to: string;
      subject: string;
      body: string;
      name: string;
      file: string;
    }[] = [];
    const senders = new Map<string, Awaited<ReturnType<typeof senderOf>>>();
    const sendersOf = async (companyId: number, language: LetterLanguage) => {
      const key = `${companyId} ${language}`;
      const known = senders.get(key) ?? (await senderOf(tx, companyId, language));
      senders.set(key, known);
      return known;
    };
    for (const f of reachable) {
      const sender = await sendersOf(f.companyId, f.language);
      const letter = remittanceLetter({
        ...f,
        company: sender.company,
        payee: { ...f, name: f.payee },
        contact: sender.contact,
        amount: minor(f.amount),
        items: (f.items ?? []).map((i) => ({
          reference: i.reference,
          date: i.date,
          taken: minor(BigInt(i.taken)),
          discount: minor(BigInt(i.discount)),
        })),
        opening: letterText(sender.layout, "remittance", f.language, "opening"),
        closing: letterText(sender.layout, "remittance", f.language, "closing"),
      });
      const file = await drawLetter(letter, sender);
      made.push({
        id: f.id,
        companyId: f.companyId,
        to: f.email,
        subject: `Remittance advice ${f.number}`,
        body: `We have paid ${amountText(minor(f.amount), f.currency)} ${f.currency} on ${dateText(f.date)}. The list of what it settles is attached.`,
        name: `${f.number}.pdf`,
        file: Buffer.from(file).toString("base64"),
      });
    }
    const column = (pick: (m: (typeof made)[number]) => string | number | bigint) =>
      arrayOf(made.map(pick));
    if (made.length > 0)
      await tx.execute(sql`insert into outbox (document_id, company_id, "to", subject, body,
        file_name, file, sent_by, sent_at)
        select x.*, ${person.id}, ${now.toISOString()}::timestamptz
          from unnest(${column((m) => m.id)}::bigint[], ${column((m) => m.companyId)}::int[],
          ${column((m) => m.to)}::text[], ${column((m) => m.subject)}::text[],
          ${column((m) => m.body)}::text[], ${column((m) => m.name)}::text[],
          ${column((m) => m.file)}::text[]) as x`);
    return ok({
      sent: made.length,
      without: found.filter((f) => f.email === "").map((f) => f.payee),
    });
  },
});

export interface Message {
  id: number;
  to: string;
  subject: string;
  body: string;
  fileName: string;
  by: string;
  at: string;
  document: { id: number; kind: string; number: string } | null;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

/** The simulated mailbox of a company: what would have gone out, newest first. */
export const listOutbox = defineUseCase({
  name: "listOutbox",
  kind: "read",
  rights: ["read.payables", "read.receivables"],
  what: "see the mailbox",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<Message[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<Message, "id"> & { id: bigint }>(
      tx,
      sql`select o.id, o."to", o.subject, o.body, o.file_name as "fileName", p.name as by,
        o.sent_at as at, (select jsonb_build_object('id', d.id, 'kind', d.kind, 'number',
        coalesce(d.number, '')) from document d where d.id = o.document_id) as document,
        count(*) over ()::int as "of"
          from outbox o join person p on p.id = o.sent_by where o.company_id = ${company.id}
            order by o.id desc limit 500`,
    );
    return ok(found.map((f) => ({ ...f, id: Number(f.id) })));
  },
});

export const getMessageFile = defineUseCase({
  name: "getMessageFile",
  kind: "read",
  rights: ["read.payables", "read.receivables"],
  what: "see the mailbox",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: Buffer }>> => {
    const [row] = await rows<{ name: string; file: string; company: string }>(
      context.tx,
      sql`select o.file_name as name, o.file, c.code as company from outbox o
        join company c on c.id = o.company_id where o.id = ${input.id}`,
    );
    if (!row || row.file === "") return fail({ code: "NOT_FOUND", what: "such file" });
    return context.may("read.payables", row.company) || context.may("read.receivables", row.company)
      ? ok({ name: row.name, content: Buffer.from(row.file, "base64") })
      : fail({ code: "FORBIDDEN", what: `see the mailbox of ${row.company}` });
  },
});
