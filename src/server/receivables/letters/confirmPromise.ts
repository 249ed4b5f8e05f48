import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { dateText, fail, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { sendMails } from "../../letters";
import { drawLetters, promiseLetter, readyLetters } from "./letterPapers";

/** Writes to a customer what it has promised: goes out at once, and can go out again. */
export const confirmPromise = defineUseCase({
  name: "confirmPromise",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "confirm promises",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, { id }): Promise<Result<{ to: string }>> => {
    const { tx, person, now, today, masters } = context;
    const [promise] = await rows<{
      id: number;
      company: string;
      partner: string;
      due: CalendarDate;
      withdrawn: boolean;
      amount: bigint;
    }>(
      tx,
      sql`select p.id, c.code as company, p.partner, p.due, p.withdrawn_at is not null as withdrawn,
          (select coalesce(sum(round(i.functional::numeric * q.amount / nullif(i.amount, 0))), 0)
            from promise_item q join open_item i on i.id = q.item_id
            where q.promise_id = p.id)::bigint as amount
        from promise p join company c on c.id = p.company_id
        where p.id = ${id}::bigint for update of p`,
    );
    if (!promise) return fail({ code: "NOT_FOUND", what: "such promise" });
    const { company, partner, due } = promise;
    if (!context.may("prepare.receivables", company))
      return fail({ code: "FORBIDDEN", what: `confirm promises of ${company}` });
    if (promise.withdrawn) return fail({ code: "IN_USE", what: "It is withdrawn already" });
    const letter = await promiseLetter(context, promise, today);
    if (letter.customer.email === "")
      return fail({
        code: "INVALID",
        what: `${letter.customer.name} has no e-mail address; enter one with the customer`,
      });
    const [drawn] = await drawLetters(await readyLetters(context, [letter]));
    const companyId = masters.companyByCode.get(company)!.id;
    const { to, title, language, file } = drawn!;
    await sendMails(context, [
      {
        documentId: null,
        companyId,
        to,
        subject: title,
        body: title,
        files: [
          {
            name: `promise-${partner.replace(/[^A-Za-z0-9-]/g, "")}-${due}.pdf`,
            content: file,
          },
        ],
      },
    ]);
    await tx.execute(
      sql`insert into customer_letter (promise_id, company_id, partner, kind, date, language,
          amount, sent_to, sent_by, sent_at)
        values (${id}, ${companyId}, ${partner}, 'promise', ${today}, ${language},
          ${promise.amount}, ${to}, ${person.id}, ${now.toISOString()})`,
    );
    await context.audit({
      action: "sent",
      kind: "promise",
      recordId: id,
      label: `${partner}, for ${dateText(due)}`.slice(0, 200),
      companyId,
      after: { to },
    });
    return ok({ to });
  },
});
