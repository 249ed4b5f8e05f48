import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { DOCUMENT_KINDS, documentPage, REMARK_KINDS } from "@/core/documents";
import { promiseState, type AccountLetter } from "@/core/receivables";
import {
  amountText,
  dateText,
  dayField,
  fail,
  minor,
  ok,
  type CalendarDate,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { filesSaid, keepRemark, remarkText, type SaidFile } from "../../documents";
import { promiseSums } from "./deskFacts";

/** What was said, promised, disputed or sent, as one line of a conversation. */
export interface Said {
  key: string;
  at: string;
  /** “call”, “promise”, “dispute”, “mail out”. */
  kind: string;
  by: string;
  text: string;
  /** The document that it hangs on, with its page. */
  on: { name: string; page: string } | null;
  /** What is to be done next, and when. */
  next: { step: string; on: CalendarDate | null } | null;
  /** What came with it. */
  files: readonly SaidFile[];
  /** Whether it is bad news. */
  bad: boolean;
}

const MOST = 80;
const NONE: readonly SaidFile[] = [];

/**
 * Everything said with and about a customer in a company, the newest first: remarks on it and on its
 * documents, promises and what became of them, disputes, and what was sent.
 */
export async function conversationWith(
  context: Context,
  company: Company,
  partner: Partner,
): Promise<Said[]> {
  // One after the other: they share a connection.
  const parts = [
    ...(await remarksWith(context, company, partner)),
    ...(await promisesWith(context, company, partner)),
    ...(await disputesWith(context, company, partner)),
    ...(await mailsTo(context, company, partner)),
    ...(await lettersTo(context, company, partner)),
  ];
  return parts.sort((a, b) => (a.at < b.at ? 1 : a.at > b.at ? -1 : 0)).slice(0, MOST);
}

interface Company {
  id: number;
  code: string;
  currency: string;
}
interface Partner {
  id: number;
  code: string;
}

/** Kinds of document that the person may see: a customer can be a supplier too. */
const kindsSeen = ({ may }: Context, { code }: Company) =>
  arrayOf(
    Object.entries(DOCUMENT_KINDS).flatMap(([kind, { area }]) =>
      may(`read.${area}`, code) ? [kind] : [],
    ),
  );

async function remarksWith(context: Context, company: Company, partner: Partner) {
  const found = await rows<{
    id: number;
    at: string;
    kind: string;
    by: string;
    text: string;
    nextStep: string;
    nextOn: CalendarDate | null;
    document: bigint | null;
    documentKind: string | null;
    name: string | null;
  }>(
    context.tx,
    sql`select r.id, r.at, r.kind, p.name as by, r.text, r.next_step as "nextStep",
      r.next_on as "nextOn", d.id as document, d.kind as "documentKind",
      coalesce(d.number, d.title) as name
      from remark r join person p on p.id = r.person_id left join document d on d.id = r.document_id
      where (r.partner_id = ${partner.id} and r.company_id = ${company.id})
        or (d.partner_id = ${partner.id} and d.company_id = ${company.id}
          and d.kind = any(${kindsSeen(context, company)}::text[]))
      order by r.id desc limit ${MOST}`,
  );
  const files = await filesSaid(
    context.tx,
    found.map((r) => r.id),
  );
  return found.map((r): Said => ({
    key: `remark ${r.id}`,
    at: r.at,
    kind: r.kind,
    by: r.by,
    text: r.text,
    on:
      r.document === null
        ? null
        : { name: r.name ?? "", page: documentPage(r.documentKind!, r.document) },
    next: r.nextStep || r.nextOn ? { step: r.nextStep, on: r.nextOn } : null,
    files: files.get(r.id) ?? NONE,
    bad: false,
  }));
}

async function promisesWith(
  { tx, today }: Context,
  company: { id: number },
  { code }: Partner,
): Promise<Said[]> {
  const found = await rows<{
    id: number;
    at: string;
    by: string;
    due: CalendarDate;
    how: string;
    promisedBy: string;
    withdrawn: boolean;
    amount: bigint;
    paid: bigint;
    currency: string;
    items: string;
  }>(
    tx,
    sql`select r.id, r.made_at as at, p.name as by, r.due, r.how, r.promised_by as "promisedBy",
      s.withdrawn, s.amount::bigint as amount, s.paid::bigint as paid, q.currency, q.items
      from promise r join person p on p.id = r.made_by
        join (${promiseSums(company.id)}) s on s.id = r.id
        cross join lateral (select min(q.currency) as currency,
          string_agg(i.reference, ', ' order by i.due_date, i.id) as items
          from promise_item q join open_item i on i.id = q.item_id where q.promise_id = r.id) q
      where r.company_id = ${company.id} and r.partner = ${code} order by r.id desc limit ${MOST}`,
  );
  return found.map((r): Said => {
    const state = promiseState({ ...r, on: today });
    const money = `${amountText(minor(r.amount), r.currency)} ${r.currency}`;
    const came =
      state === "part"
        ? `, ${amountText(minor(r.paid), r.currency)} came`
        : state === "broken"
          ? ", nothing came"
          : "";
    return {
      key: `promise ${r.id}`,
      at: r.at,
      kind: state === "open" ? "promise" : `promise ${state === "part" ? "kept in part" : state}`,
      by: r.by,
      text: `${money} for ${dateText(r.due)}${r.how ? ` by ${r.how}` : ""}${
        r.promisedBy ? `, ${r.promisedBy}` : ""
      }: ${r.items}${came}.`,
      on: null,
      next: null,
      files: NONE,
      bad: state === "broken" || state === "part",
    };
  });
}

async function disputesWith({ tx }: Context, company: { id: number }, { code }: Partner) {
  const found = await rows<{
    id: number;
    at: string;
    by: string;
    reason: string;
    note: string;
    amount: bigint;
    currency: string;
    reference: string;
    owner: string | null;
    until: CalendarDate | null;
    outcome: string | null;
    closedAt: string | null;
    closedBy: string | null;
    closedNote: string;
  }>(
    tx,
    sql`select d.id, d.opened_at as at, p.name as by, d.reason, d.note, d.amount, i.currency,
      i.reference, o.name as owner, d."by" as until, d.outcome, d.closed_at as "closedAt",
      c.name as "closedBy", d.closed_note as "closedNote"
      from dispute d join open_item i on i.id = d.item_id join person p on p.id = d.opened_by
        left join person o on o.id = d.owner_id left join person c on c.id = d.closed_by
      where d.company_id = ${company.id} and d.partner = ${code} order by d.id desc limit ${MOST}`,
  );
  return found.flatMap((d): Said[] => [
    ...(d.outcome === null
      ? []
      : [
          {
            key: `closed ${d.id}`,
            at: d.closedAt!,
            kind: "dispute closed",
            by: d.closedBy ?? "",
            text: `${d.reference}: ${OUTCOMES[d.outcome] ?? d.outcome}.${d.closedNote ? ` ${d.closedNote}` : ""}`,
            on: null,
            next: null,
            files: NONE,
            bad: false,
          },
        ]),
    {
      key: `dispute ${d.id}`,
      at: d.at,
      kind: "dispute",
      by: d.by,
      text: `${amountText(minor(d.amount), d.currency)} ${d.currency} of ${d.reference}, ${d.reason}.${d.note ? ` ${d.note}` : ""}`,
      on: null,
      next:
        d.outcome === null && (d.owner || d.until)
          ? { step: d.owner ? `${d.owner} looks into it` : "to be solved", on: d.until }
          : null,
      files: NONE,
      bad: d.outcome === null,
    },
  ]);
}
const OUTCOMES: Readonly<Record<string, string>> = {
  credited: "credited",
  upheld: "stands as invoiced",
  part: "credited in part",
};

async function mailsTo(context: Context, company: Company, { id }: Partner): Promise<Said[]> {
  const found = await rows<{
    id: bigint;
    at: string;
    by: string;
    subject: string;
    document: bigint;
    kind: string;
    name: string;
  }>(
    context.tx,
    sql`select o.id, o.sent_at as at, p.name as by, o.subject, d.id as document, d.kind,
      coalesce(d.number, d.title) as name
      from outbox o join document d on d.id = o.document_id and d.partner_id = ${id}
        join person p on p.id = o.sent_by
      where o.company_id = ${company.id} and d.kind = any(${kindsSeen(context, company)}::text[])
      order by o.id desc limit 20`,
  );
  return found.map((m) => ({
    key: `mail ${m.id}`,
    at: m.at,
    kind: "mail out",
    by: m.by,
    text: `${m.subject.replace(m.name, "").trim()} sent.`,
    on: { name: m.name, page: documentPage(m.kind, m.document) },
    next: null,
    files: NONE,
    bad: false,
  }));
}

async function lettersTo({ tx }: Context, company: Company, { code }: Partner): Promise<Said[]> {
  const found = await rows<{
    id: bigint;
    kind: AccountLetter;
    level: number;
    amount: bigint;
    sentTo: string;
    at: string;
    by: string;
    run: bigint | null;
    number: string | null;
  }>(
    tx,
    sql`select l.id, l.kind, l.level, l.amount, l.sent_to as "sentTo", l.sent_at as at,
        p.name as by, d.id as run, d.number
      from customer_letter l join person p on p.id = l.sent_by
        left join document d on d.id = l.run_id
      where l.company_id = ${company.id} and l.partner = ${code} and l.sent_at is not null
      order by l.id desc limit 20`,
  );
  return found.map((l) => ({
    key: `letter ${l.id}`,
    at: l.at,
    kind: l.kind === "reminder" ? `reminder, level ${l.level}` : LETTER_NAMES[l.kind],
    by: l.by,
    text: `${amountText(minor(l.amount), company.currency)} ${company.currency}, to ${l.sentTo}.`,
    on: l.run === null ? null : { name: l.number ?? "", page: documentPage("run", l.run) },
    next: null,
    files: NONE,
    bad: false,
  }));
}
const LETTER_NAMES = {
  statement: "statement of account",
  promise: "promise confirmed",
  debit: "direct debit announced",
} as const;

/** What was said with and about a customer of a company, by itself. */
export const customerConversation = defineUseCase({
  name: "customerConversation",
  kind: "read",
  rights: ["read.receivables"],
  what: "see what was said with customers",
  company: (i) => i.company,
  schema: object({ company: string().required(), partner: string().required().max(60) }),
  run: async (context, input): Promise<Result<Said[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [partner] = await rows<Partner>(
      context.tx,
      sql`select id, code from partner where code = ${input.partner} and customer`,
    );
    if (!partner) return fail({ code: "PARTNER_UNKNOWN", partner: input.partner });
    return ok(await conversationWith(context, company, partner));
  },
});

/** Notes a call, a letter, a mail or a thought about a customer, and what is to be done next. */
export const sayOfCustomer = defineUseCase({
  name: "sayOfCustomer",
  kind: "write",
  rights: ["read.receivables"],
  what: "note what is said with customers",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    partner: string().required().max(60),
    kind: string().oneOf(REMARK_KINDS).default("note"),
    text: remarkText(),
    nextStep: string().trim().max(200).default(""),
    nextOn: dayField(),
  }),
  run: async (context, input): Promise<Result<{ id: number; called: string[] }>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [partner] = await rows<{ id: number }>(
      tx,
      sql`select id from partner where code = ${input.partner}`,
    );
    if (!partner) return fail({ code: "PARTNER_UNKNOWN", partner: input.partner });
    const kept = await keepRemark(
      context,
      { partner: partner.id, company: company.id },
      input.text,
      { kind: input.kind, nextStep: input.nextStep, nextOn: input.nextOn ?? null },
    );
    if (!kept.ok) return kept;
    await context.audit({
      action: "commented",
      kind: "partner",
      recordId: partner.id,
      label: input.partner,
      companyId: company.id,
    });
    return kept;
  },
});
