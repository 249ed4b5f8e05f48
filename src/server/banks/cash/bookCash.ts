import { sql } from "drizzle-orm";
import {
  againstUse,
  cashEntrySchema,
  lineJournal,
  type CashEntryInput,
  type LineToPost,
} from "@/core/banks";
import { withUsualValues, writtenCodingProblems } from "@/core/ledger";
import { conversionOn } from "@/core/rates";
import { dateText, fail, isCalendarDate, minor, ok, readAmount, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { postDrafts } from "../../ledger";
import { ratesFor } from "../../rates";
import { approvalOfRun } from "../../runs";
import { readBankAccount, type BankAccount } from "../bankAccounts";
import { moneyAccounts } from "../moneyAccounts";
import { codedKind } from "../statements/lineFacts";

/**
 * Writes an entry of a cash book: what was put in or taken out, and what it was for. It is posted at
 * once; a box never holds less than nothing, which the ledger itself refuses.
 */
export const bookCash = defineUseCase({
  name: "bookCash",
  kind: "write",
  rights: ["post.banks"],
  what: "write entries of cash books",
  company: (i) => i.company,
  locks: ({ tx }, input) => companiesOf(tx, [], { company: input.company }),
  schema: cashEntrySchema,
  run: async (context, input): Promise<Result<{ journal: string }>> => {
    const { tx, masters, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const box = await readBankAccount(tx, { code: input.bank });
    if (box?.companyId !== company.id || box.kind !== "cash")
      return fail({ code: "NOT_FOUND", what: `cash box ${input.bank}`, field: "bank" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date > context.today)
      return fail({ code: "INVALID", what: "That day has not come yet", field: "date" });
    const unused = againstUse(box, input.date);
    if (unused !== null) return fail({ code: "INVALID", what: unused, field: "bank" });
    const amount = readAmount(input.amount, box.currency);
    if (!amount.ok || amount.amount <= 0n)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.amount, field: "amount" });
    const signed = minor(input.side === "in" ? amount.amount : -amount.amount);
    const place = await placeOf(context, box, input);
    if (!place.ok) return place;
    const accounts = moneyAccounts(context, company);
    if (!accounts.ok) return accounts;
    const rates = await ratesFor(tx, masters, [
      { companies: [company.code], currency: box.currency, date: input.date },
    ]);
    const rate = conversionOn(rates, "spot", box.currency, company.currency, input.date);
    if (rate === null)
      return fail({
        code: "INVALID",
        what: `No rate from ${box.currency} to ${company.currency} is known for ${dateText(input.date)}`,
        field: "date",
      });
    const { draft } = lineJournal(
      {
        booked: input.date,
        amount: signed,
        currency: box.currency,
        rate,
        payee: input.payee,
        text: input.text,
        takes: [],
        rest: signed,
        restTo: place.value,
      },
      { ...accounts.value, underWay: box.account },
    );
    const entry = { ...draft, description: input.text };
    const approval = await approvalOfRun(context, { approved: "by rules" }, [entry]);
    if (approval)
      return fail({
        code: "INVALID",
        what: `By a rule, ${approval.why}, and a cash book does not wait for one`,
      });
    const posted = await postDrafts(context, [entry]);
    if (!posted.ok) return posted;
    const [journal] = posted.value;
    await audit({
      action: input.side === "in" ? "put into cash box" : "taken out of cash box",
      kind: "journal",
      recordId: journal!.id,
      label: journal!.number,
      companyId: company.id,
      after: { box: box.code, amount: input.amount, text: input.text },
    });
    return ok({ journal: journal!.number });
  },
});

/** Where the other side of an entry stands. */
async function placeOf(
  context: Context,
  box: BankAccount,
  input: CashEntryInput,
): Promise<Result<NonNullable<LineToPost["restTo"]>>> {
  const { tx, masters } = context;
  if (input.is === "kind") {
    const kind = await codedKind(tx, input.kind);
    if (!kind.ok) return kind;
    const { account, name } = kind.value;
    const dimensions = withUsualValues(masters, kind.value, box.dimensions);
    return ok({ coding: { account, dimensions, text: input.text || name } });
  }
  if (input.is === "coding") {
    const dimensions = withUsualValues(masters, input, box.dimensions);
    const coding = { account: input.account, dimensions, text: input.text };
    const [fault, ...more] = writtenCodingProblems(masters, coding);
    return fault ? fail(fault, ...more) : ok({ coding });
  }
  return bankPlace(context, box, input.other);
}

/** Money under way to or from a bank account: the line of its statement will meet it. */
async function bankPlace(
  { tx }: Context,
  box: BankAccount,
  other: number | null,
): Promise<Result<{ partner: string; account: string; reference: string }>> {
  const [bank] = await rows<{ code: string; underWay: string; currency: string }>(
    tx,
    sql`select code, under_way_account as "underWay", currency from bank_account
      where id = ${other ?? 0}::bigint and company_id = ${box.companyId} and kind <> 'cash'`,
  );
  if (!bank) return fail({ code: "INVALID", what: "Choose a bank account", field: "other" });
  if (bank.currency !== box.currency)
    return fail({
      code: "INVALID",
      what: `${bank.code} is kept in ${bank.currency}, the cash box in ${box.currency}`,
      field: "other",
    });
  return ok({
    partner: "",
    account: bank.underWay,
    reference: `${box.code}, ${bank.code}`,
  });
}
