import { sql } from "drizzle-orm";
import { object } from "yup";
import {
  letterText,
  remittanceLetter,
  type LetterLanguage,
  type RemittancePaper,
} from "@/core/letters";
import { idField, amountText, dateText, fail, minor, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { drawLetter, sendMails, senderOf, type Mail } from "../letters";

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
    const { tx } = context;
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
    const made: Mail[] = [];
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
      made.push({
        documentId: Number(f.id),
        companyId: f.companyId,
        to: f.email,
        subject: `Remittance advice ${f.number}`,
        body: `We have paid ${amountText(minor(f.amount), f.currency)} ${f.currency} on ${dateText(f.date)}. The list of what it settles is attached.`,
        files: [{ name: `${f.number}.pdf`, content: await drawLetter(letter, sender) }],
      });
    }
    await sendMails(context, made);
    return ok({
      sent: made.length,
      without: found.filter((f) => f.email === "").map((f) => f.payee),
    });
  },
});
