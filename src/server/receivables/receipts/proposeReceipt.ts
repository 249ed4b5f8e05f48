import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { discountOn } from "@/core/openItems";
import {
  procedureAmount,
  proposeApplication,
  type ItemToPay,
  type ProposedApplication,
} from "@/core/receivables";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows, type Db } from "../../db";
import { readBankAccount } from "../../banks";
import { TOLERANCES } from "../../partners";
import { itemsElsewhere, itemsOfPayers, type ItemElsewhere, type PayersItem } from "./payersItems";

/** An open item as whoever records a receipt sees it. */
export interface OpenForReceipt {
  id: number;
  partner: string;
  partnerName: string;
  reference: string;
  document: { id: number; kind: string };
  date: CalendarDate;
  due: CalendarDate;
  left: Minor;
  disputed: Minor;
  /** What may be deducted on that day; whether a person has to agree, for it is late. */
  discount: Minor;
  late: boolean;
}

export interface ReceiptProposal {
  currency: string;
  items: OpenForReceipt[];
  /** What is owed in other currencies, which this money can pay once it is owed in its own. */
  elsewhere: ItemElsewhere[];
  proposed: ProposedApplication;
}

/** An item as a proposal sees it, with the discount of the day. */
export function itemToPay(item: PayersItem, date: CalendarDate): ItemToPay & { late: boolean } {
  const had = item.left > 0n ? discountOn({ ...item, credited: minor(0n) }, date) : null;
  const agreed = item.discounts.find((d) => d.until === had?.until && d.percent === had.percent);
  return {
    id: item.id,
    partner: item.partner,
    numbers: [item.reference, ...(item.document.number === null ? [] : [item.document.number])],
    due: item.due,
    left: item.left,
    currency: item.currency,
    discount: had?.amount ?? minor(0n),
    disputed: item.disputed,
    late: agreed !== undefined && agreed.agreedUntil < date,
  };
}

/** What is small enough of a payer to be let go, in the currency of the money. */
export async function smallOf(
  tx: Db,
  payers: readonly string[],
  currency: string,
): Promise<(payer: string) => Minor> {
  const groups = new Map(
    (
      await rows<{ code: string; group: string }>(
        tx,
        sql`select code, customer_group as "group" from partner where code in (${sql.join(
          payers.map((p) => sql`${p}`),
          sql`, `,
        )})`,
      )
    ).map((p) => [p.code, p.group]),
  );
  const toleranceOf = await TOLERANCES.byGroup(tx);
  return (payer) => procedureAmount(toleranceOf(groups.get(payer) ?? "").small, currency);
}

/** What is open of a payer, and what money of it is most likely for. */
export const proposeReceipt = defineUseCase({
  name: "proposeReceipt",
  kind: "read",
  rights: ["read.receivables", "read.banks"],
  what: "see receipts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    bank: string().required("Choose the bank account"),
    partner: string().required("Say who has paid"),
    date: string().required("The date is missing"),
    amount: string().trim().max(40).default(""),
    text: string().trim().max(200).default(""),
  }),
  run: async ({ tx, masters }, input): Promise<Result<ReceiptProposal>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const bank = await readBankAccount(tx, { code: input.bank });
    if (!bank || bank.companyId !== company.id)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    const { date, partner } = input;
    if (!isCalendarDate(date)) return fail({ code: "DATE_INVALID", text: date, field: "date" });
    const { currency } = bank;
    const items = (await itemsOfPayers(tx, company.id, currency, [partner])).get(partner) ?? [];
    const toPay = new Map(items.map((i) => [i.id, itemToPay(i, date)]));
    const read = readAmount(input.amount, currency);
    const small = await smallOf(tx, [partner], currency);
    return ok({
      currency,
      elsewhere: await itemsElsewhere(tx, company.id, currency, partner),
      items: items.map((i) => ({
        id: i.id,
        partner: i.partner,
        partnerName: i.partnerName,
        reference: i.reference,
        document: { id: i.document.id, kind: i.document.kind },
        date: i.date,
        due: i.due,
        left: i.left,
        disputed: i.disputed,
        discount: toPay.get(i.id)!.discount,
        late: toPay.get(i.id)!.late,
      })),
      proposed:
        read.ok && read.amount > 0n
          ? proposeApplication(
              { amount: read.amount, date, text: input.text },
              // What lies after the money is not what it was for.
              [...toPay.values()].filter((i) => items.find((x) => x.id === i.id)!.date <= date),
              small(partner),
            )
          : { takes: [], rest: minor(0n), by: "nothing is open" },
    });
  },
});
