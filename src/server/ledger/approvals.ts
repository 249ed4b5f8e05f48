import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { ROLES, type Role } from "@/core/access";
import { journalInput, journalInputSchema, type JournalInput } from "@/core/ledger";
import { fail, isCalendarDate, isCurrency, minor, ok, readAmount, type Minor, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { readRules, ruleFor, whyOf } from "./approvalRules";
import { keepAndCheck, postEntries } from "./drafts";
import type { PostedJournal } from "./posting";

/** The people for whom this one may decide today: themselves, and those whose stand-in they are. With the roles of each. */
async function decidesFor({ tx, person, today }: Context): Promise<{ id: number; roles: { role: Role; company: string | null }[] }[]> {
  const others = await rows<{ id: number; roles: { role: Role; company: string | null }[] | null }>(
    tx,
    sql`select s.person_id as id, (select jsonb_agg(jsonb_build_object('role', r.role, 'company', c.code)) from person_role r left join company c on c.id = r.company_id where r.person_id = s.person_id) as roles from stand_in s where s.stand_in_id = ${person.id} and ${today}::date between s.from_date and s.to_date`,
  );
  return [{ id: person.id, roles: [...person.grants] }, ...others.map((o) => ({ id: o.id, roles: o.roles ?? [] }))];
}

interface Waiting { id: number; documentId: bigint; title: string; company: string; date: string | null; amount: bigint | null; currency: string; why: string; role: string; askedBy: number; askedByName: string; askedAt: string; preparedBy: number; content: JournalInput; version: number }

const readWaiting = (context: Context, where: ReturnType<typeof sql>): Promise<Waiting[]> =>
  rows<Waiting>(
    context.tx,
    sql`select a.id, a.document_id as "documentId", d.title, c.code as company, d.date, d.amount, d.currency, a.why, a.role, a.asked_by as "askedBy", p.name as "askedByName", a.asked_at as "askedAt", d.created_by as "preparedBy", x.content, x.version
        from approval a join document d on d.id = a.document_id join company c on c.id = d.company_id join person p on p.id = a.asked_by join journal_draft x on x.document_id = d.id where a.state = 'waiting' and ${where} order by a.asked_at`,
  );

/** Whether the person may decide on what waits: in the role that the rule names, their own or that of somebody they stand in for, and never on what they prepared or sent themselves. */
function mayDecide({ person }: Context, w: Pick<Waiting, "company" | "role" | "askedBy" | "preparedBy">, people: Awaited<ReturnType<typeof decidesFor>>): boolean {
  if (w.askedBy === person.id || w.preparedBy === person.id) return false;
  return people.some((p) => p.roles.some((r) => r.role === w.role && (r.company === null || r.company === w.company)));
}

export interface WaitingRow {
  id: number;
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
  name: "waitingForMe", kind: "read", rights: ["prepare.ledger", "post.ledger"], what: "approve journals", schema: object(),
  run: async (context): Promise<Result<WaitingRow[]>> => {
    const list: WaitingRow[] = [];
    const people = await decidesFor(context);
    for (const w of await readWaiting(context, sql`true`))
      if (mayDecide(context, w, people)) list.push({ id: Number(w.documentId), title: w.title, company: w.company, date: w.date, amount: minor(w.amount ?? 0n), currency: w.currency, why: w.why, askedBy: w.askedByName, askedAt: w.askedAt });
    return ok(list);
  },
});

/** How approval stands with one journal: what was asked, by whom, and what this person may do about it. */
export const approvalOf = defineUseCase({
  name: "approvalOf", kind: "read", rights: ["read.ledger", "prepare.ledger"], what: "see approvals", schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const history = await rows<{ state: string; why: string; askedBy: string; askedAt: string; decidedBy: string | null; decidedAt: string | null; reason: string }>(
      context.tx,
      sql`select a.state, a.why, p.name as "askedBy", a.asked_at as "askedAt", q.name as "decidedBy", a.decided_at as "decidedAt", a.reason from approval a join person p on p.id = a.asked_by left join person q on q.id = a.decided_by where a.document_id = ${input.id} order by a.id`,
    );
    const [waiting] = await readWaiting(context, sql`a.document_id = ${input.id}`);
    return ok({ history, waiting: waiting !== undefined, mayDecide: waiting ? mayDecide(context, waiting, await decidesFor(context)) : false, mayWithdraw: waiting ? waiting.askedBy === context.person.id || waiting.preparedBy === context.person.id : false });
  },
});

/** Sends a draft to whoever approves it. What was sent stays as it is until it is approved, returned or withdrawn. */
export const submitDraft = defineUseCase({
  name: "submitDraft", kind: "write", rights: ["prepare.ledger"], what: "send journals for approval", company: (i) => i.content.company,
  schema: object({ id: number().integer().required(), version: number().integer().required(), content: journalInputSchema.required() }),
  run: async (context, input): Promise<Result<{ id: number; number: string }>> => {
    const checked = await keepAndCheck(context, input.id, input.version, input.content as JournalInput);
    if (!checked.ok) return checked;
    const [rule] = await ruleFor(context, [checked.value.entry]);
    if (!rule) return fail({ code: "INVALID", what: "No rule asks for the approval of this journal; post it" });
    await context.tx.execute(sql`insert into approval (document_id, role, why, version, asked_by, asked_at) values (${input.id}, ${rule.role}, ${whyOf(rule)}, ${checked.value.version}, ${context.person.id}, ${context.now.toISOString()})`);
    await context.tx.execute(sql`update document set status = 'waiting' where id = ${input.id}`);
    await context.audit({ action: "sent for approval", kind: "journal", recordId: input.id, label: input.content.description.slice(0, 80), companyId: context.masters.companyByCode.get(input.content.company)!.id, after: { why: whyOf(rule) } });
    return ok({ id: input.id, number: "" });
  },
});

async function decide(context: Context, id: number, lockOnly = false): Promise<Result<Waiting>> {
  await context.tx.execute(sql`select 1 from document where id = ${id} for update`);
  const [waiting] = await readWaiting(context, sql`a.document_id = ${id}`);
  if (!waiting) return fail({ code: "NOT_FOUND", what: "such journal that waits for approval" });
  if (!lockOnly && !mayDecide(context, waiting, await decidesFor(context))) return fail({ code: "FORBIDDEN", what: waiting.askedBy === context.person.id || waiting.preparedBy === context.person.id ? "approve a journal that you prepared" : "approve this journal" });
  return ok(waiting);
}

const close = (context: Context, approvalId: number, state: string, reason: string) =>
  context.tx.execute(sql`update approval set state = ${state}, decided_by = ${context.person.id}, decided_at = ${context.now.toISOString()}, reason = ${reason} where id = ${approvalId}`);

/** Approves a journal and posts it as it was sent. The preparer can't. */
export const approveJournal = defineUseCase({
  name: "approveJournal", kind: "write", rights: ["prepare.ledger", "post.ledger"], what: "approve journals", schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<PostedJournal>> => {
    const found = await decide(context, input.id);
    if (!found.ok) return found;
    const posted = await postEntries(context, [journalInput(found.value.content)], [input.id], { approved: true });
    if (!posted.ok) return posted;
    await close(context, found.value.id, "approved", "");
    await context.audit({ action: "approved", kind: "journal", recordId: input.id, label: posted.value[0]!.number });
    return ok(posted.value[0]!);
  },
});

export const returnJournal = defineUseCase({
  name: "returnJournal", kind: "write", rights: ["prepare.ledger", "post.ledger"], what: "approve journals", schema: object({ id: number().integer().required(), reason: string().trim().default("").max(500) }),
  run: async (context, input) => {
    const found = await decide(context, input.id);
    if (!found.ok) return found;
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await close(context, found.value.id, "returned", input.reason);
    await context.tx.execute(sql`update document set status = 'draft' where id = ${input.id}`);
    await context.audit({ action: "returned", kind: "journal", recordId: input.id, label: found.value.title, after: { reason: input.reason } });
    return ok({});
  },
});

/** Takes a journal back that was sent for approval, to go on with it. */
export const withdrawJournal = defineUseCase({
  name: "withdrawJournal", kind: "write", rights: ["prepare.ledger"], what: "withdraw journals", schema: object({ id: number().integer().required() }),
  run: async (context, input) => {
    const found = await decide(context, input.id, true);
    if (!found.ok) return found;
    if (found.value.askedBy !== context.person.id && found.value.preparedBy !== context.person.id) return fail({ code: "FORBIDDEN", what: "withdraw what somebody else sent" });
    await close(context, found.value.id, "withdrawn", "");
    await context.tx.execute(sql`update document set status = 'draft' where id = ${input.id}`);
    await context.audit({ action: "withdrawn", kind: "journal", recordId: input.id, label: found.value.title });
    return ok({});
  },
});

export const listApprovalRules = defineUseCase({ name: "listApprovalRules", kind: "read", rights: ["read.setup", "setup.rules"], what: "see approval rules", schema: object(), run: async (context) => ok(await readRules(context)) });

export const saveApprovalRule = defineUseCase({
  name: "saveApprovalRule", kind: "write", rights: ["setup.rules"], what: "change approval rules",
  schema: object({ id: number().integer(), type: string().nullable().default(null), company: string().nullable().default(null), accountFrom: string().nullable().default(null), accountTo: string().nullable().default(null), minimum: string().default("0"), currency: string().required(), role: string().oneOf(ROLES).required() }),
  run: async ({ tx, masters, audit }, input) => {
    if (input.type && !masters.typeByCode.has(input.type)) return fail({ code: "TYPE_UNKNOWN", type: input.type, field: "type" });
    if (input.company && !masters.companyByCode.has(input.company)) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCurrency(input.currency)) return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    const amount = readAmount(input.minimum || "0", input.currency);
    if (!amount.ok || amount.amount < 0n) return fail({ code: "AMOUNT_NOT_NUMBER", text: input.minimum, field: "minimum" });
    const values = sql`${input.type || null}, ${input.company ? masters.companyByCode.get(input.company)!.id : null}, ${input.accountFrom || null}, ${input.accountTo || null}, ${amount.amount}, ${input.currency}, ${input.role}`;
    const [saved] = input.id
      ? await rows<{ id: number }>(tx, sql`update approval_rule set (type, company_id, account_from, account_to, minimum, currency, role) = (${values}) where id = ${input.id} returning id`)
      : await rows<{ id: number }>(tx, sql`insert into approval_rule (sort, type, company_id, account_from, account_to, minimum, currency, role) select coalesce(max(sort), 0) + 10, ${values} from approval_rule returning id`);
    if (!saved) return fail({ code: "NOT_FOUND", what: "such rule" });
    await audit({ action: input.id ? "changed" : "added", kind: "approval rule", recordId: saved.id, after: input });
    return ok({ id: saved.id });
  },
});

export const deleteApprovalRule = defineUseCase({
  name: "deleteApprovalRule", kind: "write", rights: ["setup.rules"], what: "change approval rules", schema: object({ id: number().integer().required() }),
  run: async ({ tx, audit }, input) => {
    const gone = await rows(tx, sql`delete from approval_rule where id = ${input.id} returning id`);
    if (gone.length === 0) return fail({ code: "NOT_FOUND", what: "such rule" });
    await audit({ action: "deleted", kind: "approval rule", recordId: input.id });
    return ok({});
  },
});

/** Names who decides for this person while they are away; without a name, nobody does. */
export const saveStandIn = defineUseCase({
  name: "saveStandIn", kind: "write", rights: "signed-in", what: "name a stand-in", schema: object({ standIn: string().nullable().default(null), from: string().default(""), to: string().default("") }),
  run: async ({ tx, person, audit }, input) => {
    if (!input.standIn) await tx.execute(sql`delete from stand_in where person_id = ${person.id}`);
    else {
      for (const field of ["from", "to"] as const) if (!isCalendarDate(input[field])) return fail({ code: "DATE_INVALID", text: input[field], field });
      if (input.to < input.from) return fail({ code: "INVALID", what: "It ends before it begins", field: "to" });
      const [other] = await rows<{ id: number }>(tx, sql`select id from person where login = ${input.standIn} and active and id <> ${person.id}`);
      if (!other) return fail({ code: "NOT_FOUND", what: `other person ${input.standIn}`, field: "standIn" });
      await tx.execute(sql`insert into stand_in (person_id, stand_in_id, from_date, to_date) values (${person.id}, ${other.id}, ${input.from}, ${input.to}) on conflict (person_id) do update set stand_in_id = excluded.stand_in_id, from_date = excluded.from_date, to_date = excluded.to_date`);
    }
    await audit({ action: "stand-in", kind: "person", recordId: person.id, label: person.login, after: input });
    return ok({});
  },
});

/** Who stands in for this person, and who could. */
export const standInOf = defineUseCase({
  name: "standInOf", kind: "read", rights: "signed-in", what: "see one's stand-in", schema: object(),
  run: async ({ tx, person }) => {
    const [now] = await rows<{ login: string; from: string; to: string }>(tx, sql`select p.login, s.from_date as "from", s.to_date as "to" from stand_in s join person p on p.id = s.stand_in_id where s.person_id = ${person.id}`);
    return ok({ now: now ?? null, people: await rows<{ login: string; name: string }>(tx, sql`select login, name from person where active and id <> ${person.id} order by name`) });
  },
});
