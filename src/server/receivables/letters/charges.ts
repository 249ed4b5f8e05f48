import { sql } from "drizzle-orm";
import { saleInput } from "@/core/receivables";
import { amountText, dateText, fail, minor, ok, type Found, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, readSetting, rows, type Db } from "../../db";
import { keepAndPostSales } from "../postSales";
import { takeBackSales } from "../takeBackSales";

/** Where fees and interest are posted to, and with which tax; "" where nothing has been said. */
export interface ChargeAccounts {
  feeAccount: string;
  interestAccount: string;
  chargeTax: string;
}

export const CHARGES_SETTING = "reminders.charges";

export const readChargeAccounts = async (tx: Db): Promise<ChargeAccounts> =>
  (await readSetting<ChargeAccounts>(tx, CHARGES_SETTING)) ?? {
    feeAccount: "",
    interestAccount: "",
    chargeTax: "",
  };

/** What a run says before it is posted, where fees and interest have no account. */
export function chargesWithoutAccount(
  accounts: ChargeAccounts,
  charged: { fee: bigint; interest: bigint },
): string | null {
  const missing = [
    ...(charged.fee > 0n && accounts.feeAccount === "" ? ["reminder fees"] : []),
    ...(charged.interest > 0n && accounts.interestAccount === "" ? ["interest"] : []),
  ];
  return missing.length === 0
    ? null
    : `No account is set for ${missing.join(" and ")}; the controller sets it in Setup, Receivables`;
}

/** Posts the fees and interest of a run's letters, an invoice for each customer. */
export async function invoiceCharges(
  context: Context,
  run: number,
  currency: string,
): Promise<Result<unknown>> {
  const { tx } = context;
  const found = await rows<{
    id: bigint;
    company: string;
    partner: string;
    level: number;
    date: string;
    fee: bigint;
    interest: bigint;
  }>(
    tx,
    sql`select l.id, c.code as company, l.partner, l.level, l.date, l.fee, l.interest
      from customer_letter l join company c on c.id = l.company_id
      where l.run_id = ${run} and l.fee + l.interest > 0
        and exists (select 1 from run_item i where i.run_id = l.run_id and i.state = 'in'
          and i.detail->>'partner' = l.partner and (i.detail->>'invoiced')::boolean)
      order by l.id`,
  );
  if (found.length === 0) return ok({});
  const { feeAccount, interestAccount, chargeTax } = await readChargeAccounts(tx);
  const line = (account: string, description: string, amount: bigint) =>
    amount > 0n
      ? [{ account, description, net: amountText(minor(amount), currency), taxCode: chargeTax }]
      : [];
  const posted = await keepAndPostSales(
    context,
    found.map((f) =>
      saleInput({
        company: f.company,
        customer: f.partner,
        date: dateText(f.date),
        currency,
        description: `Charges of reminder level ${f.level}`,
        lines: [
          ...line(feeAccount, "Reminder fee", f.fee),
          ...line(interestAccount, "Interest on late payment", f.interest),
        ],
      }),
    ),
  );
  if (!posted.ok) return fail(...(posted.problems.map(unplaced) as [Found, ...Found[]]));
  await tx.execute(
    sql`update customer_letter l set sale_id = x.sale from unnest(
      ${arrayOf(found.map((f) => f.id))}::bigint[],
      ${arrayOf(posted.value.map((p) => p.id))}::bigint[]) as x(id, sale) where l.id = x.id`,
  );
  return ok({});
}

/** What stands against an invoice is no fault of a field of the run. */
const unplaced = ({ field: _field, ...problem }: Found): Found => problem as Found;

/** Takes back the invoices of a run's fees and interest. */
export async function takeBackCharges(context: Context, run: number): Promise<Result<unknown>> {
  const found = await rows<{ id: number }>(
    context.tx,
    sql`select sale_id::int as id from customer_letter where run_id = ${run} and sale_id is not null`,
  );
  return takeBackSales(
    context,
    found.map((f) => f.id),
  );
}
