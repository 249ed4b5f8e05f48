import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { documentPage, type RemarkKind } from "@/core/documents";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows, type Db } from "../db";

/** What a remark tells of besides: a call, and what is to be done next and when. */
interface Telling {
  kind: RemarkKind;
  nextStep: string;
  nextOn: string | null;
}

export interface Remark extends Telling {
  id: number;
  by: string;
  at: string;
  text: string;
}

/**
 * What remarks are about: a document, a line of a bank's statement, or a customer or supplier in a
 * company's dealings with it.
 */
type Subject =
  { document: number } | { statementLine: number } | { partner: number; company: number };

/** What is said, as it is sent. */
export const remarkText = () => string().trim().required("Say something").max(2000);

const about = (of: Subject) =>
  "document" in of
    ? sql`r.document_id = ${of.document}::bigint`
    : "partner" in of
      ? sql`r.partner_id = ${of.partner} and r.company_id = ${of.company}`
      : sql`r.statement_line_id = ${of.statementLine}::bigint`;

/** What was said about something, the oldest first. */
export const remarksOn = (tx: Db, of: Subject): Promise<Remark[]> =>
  rows<Remark>(
    tx,
    sql`select r.id, p.name as by, r.at, r.text, r.kind, r.next_step as "nextStep",
      r.next_on as "nextOn" from remark r join person p on p.id = r.person_id
      where ${about(of)} order by r.id`,
  );

/** Whether the person takes part in what is said about something: has said something, or was called. */
export async function takesPart({ tx, person }: Context, of: Subject): Promise<boolean> {
  const [found] = await rows<{ id: number }>(
    tx,
    sql`select r.id from remark r where ${about(of)}
      and (r.person_id = ${person.id} or ${person.id} = any(r.mentions)) limit 1`,
  );
  return found !== undefined;
}

/** Sign-in names that a text calls by @. */
export const namesCalled = (text: string): string[] => [
  ...new Set([...text.matchAll(/@([a-z0-9._-]{2,40})/g)].map((m) => m[1]!)),
];

/** Sign-in names of all who take part in what is said about something. */
export const takingPart = async (tx: Db, of: Subject): Promise<string[]> =>
  (
    await rows<{ login: string }>(
      tx,
      sql`select distinct p.login from remark r
        join person p on p.id = r.person_id or p.id = any(r.mentions) where ${about(of)}`,
    )
  ).map((p) => p.login);

/**
 * Keeps what the person says about something. People are called by @ and their sign-in name, and
 * find it on their desk. Errors: NOT_FOUND where there is nobody of a name.
 */
export async function keepRemark(
  { tx, person, now }: Context,
  of: Subject,
  text: string,
  { kind, nextStep, nextOn }: Telling = { kind: "note", nextStep: "", nextOn: null },
): Promise<Result<{ id: number; called: string[] }>> {
  const names = namesCalled(text);
  const people =
    names.length > 0
      ? await rows<{ id: number; login: string; name: string }>(
          tx,
          sql`select id, login, name from person
            where active and login = any(${arrayOf(names)}::text[])`,
        )
      : [];
  const stranger = names.find((n) => !people.some((p) => p.login === n));
  if (stranger) return fail({ code: "NOT_FOUND", what: `person ${stranger}`, field: "text" });
  const [made] = await rows<{ id: number }>(
    tx,
    sql`insert into remark (document_id, statement_line_id, partner_id, company_id, kind, next_step,
      next_on, person_id, at, text, mentions)
      values (${"document" in of ? of.document : null}::bigint,
        ${"statementLine" in of ? of.statementLine : null}::bigint,
        ${"partner" in of ? of.partner : null}::int, ${"partner" in of ? of.company : null}::int,
        ${kind}, ${nextStep}, ${nextOn}::date, ${person.id}, ${now.toISOString()}, ${text},
        ${arrayOf(people.map((p) => p.id))}::int[]) returning id`,
  );
  return ok({ id: made!.id, called: people.map((p) => p.name) });
}

/** A remark that calls somebody, with the page where it can be answered. */
export interface Call {
  page: string;
  by: string;
  at: string;
  text: string;
  title: string;
  company: string;
}

const pageOf = (kind: string, of: bigint | null, partner: string | null): string => {
  if (partner !== null) return `/receivables/customers/${encodeURIComponent(partner)}`;
  return kind === "statement line" ? `/banks/lines/${of!}` : documentPage(kind, of!);
};

/** Remarks of the last weeks that call this person. */
export const callsForMe = defineUseCase({
  name: "callsForMe",
  kind: "read",
  rights: "signed-in",
  what: "see what calls one",
  of: "self",
  schema: object(),
  run: async ({ tx, person, now }): Promise<Result<Call[]>> =>
    ok(
      (
        await rows<
          Omit<Call, "page"> & { kind: string; of: bigint | null; partner: string | null }
        >(
          tx,
          sql`select coalesce(d.kind, case when b.id is null then 'statement line'
                else 'partner' end) as kind, coalesce(d.id, l.id) as of, b.code as partner,
              p.name as by, r.at, r.text, c.code as company,
              coalesce(d.title, b.name, nullif(l.party_name, ''), nullif(left(l.text, 60), ''),
                'Bank movement') as title
            from remark r left join document d on d.id = r.document_id
              left join statement_line l on l.id = r.statement_line_id
              left join partner b on b.id = r.partner_id
              join company c on c.id = coalesce(d.company_id, l.company_id, r.company_id)
              join person p on p.id = r.person_id
            where ${person.id} = any(r.mentions) and r.at > ${now.toISOString()}::timestamptz - interval '21 days'
            order by r.id desc limit 5`,
        )
      ).map(({ kind, of, partner, ...call }) => ({ ...call, page: pageOf(kind, of, partner) })),
    ),
});
