import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { Right } from "@/core/access";
import { documentArea, takesPapers } from "@/core/documents";
import { attachmentType, MAX_ATTACHMENT, safeName } from "@/core/files";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { remarksOn, type Remark } from "./remarks";
import { findSaid } from "./saidFiles";

export interface Paper {
  id: number;
  /** What was read in it that has no field of its own. */
  says: string[];
  name: string;
  type: string;
  size: number;
  by: string;
  at: string;
  mayRemove: boolean;
}
export interface Papers {
  attachments: Paper[];
  remarks: Remark[];
  /** Who did what with the document, newest first. */
  history: { at: string; by: string; action: string }[];
  mayAdd: boolean;
}

/**
 * Papers belong to the area that prepares the document; whoever reads the ledger may follow a
 * figure down to them.
 */
const ADD = [
  "prepare.ledger",
  "prepare.payables",
  "prepare.receivables",
  "prepare.banks",
  "prepare.assets",
] as const satisfies readonly Right[];
export const SEE = [
  "read.ledger",
  "read.payables",
  "read.receivables",
  "read.banks",
  "read.assets",
  ...ADD,
] as const satisfies readonly Right[];

/** The document, where the person may see it in its company. */
export async function findDocument(
  context: Context,
  id: number,
  /** Held as it stands, so that nobody closes it meanwhile. */
  held = false,
): Promise<Result<{ company: string; status: string; kind: string; title: string }>> {
  const [row] = await rows<{ company: string; status: string; kind: string; title: string }>(
    context.tx,
    sql`select c.code as company, d.status, d.kind, d.title from document d
      join company c on c.id = d.company_id where d.id = ${id} ${held ? sql`for share of d` : sql``}`,
  );
  if (!row) return fail({ code: "NOT_FOUND", what: "such document" });
  const area = documentArea(row.kind);
  return (["read.ledger", `read.${area}`, `prepare.${area}`] as const).some((r) =>
    context.may(r, row.company),
  )
    ? ok(row)
    : fail({ code: "FORBIDDEN", what: `see documents of ${row.company}` });
}

const mayAdd = (
  context: Context,
  { company, kind, status }: { company: string; kind: string; status: string },
): boolean => takesPapers(kind, status) && context.may(`prepare.${documentArea(kind)}`, company);

/** What hangs on a document: papers, remarks, and its history. */
export const papersOf = defineUseCase({
  name: "papersOf",
  kind: "read",
  rights: SEE,
  what: "see documents",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<Papers>> => {
    const found = await findDocument(context, input.id);
    if (!found.ok) return found;
    const { tx, person } = context;
    const open = found.value.status === "draft" || found.value.status === "waiting";
    const attachments = await rows<Omit<Paper, "mayRemove"> & { addedBy: number }>(
      tx,
      sql`select a.id, a.name, a.type, a.size, a.says, a.added_by as "addedBy",
        p.name as by, a.added_at as at from attachment a join person p on p.id = a.added_by
        where a.document_id = ${input.id} order by a.id`,
    );
    const remarks = await remarksOn(tx, { document: input.id });
    const history = await rows<{ at: string; by: string; action: string }>(
      tx,
      sql`select e.at, coalesce(p.name, '') as by, e.action from audit_event e left
        join person p on p.id = e.person_id
        where e.kind = ${found.value.kind} and e.record_id = ${String(input.id)} order by e.id desc
        limit 100`,
    );
    return ok({
      attachments: attachments.map(({ addedBy, ...a }) => ({
        ...a,
        mayRemove: open && addedBy === person.id,
      })),
      remarks,
      history,
      mayAdd: mayAdd(context, found.value),
    });
  },
});

/** What a file hangs on: a document, or what was said with a customer. */
type Holder = { id: number; kind: string } | { remark: number; partner: number };

/**
 * Keeps a file as a paper of a document, or with what was said, which the person may add to.
 * Errors: INVALID where it is empty, too large or not of a kind that is taken.
 */
export async function attach(
  context: Context,
  holder: Holder,
  fileName: string,
  bytes: Buffer,
  says: readonly string[] = [],
): Promise<Result<{ id: number }>> {
  if (bytes.length === 0)
    return fail({ code: "INVALID", what: "The file is empty", field: "file" });
  if (bytes.length > MAX_ATTACHMENT)
    return fail({
      code: "INVALID",
      what: `The file is larger than ${MAX_ATTACHMENT / 1_048_576} MB`,
      field: "file",
    });
  const name = safeName(fileName);
  const type = attachmentType(name, bytes);
  if (!type)
    return fail({
      code: "INVALID",
      what: `${name} is no PDF, picture (PNG, JPEG), spreadsheet (XLSX) or text (CSV, TXT, XML)`,
      field: "file",
    });
  const [made] = await rows<{ id: number }>(
    context.tx,
    sql`insert into attachment (document_id, remark_id, name, type, size, content, says, added_by, added_at)
      values (${"id" in holder ? holder.id : null}::bigint,
      ${"remark" in holder ? holder.remark : null}::int, ${name}, ${type}, ${bytes.length},
      decode(${bytes.toString("base64")}, 'base64'), ${JSON.stringify(says)}::jsonb,
      ${context.person.id}, ${context.now.toISOString()}) returning id`,
  );
  await context.audit({
    action: "paper added",
    kind: "id" in holder ? holder.kind : "partner",
    recordId: "id" in holder ? holder.id : holder.partner,
    label: name,
  });
  return ok({ id: made!.id });
}

/**
 * Hangs a paper on a document. Errors: INVALID where it is too large or not of a kind that is
 * taken.
 */
export const addAttachment = defineUseCase({
  name: "addAttachment",
  kind: "write",
  rights: ADD,
  what: "add papers",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    name: string().required().max(300),
    content: string().required(),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await findDocument(context, input.id, true);
    if (!found.ok) return found;
    if (!takesPapers(found.value.kind, found.value.status))
      return fail({ code: "INVALID", what: "It is closed with the papers that it has" });
    if (!mayAdd(context, found.value))
      return fail({ code: "FORBIDDEN", what: `add papers in ${found.value.company}` });
    return attach(
      context,
      { id: input.id, kind: found.value.kind },
      input.name,
      Buffer.from(input.content, "base64"),
    );
  },
});

export const getAttachment = defineUseCase({
  name: "getAttachment",
  kind: "read",
  rights: SEE,
  what: "see papers",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; type: string; content: Buffer }>> => {
    const [row] = await rows<{
      documentId: bigint | null;
      remarkId: number | null;
      name: string;
      type: string;
      content: string;
    }>(
      context.tx,
      sql`select document_id as "documentId", remark_id as "remarkId", name, type,
        encode(content, 'base64') as content from attachment where id = ${input.id}::bigint`,
    );
    if (!row) return fail({ code: "NOT_FOUND", what: "such paper" });
    const found =
      row.documentId === null
        ? await findSaid(context, row.remarkId!)
        : await findDocument(context, Number(row.documentId));
    return found.ok
      ? ok({ name: row.name, type: row.type, content: Buffer.from(row.content, "base64") })
      : found;
  },
});

/** Takes a paper off again: whoever added it, while nothing is posted. */
export const removeAttachment = defineUseCase({
  name: "removeAttachment",
  kind: "write",
  rights: ADD,
  what: "remove papers",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const [row] = await rows<{ documentId: bigint | null; name: string; addedBy: number }>(
      context.tx,
      sql`select document_id as "documentId", name, added_by as "addedBy" from attachment
        where id = ${input.id}::bigint`,
    );
    if (!row) return fail({ code: "NOT_FOUND", what: "such paper" });
    if (row.documentId === null)
      return fail({ code: "IN_USE", what: "What was said with a customer stays, and its files" });
    const found = await findDocument(context, Number(row.documentId));
    if (!found.ok) return found;
    if (row.addedBy !== context.person.id)
      return fail({ code: "FORBIDDEN", what: "remove a paper that somebody else added" });
    if (found.value.status !== "draft" && found.value.status !== "waiting")
      return fail({ code: "IN_USE", what: "What hangs on a posted document stays" });
    await context.tx.execute(sql`delete from attachment where id = ${input.id}`);
    await context.audit({
      action: "paper removed",
      kind: found.value.kind,
      recordId: Number(row.documentId),
      label: row.name,
    });
    return ok({});
  },
});
