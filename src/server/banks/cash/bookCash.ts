import { sql } from "drizzle-orm";
import {
  againstUse,
  cashEntrySchema,
  codingOfKind,
  lineJournal,
  type CashEntryInput,
  type LineToPost,
} from "@/core/banks";
import { conversionOn, rateProblem } from "@/core/rates";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Minor,
  type Result,
} from "@/core/shared";
import type { TaxDirection } from "@/core/taxes";
import type { TaxSum } from "@/core/trade";
import { companiesOf, defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { postDrafts } from "../../ledger";
import { ratesFor } from "../../rates";
import { approvalOfRun } from "../../runs";
import { readBankAccount, type BankAccount } from "../bankAccounts";
import { moneyAccounts } from "../moneyAccounts";
import { recordTaxes, taxDays } from "../../taxes";
import { codedAmount, codingFacts, writtenCoding } from "../codings";
import { codedKind } from "../statements/lineFacts";
import { taxOfMoney } from "../taxOfMoney";

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
    const accounts = moneyAccounts(context, company);
    if (!accounts.ok) return accounts;
    const rates = await ratesFor(tx, masters, [
      { companies: [company.code], currency: box.currency, date: input.date },
    ]);
    const rate = conversionOn(rates, "spot", box.currency, company.currency, input.date);
    if (rate === null)
      return fail({
        ...rateProblem(rates, "spot", box.currency, company.currency, input.date),
        field: "date",
      });
    const place = await placeOf(context, box, input, signed);
    if (!place.ok) return place;
    const { to: restTo, tax } = place.value;
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
        restTo,
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
    if (tax)
      await recordTaxes(tx, [
        taxOfMoney(
          context,
          { ...tax, rate, currency: box.currency },
          { id: journal!.id, seq: journal!.seq, date: input.date, companyId: company.id },
        ),
      ]);
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

interface Place {
  to: LineToPost["restTo"];
  tax: { sum: TaxSum; direction: TaxDirection } | null;
}

/** Where the other side of an entry stands, with the tax in it. */
async function placeOf(
  context: Context,
  box: BankAccount,
  input: CashEntryInput,
  amount: Minor,
): Promise<Result<Place>> {
  if (input.is === "bank") {
    const bank = await bankPlace(context, box, input.other);
    return bank.ok ? ok({ to: bank.value, tax: null }) : bank;
  }
  const kind = input.is === "kind" ? await codedKind(context.tx, input.kind) : null;
  if (kind && !kind.ok) return kind;
  const coding = kind ? codingOfKind(kind.value, input.text) : writtenCoding(input);
  const facts = await codingFacts(context, input.company);
  const on = { booked: input.date, currency: box.currency, usual: box.dimensions };
  const made = codedAmount(context, coding, amount, on, facts);
  if (!made.ok) return made;
  const { parts, tax: sum } = made.value;
  if (sum === null) return ok({ to: { parts }, tax: null });
  const { direction } = facts.taxCodes.get(sum.code)!;
  const [day] = await taxDays(context.tx, [
    { companyId: box.companyId, day: input.date, period: "", direction },
  ]);
  if (day!.problem) return fail({ ...day!.problem, field: "date" });
  return ok({ to: { parts }, tax: { sum, direction } });
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
