import { proposedIban, readIban, ibanText, routingOf } from "@/core/banks";
import type { BankRecord } from "@/server/banks";
import type { Derive, RecordValues } from "@/ui/form";

/** The choice of a bank that is not in the list yet and joins it. */
export const NEW_BANK = "new";

const text = (v: RecordValues, key: string): string => {
  const value = v[key];
  return typeof value === "string" ? value.trim() : "";
};

/** Country, code and BIC of the bank that is written or chosen. */
function bankIn(v: RecordValues, banks: readonly BankRecord[]) {
  if (v.bankId === NEW_BANK)
    return {
      country: text(v, "newBank.country").toUpperCase(),
      bankCode: text(v, "newBank.nationalCode"),
      bic: text(v, "newBank.bic"),
    };
  const bank = banks.find((b) => String(b.id) === v.bankId);
  return { country: bank?.country ?? "", bankCode: bank?.nationalCode ?? "", bic: text(v, "bic") };
}

const proposal = (v: RecordValues, banks: readonly BankRecord[]): string =>
  proposedIban({ ...bankIn(v, banks), number: text(v, "number") });

/**
 * What the bank says becomes the account's, and the IBAN is proposed anew while nobody has written
 * another one.
 */
export const followsFromBank =
  (banks: readonly BankRecord[]): Derive =>
  (now, changed, before) => {
    const follows: RecordValues = {};
    const bank = banks.find((b) => String(b.id) === now.bankId);
    if (changed === "bankId" && bank) {
      follows.bankName = bank.name;
      follows.bic = bank.bic;
      follows.country = bank.country;
      follows.routing = routingOf(bank.country) ? bank.nationalCode : "";
    }
    if (changed === "iban") return follows;
    const stood = readIban(text(now, "iban")) ?? text(now, "iban");
    if (stood === "" || stood === proposal(before, banks))
      follows.iban = ibanText(proposal({ ...now, ...follows }, banks));
    return follows;
  };

/** Before the code of a dimension: the usual value of an account's lines. */
export const USUAL = "dimensions.";

/** The form's values as the use case takes them. */
export function inputOf(v: RecordValues): Record<string, unknown> {
  const { bankId, "newBank.name": name, "newBank.country": country, ...all } = v;
  const rest: Record<string, unknown> = {};
  const dimensions: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(all))
    if (key.startsWith(USUAL)) dimensions[key.slice(USUAL.length)] = value;
    else rest[key] = value;
  const { "newBank.nationalCode": nationalCode, "newBank.bic": bic, ...written } = rest;
  const own = { ...written, dimensions };
  if (bankId !== NEW_BANK) return { ...own, bankId: bankId === "" ? null : Number(bankId) };
  // Where the account has no IBAN, the code of its new bank is what reaches it.
  const isRouted = v.iban === "" && routingOf(text(v, "newBank.country").toUpperCase());
  return {
    ...own,
    newBank: { name, country, nationalCode, bic },
    bankName: name,
    bic,
    country,
    routing: isRouted ? nationalCode : "",
  };
}
