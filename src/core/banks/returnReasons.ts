/** What reasons of ISO 20022 (external return and reject reasons) say, as far as banks use them daily. */
const RETURN_REASONS: Readonly<Record<string, string>> = {
  AC01: "the account number is not right",
  AC03: "the creditor's account number is not right",
  AC04: "the account is closed",
  AC06: "the account is blocked",
  AC13: "the debtor's account is of a wrong type",
  AG01: "such payments are not allowed on the account",
  AG02: "the bank's operation code is not right",
  AM01: "the amount is nil",
  AM02: "the amount is not allowed",
  AM04: "there was not enough money",
  AM05: "it came twice",
  BE01: "name and account do not belong together",
  BE04: "the creditor's address is missing",
  BE05: "who started it is not known",
  CNOR: "the creditor's bank is not registered",
  CUST: "the customer asked for it",
  DUPL: "it came twice",
  FOCR: "it was called back",
  MD01: "there is no mandate",
  MD06: "the debtor wants the money back",
  MD07: "the account holder has died",
  MS02: "the customer gives no reason",
  MS03: "the bank gives no reason",
  NARR: "see what the bank says",
  RC01: "the bank code is not right",
  RR04: "a rule of the authorities",
  SL01: "a rule of the account holder",
  SVNR: "the cheque was not paid",
  TM01: "it came after the bank's hour",
};

/** A reason code with its words: “AC04, the account is closed”. */
export function returnWords(code: string): string {
  const plain = code.trim().toUpperCase();
  if (plain === "") return "without a reason";
  const words = RETURN_REASONS[plain];
  return words ? `${plain}, ${words}` : plain;
}

/** Whether a movement takes an earlier one back, by what the bank says of it. */
export const isReturn = (of: { takesBack: boolean; returnReason: string; code: string }): boolean =>
  of.takesBack || of.returnReason !== "" || /\b(RRTN|RPCR|UPCQ|UPCT|UPDD)\b/.test(of.code);
