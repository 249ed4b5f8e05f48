import { isSepaTransfer, type BankAddress } from "./bankAddress";
import { isSepaCountry } from "./countries";
import { bankHoliday, nextBankDay } from "./workingDays";
import { dateText, type CalendarDate } from "../shared";
import { bankText, isSpoiltReference, isUnreadable } from "./bankText";

/** What is looked at of a transfer before it goes to the bank. */
export interface TransferToLookAt extends BankAddress {
  payee: string;
  /** Who holds the account, where it was said. */
  holder: string;
  currency: string;
  /** Town of the payee, or nothing. */
  town: string;
  references: readonly string[];
}

const MOST_NAMED = 8;

/**
 * What whoever looks at transfers should know before they go: names that are written in the letters
 * of banks or cut, names that nobody could read (they stand in the way), days on which banks do not
 * pay, payees abroad without a town, creditor references with a slip.
 */
export function transferRemarks(
  transfers: readonly TransferToLookAt[],
  day: CalendarDate,
  from: BankAddress & { holidays?: readonly CalendarDate[] },
): { warnings: string[]; blocks: string[] } {
  const warnings: string[] = [];
  const blocks: string[] = [];
  const written: string[] = [];
  for (const t of transfers) {
    const name = t.holder || t.payee;
    const sepa = isSepaTransfer(t.currency, from, t);
    const text = bankText(name, sepa ? 70 : 140);
    if (isUnreadable(name))
      blocks.push(
        `“${name}” has no letters that banks take; give its bank account a holder in Latin letters.`,
      );
    else if (text !== plain(name)) written.push(`“${name}” as “${text}”`);
    if (!isSepaCountry(t.country) && t.holder === "" && t.town === "")
      warnings.push(`${t.payee} has no town in its address; banks abroad ask for one.`);
    for (const r of t.references.filter(isSpoiltReference))
      warnings.push(
        `“${r}” of ${t.payee} looks like a creditor reference, but its check digits are wrong: it goes as text.`,
      );
  }
  if (written.length > 0)
    warnings.unshift(
      `Written in the letters of banks: ${written.slice(0, MOST_NAMED).join(", ")}${written.length > MOST_NAMED ? ` and ${written.length - MOST_NAMED} more` : ""}.`,
    );
  for (const currency of [...new Set(transfers.map((t) => t.currency))].sort()) {
    const why = bankHoliday(day, currency, from.holidays);
    if (why)
      warnings.push(
        `${dateText(day)} is ${why}: banks pay ${currency} on ${dateText(nextBankDay(day, currency, from.holidays))}.`,
      );
  }
  return { warnings, blocks };
}

/** A name as it would go if only the sign for “and” were written otherwise. */
const plain = (name: string): string => name.replace(/&/g, "+").replace(/\s+/g, " ").trim();
