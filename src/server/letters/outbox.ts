import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows } from "../db";

/** A mail that goes out with one file. */
export interface Mail {
  documentId: number | null;
  companyId: number;
  to: string;
  subject: string;
  body: string;
  fileName: string;
  file: Uint8Array;
}

/** Sends mails: into the simulated mailbox, where they can be read. One statement for any number. */
export async function sendMails(
  { tx, person, now }: Context,
  mails: readonly Mail[],
): Promise<void> {
  if (mails.length === 0) return;
  const column = (pick: (m: Mail) => string | number | null) => arrayOf(mails.map(pick));
  await tx.execute(sql`insert into outbox (document_id, company_id, "to", subject, body,
    file_name, file, sent_by, sent_at)
    select x.*, ${person.id}, ${now.toISOString()}::timestamptz
      from unnest(${column((m) => m.documentId)}::bigint[], ${column((m) => m.companyId)}::int[],
      ${column((m) => m.to)}::text[], ${column((m) => m.subject)}::text[],
      ${column((m) => m.body)}::text[], ${column((m) => m.fileName)}::text[],
      ${column((m) => Buffer.from(m.file).toString("base64"))}::text[]) as x`);
}

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
