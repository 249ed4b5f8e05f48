import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { dateText, fail, isCalendarDate, minor, ok, readAmount, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { doubtOf } from "./doubtOf";
import { reconciledUntil } from "./reconciledUntil";

/** Begins a statement that is copied from paper: its balances; then its lines are ticked. */
export const startPaperStatement = defineUseCase({
  name: "startPaperStatement",
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  company: (i) => i.company,
  locks: (_, i) => Promise.resolve([i.company]),
  schema: object({
    company: string().required(),
    bank: string().required("Choose a bank account"),
    number: string().trim().required("A statement has a number").max(35),
    openingDate: string().trim().default(""),
    closingDate: string().required("Say up to which day it goes"),
    /** As typed; empty where the statement before it says so. */
    opening: string().trim().default(""),
    closing: string().trim().required("Type the closing balance"),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [bank] = await rows<{ id: number; code: string; currency: string; until: string | null }>(
      tx,
      sql`select b.id, b.code, b.currency, ${reconciledUntil(sql`b.id`)} as until
        from bank_account b where b.company_id = ${company.id} and b.code = ${input.bank}`,
    );
    if (!bank)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    if (!isCalendarDate(input.closingDate))
      return fail({ code: "DATE_INVALID", text: input.closingDate, field: "closingDate" });
    if (input.closingDate > context.today)
      return fail({ code: "INVALID", what: "That day has not come yet", field: "closingDate" });
    const [last] = await rows<{ number: string; date: string; closing: bigint }>(
      tx,
      sql`select number, closing_date as date, closing from bank_statement
        where bank_account_id = ${bank.id} order by closing_date desc, id desc limit 1`,
    );
    const openingDate = input.openingDate || last?.date || "";
    if (openingDate === "")
      return fail({
        code: "INVALID",
        what: "It is the first statement of the account: say from which day it goes",
        field: "openingDate",
      });
    if (!isCalendarDate(openingDate))
      return fail({ code: "DATE_INVALID", text: openingDate, field: "openingDate" });
    if (openingDate >= input.closingDate)
      return fail({
        code: "INVALID",
        what: "A statement closes after the day on which it opens",
        field: "closingDate",
      });
    if (bank.until !== null && openingDate < bank.until)
      return fail({
        code: "INVALID",
        what: `${bank.code} is reconciled up to ${dateText(bank.until)}; a statement opens there, or later`,
        field: "openingDate",
      });
    const from = last && last.date > openingDate ? last.date : bank.until;
    if (from !== null && input.closingDate <= from)
      return fail({
        code: "INVALID",
        what: `There are statements of ${bank.code} up to ${dateText(from)} already`,
        field: "closingDate",
      });
    const closing = readAmount(input.closing, bank.currency);
    if (!closing.ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.closing, field: "closing" });
    const opening =
      input.opening === "" && last ? last.closing : typedAmount(input.opening, bank.currency);
    if (opening === null)
      return input.opening === ""
        ? fail({
            code: "INVALID",
            what: "It is the first statement of the account: type the opening balance",
            field: "opening",
          })
        : fail({ code: "AMOUNT_NOT_NUMBER", text: input.opening, field: "opening" });
    const [twice] = await rows<{ id: bigint }>(
      tx,
      sql`select id from bank_statement where bank_account_id = ${bank.id}
        and number = ${input.number} and closing_date = ${input.closingDate}`,
    );
    if (twice)
      return fail({
        code: "INVALID",
        what: `Statement ${input.number} of ${bank.code} to ${dateText(input.closingDate)} is there already`,
        field: "number",
      });
    const doubt = last
      ? doubtOf(last, {
          opening: { amount: minor(opening), date: openingDate },
          currency: bank.currency,
        })
      : "";
    const [kept] = await rows<{ id: bigint }>(
      tx,
      sql`insert into bank_statement (made_by, made_at, company_id, bank_account_id, number,
          currency, opening_date, opening, closing_date, closing, doubt)
        values (${person.id}, ${now.toISOString()}, ${company.id}, ${bank.id}, ${input.number},
          ${bank.currency}, ${openingDate}, ${opening}, ${input.closingDate}, ${closing.amount},
          ${doubt}) returning id`,
    );
    await context.audit({
      action: "statement copied from paper",
      kind: "bank statement",
      recordId: Number(kept!.id),
      label: `${bank.code} ${input.number}`,
      companyId: company.id,
      after: { closing: input.closing },
    });
    return ok({ id: Number(kept!.id) });
  },
});

const typedAmount = (text: string, currency: string): bigint | null => {
  const read = text === "" ? null : readAmount(text, currency);
  return read?.ok ? read.amount : null;
};
