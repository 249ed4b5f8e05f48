import { sql } from "drizzle-orm";
import { creditorReference } from "@/core/banks";
import {
  accountLetter,
  letterText,
  reminderOpening,
  titleOf,
  type AccountLine,
  type AccountPaper,
  type Addressee,
  type LetterLanguage,
} from "@/core/letters";
import { paymentCode, type AccountLetter, type ReminderProcedure } from "@/core/receivables";
import { addDays, minor, type CalendarDate } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows, type Db } from "../../db";
import { drawLetter, senderOf } from "../../letters";
import { bankFor, type OwnBank } from "../bankFor";
import { letterEmail } from "./letterEmail";
import { REMINDERS } from "./procedures";

/** A letter before it is drawn: whom it goes to and what it is about. */
export interface LetterToDraw {
  company: { id: number; currency: string };
  kind: AccountLetter;
  level: number;
  date: CalendarDate;
  /** The day of a promise, or of a direct debit. */
  onDay: CalendarDate | null;
  /** Of a direct debit: by what it is made. */
  mandate: AccountPaper["mandate"];
  customer: Addressee & { code: string; email: string; language: LetterLanguage; group: string };
  fee: bigint;
  interest: bigint;
  lines: readonly (AccountLine & { sale: string | null })[];
}

export interface DrawnLetter {
  customer: string;
  to: string;
  title: string;
  language: LetterLanguage;
  file: Uint8Array;
}

interface FoundLine {
  partner: string;
  reference: string;
  date: CalendarDate;
  due: CalendarDate;
  currency: string;
  invoiced: bigint;
  amount: bigint;
  level: number;
  sale: string | null;
}

/** The letters of a run to these customers, as its items say. */
export async function lettersOf(
  { tx, masters }: Context,
  run: {
    id: number;
    company: string;
    date: CalendarDate;
    onDay: CalendarDate | null;
    what: AccountLetter;
  },
  customers: readonly string[],
): Promise<LetterToDraw[]> {
  const company = masters.companyByCode.get(run.company)!;
  const own = sql`run_item r where r.run_id = ${run.id} and r.state = 'in'
    and r.detail->>'partner' = any(${arrayOf(customers)}::text[])`;
  const lines = await rows<FoundLine>(
    tx,
    sql`select r.partner, i.reference, i.date, i.due_date as due, i.currency, i.amount as invoiced,
        r.amount, r.level, d.number as sale
      from (select r.no, r.detail->>'partner' as partner, (r.detail->>'item')::bigint as item,
          (r.detail->>'amount')::bigint as amount, (r.detail->>'level')::int as level
        from ${own} and r.detail ? 'item') r
        join open_item i on i.id = r.item
        left join document d on d.id = i.document_id and d.kind = 'sale'
      order by r.no`,
  );
  const charges = await rows<{ partner: string; fee: bigint; interest: bigint }>(
    tx,
    sql`select r.detail->>'partner' as partner,
        coalesce(sum(r.amount) filter (where r.detail->>'charge' = 'fee'), 0)::bigint as fee,
        coalesce(sum(r.amount) filter (where r.detail->>'charge' = 'interest'), 0)::bigint as interest
      from ${own} and r.detail ? 'charge' group by 1`,
  );
  const partners = await customersOf({ tx }, customers);
  const mandates = await mandatesOfRun(tx, run.id);
  const charged = new Map(charges.map((c) => [c.partner, c]));
  return partners.flatMap((customer): LetterToDraw[] => {
    const found = lines.filter((l) => l.partner === customer.code);
    if (found.length === 0) return [];
    return [
      {
        company,
        kind: run.what,
        level: Math.max(...found.map((l) => l.level)),
        date: run.date,
        onDay: run.onDay,
        mandate: mandates.get(customer.code) ?? null,
        customer,
        fee: charged.get(customer.code)?.fee ?? 0n,
        interest: charged.get(customer.code)?.interest ?? 0n,
        lines: found.map(toLine),
      },
    ];
  });
}

/** What a promise is confirmed by. */
export async function promiseLetter(
  { tx, masters }: Context,
  promise: { id: number; company: string; partner: string; due: CalendarDate },
  date: CalendarDate,
): Promise<LetterToDraw> {
  const lines = await rows<FoundLine>(
    tx,
    sql`select i.partner, i.reference, i.date, i.due_date as due, q.currency, i.amount as invoiced,
        q.amount, 0 as level, d.number as sale
      from promise_item q join open_item i on i.id = q.item_id
        left join document d on d.id = i.document_id and d.kind = 'sale'
      where q.promise_id = ${promise.id} order by i.due_date, i.id`,
  );
  const [customer] = await customersOf({ tx }, [promise.partner]);
  return {
    company: masters.companyByCode.get(promise.company)!,
    kind: "promise",
    level: 0,
    date,
    onDay: promise.due,
    mandate: null,
    customer: customer!,
    fee: 0n,
    interest: 0n,
    lines: lines.map(toLine),
  };
}

/** By what customers are debited in a run of direct debits, by customer; nobody in any other. */
async function mandatesOfRun(
  tx: Db,
  run: number,
): Promise<Map<string, NonNullable<AccountPaper["mandate"]>>> {
  const found = await rows<{ partner: string; reference: string; iban: string; creditor: string }>(
    tx,
    sql`select p.code as partner, m.reference, m.iban, c.creditor_id as creditor
      from run r join document d on d.id = r.id join company c on c.id = d.company_id
        cross join lateral jsonb_array_elements(case when r.kind = 'direct-debit'
          then r.detail->'debits' else '[]' end) x
        join mandate m on m.id = (x->>'mandate')::int join partner p on p.id = m.partner_id
      where r.id = ${run}`,
  );
  return new Map(
    found.map(({ partner, reference, iban, creditor }) => [
      partner,
      { reference, creditorId: creditor, account: `${iban.slice(0, 4)} … ${iban.slice(-4)}` },
    ]),
  );
}

const toLine = ({ reference, date, due, currency, invoiced, amount, sale }: FoundLine) => ({
  reference,
  date,
  due,
  currency,
  invoiced: minor(invoiced),
  amount: minor(amount),
  sale,
});

/** Whom letters about accounts go to, and where: at the address for statements, if there is one. */
const customersOf = ({ tx }: Pick<Context, "tx">, codes: readonly string[]) =>
  rows<LetterToDraw["customer"]>(
    tx,
    sql`select code, language, customer_group as "group",
        ${letterEmail} as email,
        case when elsewhere and statement_name <> '' then statement_name else name end as name,
        case when elsewhere then statement_street else street end as street,
        case when elsewhere then statement_postcode else postcode end as postcode,
        case when elsewhere then statement_city else city end as city,
        case when elsewhere and statement_country <> '' then statement_country else country end
          as country
      from (select *, statement_city <> '' as elsewhere from partner) p
      where code = any(${arrayOf(codes)}::text[]) order by code`,
  );

/** A letter with all that it is drawn from: nothing more is read for it. */
export interface ReadyLetter {
  customer: string;
  to: string;
  paper: AccountPaper;
  sender: Sender;
}
type Sender = Awaited<ReturnType<typeof senderOf>>;

/** What letters are drawn from; what they share is read once. */
export async function readyLetters(
  context: Context,
  letters: readonly LetterToDraw[],
): Promise<ReadyLetter[]> {
  const procedureOf = await REMINDERS.byGroup(context.tx);
  const senders = new Map<string, Sender>();
  const ownBanks = new Map<string, OwnBank>();
  const ready: ReadyLetter[] = [];
  for (const letter of letters) {
    const { company, customer } = letter;
    const senderKey = `${company.id} ${customer.language}`;
    if (!senders.has(senderKey))
      senders.set(senderKey, await senderOf(context.tx, company.id, customer.language));
    const currency = payableIn(letter);
    const payable = `${company.id} ${currency}`;
    if (!ownBanks.has(payable)) ownBanks.set(payable, await bankFor(context, company.id, currency));
    const sender = senders.get(senderKey)!;
    const paper = paperOf(letter, {
      sender,
      bank: ownBanks.get(payable)!,
      procedure: procedureOf(customer.group),
    });
    ready.push({ customer: customer.code, to: customer.email, paper, sender });
  }
  return ready;
}

/** Draws letters. It takes long and asks no database: nobody has to wait for it. */
export async function drawLetters(letters: readonly ReadyLetter[]): Promise<DrawnLetter[]> {
  const drawn: DrawnLetter[] = [];
  for (const { customer, to, paper, sender } of letters)
    drawn.push({
      customer,
      to,
      title: titleOf(paper),
      language: paper.language,
      file: await drawLetter(accountLetter(paper), sender),
    });
  return drawn;
}

/** In which currency it is paid: that of its items, or the company's where they have several. */
function payableIn({ lines, company }: LetterToDraw): string {
  const currencies = new Set(lines.map((l) => l.currency));
  return currencies.size === 1 ? [...currencies][0]! : company.currency;
}

function paperOf(
  letter: LetterToDraw,
  {
    sender,
    bank,
    procedure,
  }: {
    sender: Awaited<ReturnType<typeof senderOf>>;
    bank: OwnBank;
    procedure: ReminderProcedure;
  },
): AccountPaper {
  const { kind, level, date, customer, lines } = letter;
  const { language } = customer;
  const own = procedure.levels[level - 1];
  const texts = (own?.texts ?? {}) as Record<string, string>;
  const usual = (place: "opening" | "closing") =>
    level > 1 && place === "opening"
      ? reminderOpening(level, language)
      : letterText(sender.layout, kind, language, place);
  // Only one invoice can be paid by its own reference.
  const [only] = lines;
  const sale = lines.length === 1 && letter.fee + letter.interest === 0n ? only!.sale : null;
  const reference = sale === null ? customer.code : creditorReference(sale);
  return {
    kind,
    language,
    level,
    date,
    until: letter.onDay ?? (own ? addDays(date, own.within) : ""),
    company: sender.company,
    currency: letter.company.currency,
    customer,
    contact: sender.contact,
    lines,
    fee: minor(letter.fee),
    interest: minor(letter.interest),
    bank: {
      ...bank,
      reference,
      square:
        sale !== null && only!.currency === "EUR"
          ? paymentCode({ ...bank, holder: sender.name, amount: only!.amount, reference })
          : "",
    },
    mandate: letter.mandate,
    opening: texts[`${language}_opening`] || usual("opening"),
    closing: texts[`${language}_closing`] || usual("closing"),
  };
}
