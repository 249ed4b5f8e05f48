import type { Right } from "@/core/access";

export interface PageEntry {
  name: string;
  /** Other words by which somebody may look for it. */
  words: string;
  href: string;
  rights: readonly Right[];
  query?: Record<string, string>;
  keys?: string;
}

/** Every page and command that Find offers. */
export const PAGES: readonly PageEntry[] = [
  { name: "Today", words: "start desk", href: "/today", rights: [], keys: "g t" },
  { name: "Journals", words: "list postings", href: "/ledger/journals", rights: ["read.ledger"] },
  { name: "New journal", words: "enter post", href: "/ledger/journals/new", rights: ["prepare.ledger"], keys: "n" },
  { name: "Load journals", words: "import spreadsheet csv xlsx paste", href: "/ledger/load", rights: ["prepare.ledger"] },
  { name: "Drafts", words: "unposted journals", href: "/ledger/journals", query: { status: "draft" }, rights: ["prepare.ledger"] },
  { name: "Shortcuts and templates", words: "saved coding start from", href: "/ledger/shortcuts", rights: ["prepare.ledger"] },
  { name: "Due reversals", words: "accruals reversing", href: "/ledger/reversals", rights: ["read.ledger"] },
  { name: "Recurring journals", words: "repeat every month standing template", href: "/ledger/recurring", rights: ["read.ledger", "prepare.ledger"] },
  { name: "Batches", words: "control total papers", href: "/ledger/batches", rights: ["read.ledger", "prepare.ledger"] },
  { name: "Payables", words: "ageing owed open items suppliers", href: "/payables", rights: ["read.payables"], keys: "g p" },
  { name: "Invoices", words: "bills supplier purchase credit note", href: "/payables/invoices", rights: ["read.payables"] },
  { name: "New invoice", words: "enter bill credit note", href: "/payables/invoices/new", rights: ["prepare.payables"] },
  { name: "Taxes on purchases", words: "vat input reverse charge return summary", href: "/payables/taxes", rights: ["read.payables"] },
  { name: "Tax codes", words: "vat rates", href: "/setup/taxes", rights: ["read.setup", "setup.rules", "read.payables"] },
  { name: "Orders", words: "purchase requests in force", href: "/payables/orders", rights: ["read.payables"] },
  { name: "New order", words: "purchase buy", href: "/payables/orders/new", rights: ["prepare.payables"] },
  { name: "New request", words: "purchase ask", href: "/payables/orders/new", query: { kind: "request" }, rights: ["prepare.payables"] },
  { name: "Receipts", words: "goods received delivery", href: "/payables/receipts", rights: ["read.payables"] },
  { name: "Received, not invoiced", words: "grni leftovers clean-up accrual", href: "/payables/received", rights: ["read.payables"] },
  { name: "Clean-up rules", words: "leftovers write off grni", href: "/payables/rules", rights: ["read.payables"] },
  { name: "Recurring invoices", words: "templates premium rent every month", href: "/payables/recurring", rights: ["read.payables"] },
  { name: "Purchase items", words: "catalogue goods services", href: "/payables/items", rights: ["read.payables", "prepare.payables"] },
  { name: "Shares", words: "split cost centres per cent", href: "/payables/shares", rights: ["read.payables", "prepare.payables"] },
  { name: "Tolerances", words: "matching price quantity", href: "/payables/tolerances", rights: ["read.payables", "prepare.payables"] },
  { name: "Payment run", words: "pay what is due transfer cheque discount", href: "/payables/payments/run", rights: ["post.payables"] },
  { name: "Payments", words: "register paid cheques transfers", href: "/payables/payments", rights: ["read.payables", "read.banks"] },
  { name: "Single payment", words: "manual pay refund without supplier", href: "/payables/payments/new", rights: ["post.payables"] },
  { name: "Cash needed", words: "weeks due forecast suppliers", href: "/payables/cash", rights: ["read.payables", "read.banks"] },
  { name: "Discounts", words: "early payment had lost", href: "/payables/discounts", rights: ["read.payables"] },
  { name: "Mailbox", words: "outbox sent remittance advice", href: "/payables/outbox", rights: ["read.payables"] },
  { name: "Suppliers", words: "vendors partners bank accounts", href: "/payables/suppliers", rights: ["read.payables"] },
  { name: "Terms of payment", words: "due days discount instalments", href: "/payables/terms", rights: ["read.payables", "read.receivables"] },
  { name: "Receivables", words: "ageing due open items customers", href: "/receivables", rights: ["read.receivables"], keys: "g r" },
  { name: "Customers", words: "partners", href: "/receivables/customers", rights: ["read.receivables"] },
  { name: "Trial balance", words: "balances accounts", href: "/ledger/trial-balance", rights: ["read.ledger", "read.branch"], keys: "g l" },
  { name: "Chart of accounts", words: "accounts headings", href: "/setup/accounts", rights: ["read.setup", "setup.organisation"] },
  { name: "Income statement", words: "profit loss result", href: "/statements/income-statement", rights: ["read.statements"], keys: "g s" },
  { name: "Balance sheet", words: "assets liabilities equity position", href: "/statements/balance-sheet", rights: ["read.statements"] },
  { name: "Close board", words: "checks closing period end", href: "/close", rights: ["read.close"], keys: "g c" },
  { name: "Runs", words: "preview post reverse", href: "/close/runs", rights: ["read.close"] },
  { name: "Year end", words: "retained earnings carry forward", href: "/close/year-end", rights: ["period.ledger"] },
  { name: "Verify", words: "hash chain balances check", href: "/close/verify", rights: ["read.history"] },
  { name: "Years and periods", words: "open close calendar", href: "/setup/periods", rights: ["read.setup", "setup.organisation", "period.ledger", "read.close"] },
  { name: "Dimensions", words: "cost centre project values", href: "/setup/dimensions", rights: ["read.setup", "setup.organisation"] },
  { name: "Journal types", words: "naming reversing defaults", href: "/setup/types", rights: ["read.setup", "setup.rules", "setup.organisation"] },
  { name: "Approval", words: "rules four eyes limit", href: "/setup/approval", rights: ["read.setup", "setup.rules"] },
  { name: "Rules of payables", words: "write off limit discount paying for another", href: "/setup/payables", rights: ["read.payables", "read.setup", "setup.rules"] },
  { name: "Bank accounts", words: "own iban cheque signature overdraft", href: "/setup/banks", rights: ["read.banks", "read.payables", "read.setup"] },
  { name: "Rates", words: "exchange currency feed spot closing average", href: "/setup/rates", rights: ["read.ledger", "read.setup", "setup.rules"] },
  { name: "Partners in trade", words: "intercompany pair due from due to", href: "/setup/pairs", rights: ["read.setup", "setup.rules", "setup.organisation"] },
  { name: "Posting accounts", words: "rounding exchange gain loss purposes", href: "/setup/posting", rights: ["read.setup", "setup.rules", "setup.organisation"] },
  { name: "Between companies", words: "intercompany agreement due from due to", href: "/ledger/pairs", rights: ["read.ledger"] },
  { name: "Outlines", words: "statement lines ranges layout", href: "/setup/outlines", rights: ["read.setup", "setup.rules"] },
  { name: "Companies", words: "group", href: "/setup/companies", rights: ["read.setup", "setup.organisation"] },
  { name: "Opening balances", words: "import start take over", href: "/setup/opening", rights: ["period.ledger"] },
  { name: "People and rights", words: "users roles", href: "/setup/people", rights: ["read.setup", "setup.people"] },
  { name: "History", words: "audit who did what", href: "/setup/history", rights: ["read.history"] },
  { name: "Password and stand-in", words: "account sign in away holiday", href: "/account", rights: [] },
];
