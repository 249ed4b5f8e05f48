import { decimalText } from "../../shared";
import { bankText } from "../bankText";
import type { BankStatement, StatementLine } from "./statement";

const yymmdd = (date: string): string => date.slice(2).replaceAll("-", "");
const size = (amount: bigint, currency: string): string => {
  const text = decimalText((amount < 0n ? -amount : amount) as never, currency).replace(".", ",");
  return text.includes(",") ? text : `${text},`;
};

/**
 * Statements of one bank in SWIFT's format MT940, field 86 with words between slashes, as the
 * simulated bank hands them out. Batches go without their details, as MT940 has none.
 */
export function writeMt940(message: string, of: readonly BankStatement[]): string {
  return (
    of
      .map((s) =>
        [...head(message, s), ...s.lines.flatMap((l) => line(l, s.currency)), tail(s)].join("\r\n"),
      )
      .join("\r\n-\r\n") + "\r\n-\r\n"
  );
}

const balance = (tag: string, b: BankStatement["opening"], currency: string): string =>
  `:${tag}:${b.amount < 0n ? "D" : "C"}${yymmdd(b.date)}${currency}${size(b.amount, currency)}`;

const head = (message: string, s: BankStatement): string[] => [
  `:20:${message.slice(0, 16)}`,
  `:25:${s.account}`,
  `:28C:${s.number}/1`,
  balance("60F", s.opening, s.currency),
];
const tail = (s: BankStatement): string => balance("62F", s.closing, s.currency);

/** The type of SWIFT for a code of ISO 20022; what has none is a transfer. */
function typeOf(l: StatementLine): string {
  if (l.keys.cheque) return "NCHK";
  if (/^[NFS][A-Z0-9]{3}/.test(l.code)) return l.code.slice(0, 4);
  if (/CHRG|COMM|FEES/.test(l.code)) return "NCHG";
  if (/INTR/.test(l.code)) return "NINT";
  if (/RRTN|RRCT|UPDD|RJCT/.test(l.code) || l.returnReason) return "NRTI";
  return "NTRF";
}

function line(l: StatementLine, currency: string): string[] {
  const isIn = l.amount >= 0n;
  const letter = l.takesBack ? (isIn ? "RD" : "RC") : isIn ? "C" : "D";
  const own = (l.keys.cheque || l.keys.endToEnd || "NONREF").slice(0, 16);
  const bank = l.keys.bank ? `//${l.keys.bank.slice(0, 16)}` : "";
  const words = [
    ["RTRN", l.returnReason],
    ["EREF", l.keys.endToEnd],
    ["MARF", l.keys.mandate],
    ["IBAN", l.party.account],
    ["BIC", l.party.bic],
    ["NAME", bankText(l.party.name, 70)],
    ["CDTRREF", l.keys.creditorReference],
    ["REMI", bankText(l.text, 240).replaceAll("/", " ")],
  ]
    .filter(([, value]) => value)
    .map(([word, value]) => `/${word}/${value}`)
    .join("");
  return [
    `:61:${yymmdd(l.valued)}${l.booked.slice(5).replace("-", "")}${letter}${size(l.amount, currency)}${typeOf(l)}${own}${bank}`,
    ...(words ? [`:86:${words.match(/.{1,65}/g)!.join("\r\n")}`] : []),
  ];
}
