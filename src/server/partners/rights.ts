export const READ = ["read.payables", "read.receivables", "read.banks", "prepare.ledger"] as const;
export const WRITE = ["prepare.payables", "prepare.receivables"] as const;
/** Whoever answers for payments says where they go. */
export const CONFIRM = ["post.payables", "post.banks"] as const;
