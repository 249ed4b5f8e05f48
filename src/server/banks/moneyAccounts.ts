import type { MoneyAccounts } from "@/core/banks";
import { ok, type Found, type Result } from "@/core/shared";
import type { Context } from "../access";

/** The accounts of a company on which money that moves is posted, beside that of the bank itself. */
export function moneyAccounts(
  { masters }: Context,
  company: { code: string; currency: string },
): Result<Omit<MoneyAccounts, "underWay">> {
  const { discountAllowed, exchangeGain, exchangeLoss } = masters.purposes;
  const missing = Object.entries({
    "discounts allowed": discountAllowed,
    "exchange gains": exchangeGain,
    "exchange losses": exchangeLoss,
  }).filter(([, account]) => !account);
  if (missing.length > 0)
    return {
      ok: false,
      problems: missing.map(([purpose]): Found => ({ code: "PURPOSE_MISSING", purpose })),
    };
  return ok({
    company: company.code,
    functional: company.currency,
    discount: discountAllowed!,
    exchangeGain: exchangeGain!,
    exchangeLoss: exchangeLoss!,
  });
}
