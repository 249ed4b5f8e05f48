/** The kinds of letter about a customer's account. */
export const ACCOUNT_LETTERS = ["reminder", "statement", "promise", "debit"] as const;
export type AccountLetter = (typeof ACCOUNT_LETTERS)[number];
