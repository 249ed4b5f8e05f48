import { sql, type SQL } from "drizzle-orm";
import {
  letterText,
  remittanceLetter,
  type Letter,
  type LetterLanguage,
  type RemittancePaper,
} from "@/core/letters";
import { amountText, dateText, minor } from "@/core/shared";
import { rows, type Db } from "../db";
import { drawLetter, senderOf, type Mail } from "../letters";

interface AdviceItem {
  reference: string;
  date: string;
  taken: string;
  discount: string;
}

/** A payment of which its supplier is to be told. */
interface Payment {
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
}

/** Payments that stand and have no advice yet. */
export const untold = (which: SQL) => sql`from payment p join document d on d.id = p.document_id
    left join partner s on s.code = p.partner
  where ${which} and d.status in ('posted', 'sent', 'cleared')
    and not exists (select 1 from outbox o where o.document_id = d.id)`;
/** An advice, ready to be drawn. */
export interface ReadyAdvice {
  payment: Payment;
  letter: Letter;
  sender: Awaited<ReturnType<typeof senderOf>>;
}

/** The next advices to suppliers with an address. */
export async function nextAdvices(tx: Db, which: SQL, most: number): Promise<ReadyAdvice[]> {
  const payments = await rows<Payment>(
    tx,
    sql`select d.id, d.number, d.date, d.amount, d.currency, p.payee, s.email,
      d.company_id as "companyId", s.code, s.street, s.postcode, s.city, s.country, s.language,
      p.method, coalesce(nullif(p.iban, ''), p.account_number) as "paidTo",
        (select jsonb_agg(jsonb_build_object('reference', i.reference, 'date', i.date, 'taken',
          (-t.taken)::text, 'discount', t.discount::text) order by i.due_date, i.id)
          from payment_item t join open_item i on i.id = t.item_id
          where t.payment_id = d.id) as items
      ${untold(which)} and s.email <> '' order by d.id limit ${most}`,
  );
  const senders = new Map<string, ReadyAdvice["sender"]>();
  const ready: ReadyAdvice[] = [];
  for (const payment of payments) {
    const key = `${payment.companyId} ${payment.language}`;
    const sender = senders.get(key) ?? (await senderOf(tx, payment.companyId, payment.language));
    senders.set(key, sender);
    ready.push({ payment, letter: letterOf(payment, sender), sender });
  }
  return ready;
}

const letterOf = (f: Payment, { company, contact, layout }: ReadyAdvice["sender"]): Letter =>
  remittanceLetter({
    ...f,
    company,
    payee: { ...f, name: f.payee },
    contact,
    amount: minor(f.amount),
    items: (f.items ?? []).map((i) => ({
      reference: i.reference,
      date: i.date,
      taken: minor(BigInt(i.taken)),
      discount: minor(BigInt(i.discount)),
    })),
    opening: letterText(layout, "remittance", f.language, "opening"),
    closing: letterText(layout, "remittance", f.language, "closing"),
  });

/** Draws advices, without the database, as the mails that they go out by. */
export async function drawAdvices(ready: readonly ReadyAdvice[]): Promise<Mail[]> {
  const drawn: Mail[] = [];
  for (const { payment: f, letter, sender } of ready)
    drawn.push({
      documentId: Number(f.id),
      companyId: f.companyId,
      to: f.email,
      subject: `Remittance advice ${f.number}`,
      body: `We have paid ${amountText(minor(f.amount), f.currency)} ${f.currency} on ${dateText(f.date)}. The list of what it settles is attached.`,
      files: [{ name: `${f.number}.pdf`, content: await drawLetter(letter, sender) }],
    });
  return drawn;
}
