import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { Right, Role } from "@/core/access";
import type { ApprovableKind } from "@/core/documents";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase, type Context, companiesOf } from "../access";
import { writersOf, setStatus } from "../documents";

/**
 * What approving a kind of document means: does what was waiting, posts or releases it as it was
 * sent. The answer names it.
 */
export type Approve = (context: Context, id: number) => Promise<Result<{ number: string }>>;

/** The list is fetched when it is needed, as its areas stand on this one. */
const approveOf = async (kind: string): Promise<Approve> =>
  (await import("../kinds")).APPROVALS[kind as ApprovableKind];

const RIGHTS: readonly Right[] = [
  "prepare.ledger",
  "post.ledger",
  "prepare.payables",
  "post.payables",
  "prepare.receivables",
  "post.receivables",
  "prepare.banks",
  "post.banks",
];
const SEE: readonly Right[] = [
  ...RIGHTS,
  "read.ledger",
  "read.payables",
  "read.receivables",
  "read.banks",
];

/**
 * Sends a document to whoever approves it. Until that is decided it stays as it was sent; its own
 * use cases see to that by its status.
 */
export async function askApproval(
  context: Context,
  documentId: number,
  asked: { role: string; why: string; version?: number },
): Promise<void> {
  const [document] = await rows<{ kind: string; title: string; companyId: number }>(
    context.tx,
    sql`select kind, title, company_id as "companyId" from document where id = ${documentId}`,
  );
  await setStatus(context.tx, [documentId], "waiting");
  await context.tx.execute(
    sql`insert into approval (document_id, role, why, version, asked_by, asked_at)
      values (${documentId}, ${asked.role}, ${asked.why}, ${asked.version ?? 1},
      ${context.person.id}, ${context.now.toISOString()})`,
  );
  await context.audit({
    action: "sent for approval",
    kind: document!.kind,
    recordId: documentId,
    label: document!.title.slice(0, 80),
    companyId: document!.companyId,
    after: { why: asked.why },
  });
}

/**
 * The people for whom this one may decide today: themselves, and those whose stand-in they are.
 * With the roles of each.
 */
async function decidesFor({
  tx,
  person,
  today,
}: Context): Promise<{ id: number; roles: { role: Role; company: string | null }[] }[]> {
  const others = await rows<{ id: number; roles: { role: Role; company: string | null }[] | null }>(
    tx,
    sql`select s.person_id as id, (select jsonb_agg(jsonb_build_object('role', r.role, 'company',
      c.code)) from person_role r left join company c on c.id = r.company_id
      where r.person_id = s.person_id) as roles from stand_in s
      where s.stand_in_id = ${person.id} and ${today}::date between s.from_date and s.to_date`,
  );
  return [
    { id: person.id, roles: [...person.grants] },
    ...others.map((o) => ({ id: o.id, roles: o.roles ?? [] })),
  ];
}

interface Waiting {
  id: number;
  documentId: bigint;
  kind: string;
  title: string;
  company: string;
  date: string | null;
  amount: bigint | null;
  currency: string;
  why: string;
  role: string;
  askedBy: number;
  askedByName: string;
  askedAt: string;
  preparedBy: number;
  /** Everybody who has written any of it. */
  writers: number[];
}

const readWaiting = (context: Context, where: ReturnType<typeof sql>): Promise<Waiting[]> =>
  rows<Waiting>(
    context.tx,
    sql`select a.id, a.document_id as "documentId", d.kind, d.title, c.code as company, d.date,
      d.amount, d.currency, a.why, a.role, a.asked_by as "askedBy", p.name as "askedByName",
      a.asked_at as "askedAt", d.created_by as "preparedBy",
      coalesce((select jsonb_agg(z.person_id) from ${writersOf(sql`d.id`)} z), '[]') as writers
        from approval a join document d on d.id = a.document_id
          join company c on c.id = d.company_id join person p on p.id = a.asked_by
          where a.state = 'waiting' and ${where} order by a.asked_at`,
  );

/** Whether somebody has had a hand in what waits: prepared it, sent it, or written any of it. */
const hasHandIn = (
  w: Pick<Waiting, "askedBy" | "preparedBy" | "writers">,
  personId: number,
): boolean => w.askedBy === personId || w.preparedBy === personId || w.writers.includes(personId);

/**
 * Whether the person may decide on what waits: in the role that the rule names, their own or that
 * of somebody they stand in for; and neither on what they have a hand in themselves, nor in the name
 * of somebody who has.
 */
function mayDecide(
  { person }: Context,
  w: Pick<Waiting, "company" | "role" | "askedBy" | "preparedBy" | "writers">,
  people: Awaited<ReturnType<typeof decidesFor>>,
): boolean {
  if (hasHandIn(w, person.id)) return false;
  return people.some(
    (p) =>
      !hasHandIn(w, p.id) &&
      p.roles.some((r) => r.role === w.role && (r.company === null || r.company === w.company)),
  );
}

export interface WaitingRow {
  id: number;
  kind: string;
  title: string;
  company: string;
  date: string | null;
  amount: Minor;
  currency: string;
  why: string;
  askedBy: string;
  askedAt: string;
}

/** What waits for this person's decision. */
export const waitingForMe = defineUseCase({
  name: "waitingForMe",
  kind: "read",
  rights: RIGHTS,
  what: "approve documents",
  of: "checked",
  schema: object(),
  run: async (context): Promise<Result<WaitingRow[]>> => {
    const people = await decidesFor(context);
    const waiting = (await readWaiting(context, sql`true`)).filter((w) =>
      mayDecide(context, w, people),
    );
    return ok(
      waiting.map((w): WaitingRow => ({
        id: Number(w.documentId),
        kind: w.kind,
        title: w.title,
        company: w.company,
        date: w.date,
        amount: minor(w.amount ?? 0n),
        currency: w.currency,
        why: w.why,
        askedBy: w.askedByName,
        askedAt: w.askedAt,
      })),
    );
  },
});

export interface ApprovalState {
  history: {
    state: string;
    why: string;
    askedBy: string;
    askedAt: string;
    decidedBy: string | null;
    decidedAt: string | null;
    reason: string;
  }[];
  waiting: boolean;
  mayDecide: boolean;
  mayWithdraw: boolean;
}

/**
 * How approval stands with one document: what was asked, by whom, and what this person may do about
 * it.
 */
export const approvalOf = defineUseCase({
  name: "approvalOf",
  kind: "read",
  rights: SEE,
  what: "see approvals",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<ApprovalState>> => {
    const [document] = await rows<{ company: string }>(
      context.tx,
      sql`select c.code as company from document d join company c on c.id = d.company_id
        where d.id = ${input.id}`,
    );
    if (!document) return fail({ code: "NOT_FOUND", what: "such document" });
    if (!SEE.some((r) => context.may(r, document.company)))
      return fail({ code: "FORBIDDEN", what: `see documents of ${document.company}` });
    const history = await rows<ApprovalState["history"][number]>(
      context.tx,
      sql`select a.state, a.why, p.name as "askedBy", a.asked_at as "askedAt",
        q.name as "decidedBy", a.decided_at as "decidedAt", a.reason from approval a
        join person p on p.id = a.asked_by left join person q on q.id = a.decided_by
        where a.document_id = ${input.id} order by a.id`,
    );
    const [waiting] = await readWaiting(context, sql`a.document_id = ${input.id}`);
    return ok({
      history,
      waiting: waiting !== undefined,
      mayDecide: waiting ? mayDecide(context, waiting, await decidesFor(context)) : false,
      mayWithdraw: waiting
        ? waiting.askedBy === context.person.id || waiting.preparedBy === context.person.id
        : false,
    });
  },
});

/** Who has approved a document, in the order in which they did. */
export const approversOf = async (tx: Db, id: number): Promise<string[]> =>
  (
    await rows<{ name: string }>(
      tx,
      sql`select p.name from approval a join person p on p.id = a.decided_by
        where a.document_id = ${id} and a.state = 'approved' order by a.decided_at, a.id`,
    )
  ).map((a) => a.name);

async function find(context: Context, id: number): Promise<Result<Waiting>> {
  await context.tx.execute(sql`select 1 from document where id = ${id} for update`);
  const [waiting] = await readWaiting(context, sql`a.document_id = ${id}`);
  return waiting
    ? ok(waiting)
    : fail({ code: "NOT_FOUND", what: "such document that waits for approval" });
}

async function decide(context: Context, id: number): Promise<Result<Waiting>> {
  const found = await find(context, id);
  if (!found.ok || mayDecide(context, found.value, await decidesFor(context))) return found;
  return fail({
    code: "FORBIDDEN",
    what: hasHandIn(found.value, context.person.id)
      ? "approve what you prepared or changed yourself"
      : "approve this",
  });
}

async function close(
  context: Context,
  waiting: Waiting,
  state: "approved" | "returned" | "withdrawn",
  reason: string,
  label: string,
): Promise<void> {
  await context.tx.execute(
    sql`update approval set state = ${state}, decided_by = ${context.person.id},
      decided_at = ${context.now.toISOString()}, reason = ${reason} where id = ${waiting.id}`,
  );
  if (state !== "approved") await setStatus(context.tx, [Number(waiting.documentId)], "draft");
  await context.audit({
    action: state,
    kind: waiting.kind,
    recordId: Number(waiting.documentId),
    label,
    after: reason ? { reason } : {},
  });
}

/** Approves a document as it was sent. Whoever prepared, changed or sent it can't. */
export const approveDocument = defineUseCase({
  name: "approveDocument",
  kind: "write",
  rights: RIGHTS,
  what: "approve documents",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const found = await decide(context, input.id);
    if (!found.ok) return found;
    const approve = await approveOf(found.value.kind);
    const done = await approve(context, input.id);
    if (!done.ok) return done;
    await close(context, found.value, "approved", "", done.value.number || found.value.title);
    return ok({ id: input.id, number: done.value.number });
  },
});

export const returnDocument = defineUseCase({
  name: "returnDocument",
  kind: "write",
  rights: RIGHTS,
  what: "approve documents",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(500),
  }),
  run: async (context, input) => {
    const found = await decide(context, input.id);
    if (!found.ok) return found;
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await close(context, found.value, "returned", input.reason, found.value.title);
    return ok({});
  },
});

/** Takes a document back that was sent for approval, to go on with it. */
export const withdrawDocument = defineUseCase({
  name: "withdrawDocument",
  kind: "write",
  rights: RIGHTS,
  what: "withdraw documents",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const found = await find(context, input.id);
    if (!found.ok) return found;
    if (found.value.askedBy !== context.person.id && found.value.preparedBy !== context.person.id)
      return fail({ code: "FORBIDDEN", what: "withdraw what somebody else sent" });
    await close(context, found.value, "withdrawn", "", found.value.title);
    return ok({});
  },
});
