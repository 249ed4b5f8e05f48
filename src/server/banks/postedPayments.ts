import { sql } from "drizzle-orm";
import { purposeOf, type PlannedPayment } from "@/core/banks";
import { fail, minor, ok, type Result } from "@/core/shared";
import { arrayOf, insertAll, rows, schema } from "../db";
import type { Context } from "../access";
import { readBankAccount } from "./bankAccounts";
import { documentLinks, register, takeNumbers } from "../documents";
import { partnersByCode } from "../partners";
import type { PostedJournal } from "../ledger";
import { settleTogether } from "../openItems";
import { releaseItems } from "../runs";
import { takeBackParts } from "../taxes";
import { type TaxTakenBack } from "@/core/taxes";

/** A payment of a proposal, with the places of its journals and what it takes back of taxes. */
export interface RunPayment extends PlannedPayment {
  drafts: number[];
  taxes: TaxTakenBack[];
  /** The account of our own that it goes to; left out where it goes to somebody else. */
  toBank?: number;
  /** What is said of it beside its numbers. */
  text?: string;
  /** What it is for, where somebody has said it of this payment; else its supplier's. */
  purpose?: string;
}

export interface PaymentRunDetail {
  bank: string;
  payments: RunPayment[];
  /** Whether they are made outside: no cheque is printed and no file made. */
  outside?: boolean;
}

/**
 * What posting makes beyond the journals: payments with numbers, settled items, taxes taken back.
 */
export async function postedPayments(
  context: Context,
  runId: number | null,
  detail: PaymentRunDetail,
  payer: string,
  journals: readonly PostedJournal[],
  approved: boolean,
): Promise<Result<{ id: number; number: string }[]>> {
  const { tx, masters, person } = context;
  const company = masters.companyByCode.get(payer)!;
  const bank = (await readBankAccount(tx, { code: detail.bank }, true))!;
  const { payments } = detail;
  if (payments.length === 0)
    return fail({ code: "RUN_STANDS_IN_WAY", what: "Nothing is left in it to pay" });
  if (approved) {
    const [own] = await rows<{ name: string }>(
      tx,
      sql`select p.name from partner_bank b join partner p on p.id = b.partner_id
        where b.changed_by = ${person.id} and b.state = 'confirmed'
        and b.id = any(${arrayOf(payments.flatMap((p) => p.bankId ?? []))}::int[]) limit 1`,
    );
    if (own)
      return fail({
        code: "RUN_STANDS_IN_WAY",
        what: `You entered the bank account of ${own.name}, which this run pays to; somebody else has to approve it`,
      });
  }
  const cheques = new Map(
    runId === null
      ? []
      : (
          await rows<{ id: bigint; key: string; amount: bigint }>(
            tx,
            sql`select id, payment_key as key, amount from cheque
              where run_id = ${runId} and state = 'printed'`,
          )
        ).map((c) => [c.key, c]),
  );
  // What a second person has released gets its cheques afterwards: none carries a signature before.
  const unprinted =
    detail.outside || approved
      ? []
      : payments.filter((p) => p.method === "cheque" && cheques.get(p.key)?.amount !== p.amount);
  if (runId !== null && unprinted.length > 0)
    return fail({
      code: "RUN_STANDS_IN_WAY",
      what: `${unprinted.length === 1 ? `The cheque to ${unprinted[0]!.payee} is` : `${unprinted.length} cheques are`} not printed yet; print first, so that what is posted is what left the house`,
    });
  const heads = journals.filter((_, i) => payments.some((p) => p.drafts[0] === i));
  const info = new Map(
    (
      await rows<{ id: bigint; date: string; year: { id: number; name: string }; seq: bigint }>(
        tx,
        sql`select j.id, j.date, j.seq, json_build_object('id', y.id, 'name', y.name) as year
          from journal j join fiscal_year y on y.id = j.year_id
          where j.id = any(${arrayOf(heads.map((h) => h.id))}::bigint[])`,
      )
    ).map((i) => [Number(i.id), i]),
  );
  const journalOf = (p: RunPayment) => journals[p.drafts[0]!]!;
  const numbers = await takeNumbers(
    tx,
    payments.map((p) => ({ series: "payment", company, year: info.get(journalOf(p).id)!.year })),
  );
  const partners = await partnersByCode(
    tx,
    payments.map((p) => p.partner),
  );
  const ids = await register(
    context,
    payments.map((p, i) => ({
      kind: "payment",
      type: p.method,
      number: numbers[i]!.number,
      companyId: company.id,
      date: info.get(journalOf(p).id)!.date,
      amount: p.amount,
      currency: p.currency,
      title: p.toBank ? `Transfer to ${p.payee}` : `Payment to ${p.payee}`,
      words: p.method,
      partnerId: partners.get(p.partner)?.id ?? null,
      status: "posted",
    })),
  );
  await insertAll(
    tx,
    schema.payment,
    payments.map((p, i) => ({
      documentId: ids[i]!,
      runId,
      bankAccountId: bank.id,
      partner: p.partner,
      payee: p.payee,
      method: p.method,
      dueDate: p.due ?? null,
      discount: p.discount,
      iban: p.iban,
      bic: p.bic,
      accountNumber: p.number,
      routing: p.routing,
      bankCountry: p.country,
      holder: p.holder,
      journalId: journalOf(p).id,
      toBankId: p.toBank ?? null,
      text: p.text ?? "",
      purpose: purposeOf({
        isOwn: p.toBank !== undefined,
        ofPartner: p.purpose ?? partners.get(p.partner)?.purpose ?? "",
      }),
    })),
  );
  await insertAll(
    tx,
    schema.paymentItem,
    payments.flatMap((p, i) =>
      p.items.map(({ item, taken, functional, discount, lost }) => ({
        paymentId: ids[i]!,
        itemId: item,
        taken,
        functional,
        discount,
        lost,
      })),
    ),
  );
  const left = await rows<{ id: bigint; journalId: bigint; left: bigint; leftFunctional: bigint }>(
    tx,
    sql`select id, journal_id as "journalId", left_amount as "left",
      left_functional as "leftFunctional" from open_item
      where journal_id = any(${arrayOf(heads.map((h) => h.id))}::bigint[])
      and area in ('payables', 'receivables') and kind = 'payment'`,
  );
  const leftOf = new Map<number, typeof left>();
  for (const l of left)
    leftOf.set(Number(l.journalId), [...(leftOf.get(Number(l.journalId)) ?? []), l]);
  await settleTogether(
    context,
    "payment",
    payments
      .filter((p) => p.items.length > 0)
      .map((p) => {
        const head = journalOf(p);
        const own = leftOf.get(head.id) ?? [];
        return {
          companyId: company.id,
          date: info.get(head.id)!.date,
          journalId: head.id,
          lines: [
            ...p.items.map((t) => ({ item: t.item, amount: t.taken, functional: t.functional })),
            ...own.map((l) => ({
              item: Number(l.id),
              amount: minor(l.left),
              functional: minor(l.leftFunctional),
            })),
          ],
        };
      }),
  );
  await takeTaxesBack(
    context,
    company.id,
    payments.map((p, i) => ({
      id: ids[i]!,
      journal: {
        id: journalOf(p).id,
        seq: info.get(journalOf(p).id)!.seq,
        date: info.get(journalOf(p).id)!.date,
      },
      payment: p,
    })),
  );
  await documentLinks(
    tx,
    "made",
    payments.flatMap((p, i) => p.drafts.map((d) => [ids[i]!, journals[d]!.id] as const)),
  );
  if (runId !== null)
    await documentLinks(
      tx,
      "made",
      ids.map((id) => [runId, id] as const),
    );
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind) select distinct i.document_id,
      t.payment_id, 'paid' from payment_item t join open_item i on i.id = t.item_id
      where t.payment_id = any(${arrayOf(ids)}::bigint[]) on conflict do nothing`,
  );
  const printed = payments.flatMap((p, i) => {
    const c = p.method === "cheque" ? cheques.get(p.key) : undefined;
    return c ? [{ cheque: c.id, payment: ids[i]! }] : [];
  });
  if (printed.length > 0)
    await tx.execute(
      sql`update cheque c set payment_id = x.payment
        from unnest(${arrayOf(printed.map((p) => p.cheque))}::bigint[],
        ${arrayOf(printed.map((p) => p.payment))}::bigint[]) as x(id, payment) where c.id = x.id`,
    );
  // From here on what is left of the items keeps them apart; a part that stays can be paid by
  // another run.
  if (runId !== null) await releaseItems(tx, runId);
  return ok(payments.map((_, i) => ({ id: ids[i]!, number: numbers[i]!.number })));
}

/**
 * Records what discounts took back of taxes, negative beside those of the invoices: one query,
 * whatever their number.
 */
async function takeTaxesBack(
  { tx }: Context,
  companyId: number,
  made: readonly {
    id: number;
    journal: { id: number; seq: bigint; date: string };
    payment: RunPayment;
  }[],
): Promise<void> {
  await takeBackParts(
    tx,
    companyId,
    made.flatMap(({ id, journal, payment }) =>
      payment.taxes.map((tax) => ({ ...tax, payment: id, journal })),
    ),
  );
}
