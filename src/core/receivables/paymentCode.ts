import { decimalText, type Minor } from "../shared";

/** What a customer's bank reads from the square of an invoice. */
export interface PaymentCode {
  holder: string;
  iban: string;
  bic: string;
  /** In euros, minor units. */
  amount: Minor;
  /** A creditor reference (ISO 11649). */
  reference: string;
}

const MOST = 99_999_999_999n;

/**
 * The text of a square that a banking application scans to fill in a transfer: EPC 069-12, version
 * 002, UTF-8, with a structured reference. "" where it can't be: nothing to pay, or no IBAN.
 */
export function paymentCode(p: PaymentCode): string {
  if (p.iban === "" || p.amount <= 0n || p.amount > MOST) return "";
  return [
    "BCD",
    "002",
    "1",
    "SCT",
    p.bic,
    p.holder.slice(0, 70),
    p.iban.replace(/\s/g, ""),
    `EUR${decimalText(p.amount, "EUR")}`,
    "",
    p.reference,
  ].join("\n");
}
