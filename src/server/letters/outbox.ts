import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows } from "../db";

/** What is attached to a mail. */
export interface MailFile {
  name: string;
  content: Uint8Array;
}

/** A mail that goes out with its files. */
export interface Mail {
  documentId: number | null;
  companyId: number;
  to: string;
  subject: string;
  body: string;
  files: readonly MailFile[];
}

/**
 * Sends mails: into the simulated mailbox, where they can be read; in as many statements for any
 * number as for one.
 */
export async function sendMails(
  { tx, person, now }: Context,
  mails: readonly Mail[],
): Promise<void> {
  if (mails.length === 0) return;
  const numbers = await rows<{ id: bigint }>(
    tx,
    sql`select nextval(pg_get_serial_sequence('outbox', 'id'))::bigint as id
      from generate_series(1, ${mails.length}::int)`,
  );
  const column = (pick: (m: Mail) => string | number | null) => arrayOf(mails.map(pick));
  await tx.execute(sql`insert into outbox (id, document_id, company_id, "to", subject, body,
      sent_by, sent_at)
    select x.*, ${person.id}, ${now.toISOString()}::timestamptz
      from unnest(${arrayOf(numbers.map((n) => n.id))}::bigint[],
        ${column((m) => m.documentId)}::bigint[], ${column((m) => m.companyId)}::int[],
        ${column((m) => m.to)}::text[], ${column((m) => m.subject)}::text[],
        ${column((m) => m.body)}::text[]) as x`);
  const files = mails.flatMap((m, i) =>
    m.files.map((f, place) => ({ ...f, mail: numbers[i]!.id, no: place + 1 })),
  );
  if (files.length === 0) return;
  await tx.execute(sql`insert into outbox_file (outbox_id, no, name, content)
    select * from unnest(${arrayOf(files.map((f) => f.mail))}::bigint[],
      ${arrayOf(files.map((f) => f.no))}::int[], ${arrayOf(files.map((f) => f.name))}::text[],
      ${arrayOf(files.map((f) => Buffer.from(f.content).toString("base64")))}::text[])`);
}

export interface Message {
  id: number;
  to: string;
  subject: string;
  body: string;
  files: { no: number; name: string }[];
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
      sql`select o.id, o."to", o.subject, o.body, p.name as by, o.sent_at as at,
        coalesce((select jsonb_agg(jsonb_build_object('no', f.no, 'name', f.name) order by f.no)
          from outbox_file f where f.outbox_id = o.id), '[]') as files,
        (select jsonb_build_object('id', d.id, 'kind', d.kind, 'number', coalesce(d.number, ''))
          from document d where d.id = o.document_id) as document,
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
  schema: object({
    id: number().integer().required(),
    /** Its place among the files of the mail, from one. */
    no: number().integer().min(1).default(1),
  }),
  run: async (context, input): Promise<Result<{ name: string; content: Buffer }>> => {
    const [row] = await rows<{ name: string; content: string; company: string }>(
      context.tx,
      sql`select f.name, f.content, c.code as company from outbox o
        join outbox_file f on f.outbox_id = o.id and f.no = ${input.no}::bigint
        join company c on c.id = o.company_id where o.id = ${input.id}::bigint`,
    );
    if (!row) return fail({ code: "NOT_FOUND", what: "such file" });
    return context.may("read.payables", row.company) || context.may("read.receivables", row.company)
      ? ok({ name: row.name, content: Buffer.from(row.content, "base64") })
      : fail({ code: "FORBIDDEN", what: `see the mailbox of ${row.company}` });
  },
});
