import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { againstMandate, type DebitScheme, type MandateKind } from "@/core/receivables";
import { dateText, dayField, fail, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { LAST_USE } from "./mandateFacts";

/** A mandate as people see it. */
export interface MandateRow {
  id: number;
  partner: string;
  partnerName: string;
  reference: string;
  signed: CalendarDate;
  scheme: DebitScheme;
  kind: MandateKind;
  iban: string;
  bic: string;
  holder: string;
  notice: number;
  ended: CalendarDate | null;
  endedWhy: string;
  lastUsed: CalendarDate | null;
  /** How many direct debits were made by it. */
  uses: number;
  /** Why nothing can be debited by it today; "" where it can. */
  against: string;
}

export const listMandates = defineUseCase({
  name: "listMandates",
  kind: "read",
  rights: ["read.receivables"],
  what: "see mandates",
  company: (i) => i.company,
  schema: object({ company: string().required(), partner: string().default("") }),
  run: async ({ tx, masters, today }, input): Promise<Result<MandateRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<MandateRow, "against">>(
      tx,
      sql`select m.id, p.code as partner, p.name as "partnerName", m.reference, m.signed, m.scheme,
          m.kind, m.iban, m.bic, m.holder, m.notice, m.ended, m.ended_why as "endedWhy",
          u.last as "lastUsed", u.uses
        from mandate m join partner p on p.id = m.partner_id ${LAST_USE}
        where m.company_id = ${company.id} and ${input.partner} in ('', p.code)
        order by p.code, m.id`,
    );
    return ok(found.map((m) => ({ ...m, against: againstMandate(m, today) ?? "" })));
  },
});

/** Notes that a mandate has ended: from that day nothing is debited by it any more. */
export const endMandate = defineUseCase({
  name: "endMandate",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "end mandates",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    on: dayField().required("Say from when on it has ended"),
    why: string().trim().required("Say why it has ended").max(200),
  }),
  run: async (context, { id, on, why }): Promise<Result<object>> => {
    const [found] = await rows<{
      company: string;
      companyId: number;
      reference: string;
      signed: string;
      ended: string | null;
      name: string;
    }>(
      context.tx,
      sql`select c.code as company, c.id as "companyId", m.reference, m.signed, m.ended, p.name
        from mandate m join company c on c.id = m.company_id join partner p on p.id = m.partner_id
        where m.id = ${id} for update of m`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such mandate" });
    if (!context.may("prepare.receivables", found.company))
      return fail({ code: "FORBIDDEN", what: `end mandates of ${found.company}` });
    if (found.ended !== null)
      return fail({ code: "IN_USE", what: `It ended on ${dateText(found.ended)} already` });
    if (on! < found.signed)
      return fail({
        code: "INVALID",
        what: `It was signed on ${dateText(found.signed)}`,
        field: "on",
      });
    await context.tx.execute(
      sql`update mandate set ended = ${on}, ended_why = ${why} where id = ${id}`,
    );
    await context.audit({
      action: "ended",
      kind: "mandate",
      recordId: id,
      label: `${found.reference} of ${found.name}`.slice(0, 200),
      companyId: found.companyId,
      after: { on, why },
    });
    return ok({});
  },
});
