import type { Right } from "@/core/access";
import type { AreaCode } from "./areas";

export interface PageEntry {
  name: string;
  /** Other words by which somebody may look for it. */
  words: string;
  href: string;
  rights: readonly Right[];
  query?: Record<string, string>;
  keys?: string;
  /** The area on whose pages it is always in sight; a command is in none. */
  in?: AreaCode;
  /** Its name there, where the area says the rest. */
  tab?: string;
}

/** The area of an address: that of the page which it lies below, or of its own first word. */
export function areaOf(pathname: string): string {
  return pageOf(pathname)?.in ?? pathname.split("/")[1] ?? "";
}

/** The page of an area that an address is, or lies below. */
export const pageOf = (pathname: string): PageEntry | undefined =>
  PAGES.filter(
    (p) => p.in !== undefined && (pathname === p.href || pathname.startsWith(`${p.href}/`)),
  ).reduce<PageEntry | undefined>(
    (longest, p) => (longest && longest.href.length >= p.href.length ? longest : p),
    undefined,
  );

/**
 * Every page and command, in the order of the work within its area: what Find offers, and what is
 * in sight on the pages of an area.
 */
export const PAGES: readonly PageEntry[] = [
  { name: "Today", in: "today", words: "start desk", href: "/today", rights: [], keys: "g t" },
  {
    name: "Trial balance",
    in: "ledger",
    words: "balances accounts",
    href: "/ledger/trial-balance",
    rights: ["read.ledger", "read.branch"],
    keys: "g l",
  },
  {
    name: "Journals",
    in: "ledger",
    words: "list postings",
    href: "/ledger/journals",
    rights: ["read.ledger"],
  },
  {
    name: "New journal",
    words: "enter post",
    href: "/ledger/journals/new",
    rights: ["prepare.ledger"],
    keys: "n",
  },
  {
    name: "Drafts",
    words: "unposted journals",
    href: "/ledger/journals",
    query: { status: "draft" },
    rights: ["prepare.ledger"],
  },
  {
    name: "Batches",
    in: "ledger",
    words: "control total papers",
    href: "/ledger/batches",
    rights: ["read.ledger", "prepare.ledger"],
  },
  {
    name: "Recurring journals",
    in: "ledger",
    tab: "Recurring",
    words: "repeat every month standing template",
    href: "/ledger/recurring",
    rights: ["read.ledger", "prepare.ledger"],
  },
  {
    name: "Due reversals",
    in: "ledger",
    tab: "Reversals",
    words: "accruals reversing",
    href: "/ledger/reversals",
    rights: ["read.ledger"],
  },
  {
    name: "Load journals",
    in: "ledger",
    tab: "Load",
    words: "import spreadsheet csv xlsx paste",
    href: "/ledger/load",
    rights: ["prepare.ledger"],
  },
  {
    name: "Between companies",
    in: "ledger",
    tab: "Intercompany",
    words: "intercompany agreement due from due to",
    href: "/ledger/pairs",
    rights: ["read.ledger"],
  },
  {
    name: "Shortcuts and templates",
    in: "ledger",
    tab: "Shortcuts",
    words: "saved coding start from",
    href: "/ledger/shortcuts",
    rights: ["prepare.ledger"],
  },
  {
    name: "Payables",
    in: "payables",
    tab: "Ageing",
    words: "ageing owed open items suppliers",
    href: "/payables",
    rights: ["read.payables"],
    keys: "g p",
  },
  {
    name: "Invoices",
    in: "payables",
    words: "bills supplier purchase credit note",
    href: "/payables/invoices",
    rights: ["read.payables"],
  },
  {
    name: "New invoice",
    words: "enter bill credit note",
    href: "/payables/invoices/new",
    rights: ["prepare.payables"],
  },
  {
    name: "Orders",
    in: "payables",
    words: "purchase requests in force",
    href: "/payables/orders",
    rights: ["read.payables"],
  },
  {
    name: "New order",
    words: "purchase buy",
    href: "/payables/orders/new",
    rights: ["prepare.payables"],
  },
  {
    name: "New request",
    words: "purchase ask",
    href: "/payables/orders/new",
    query: { kind: "request" },
    rights: ["prepare.payables"],
  },
  {
    name: "Goods receipts",
    in: "payables",
    words: "goods received delivery",
    href: "/payables/goods-receipts",
    rights: ["read.payables"],
  },
  {
    name: "Received, not invoiced",
    in: "payables",
    tab: "GRNI",
    words: "grni leftovers clean-up accrual",
    href: "/payables/received",
    rights: ["read.payables"],
  },
  {
    name: "Payments",
    in: "payables",
    words: "register paid cheques transfers",
    href: "/payables/payments",
    rights: ["read.payables", "read.banks"],
  },
  {
    name: "Payment run",
    words: "payment runs pay what is due transfer cheque discount",
    href: "/payables/payments/run",
    rights: ["post.payables"],
  },
  {
    name: "Single payment",
    words: "manual pay refund without supplier",
    href: "/payables/payments/new",
    rights: ["post.payables"],
  },
  {
    name: "Cash needed",
    in: "payables",
    words: "weeks due forecast suppliers",
    href: "/payables/cash",
    rights: ["read.payables", "read.banks"],
  },
  {
    name: "Suppliers",
    in: "payables",
    words: "vendors partners bank accounts",
    href: "/payables/suppliers",
    rights: ["read.payables"],
  },
  {
    name: "Taxes",
    in: "payables",
    words: "vat input reverse charge return summary",
    href: "/payables/taxes",
    rights: ["read.payables"],
  },
  {
    name: "Discounts",
    in: "payables",
    words: "early payment had lost",
    href: "/payables/discounts",
    rights: ["read.payables"],
  },
  {
    name: "Recurring invoices",
    in: "payables",
    tab: "Recurring",
    words: "templates premium rent every month",
    href: "/payables/recurring",
    rights: ["read.payables"],
  },
  {
    name: "Mailbox",
    in: "payables",
    tab: "Remittances",
    words: "outbox sent remittance advice",
    href: "/payables/outbox",
    rights: ["read.payables"],
  },
  {
    name: "Clean-up rules",
    in: "payables",
    words: "leftovers write off grni",
    href: "/payables/rules",
    rights: ["read.payables"],
  },
  {
    name: "Purchase items",
    in: "payables",
    tab: "Items",
    words: "catalogue goods services",
    href: "/payables/items",
    rights: ["read.payables", "prepare.payables"],
  },
  {
    name: "Shares",
    in: "payables",
    words: "split cost centres per cent",
    href: "/payables/shares",
    rights: ["read.payables", "prepare.payables"],
  },
  {
    name: "Tolerances",
    in: "payables",
    words: "matching price quantity",
    href: "/payables/tolerances",
    rights: ["read.payables", "prepare.payables"],
  },
  {
    name: "Terms of payment",
    in: "payables",
    tab: "Terms",
    words: "due days discount instalments",
    href: "/payables/terms",
    rights: ["read.payables", "read.receivables"],
  },
  {
    name: "Receivables",
    in: "receivables",
    tab: "Ageing",
    words: "ageing due open items customers",
    href: "/receivables",
    rights: ["read.receivables"],
    keys: "g r",
  },
  {
    name: "Customers",
    in: "receivables",
    words: "partners",
    href: "/receivables/customers",
    rights: ["read.receivables"],
  },
  {
    name: "Income statement",
    in: "statements",
    words: "profit loss result",
    href: "/statements/income-statement",
    rights: ["read.statements"],
    keys: "g s",
  },
  {
    name: "Balance sheet",
    in: "statements",
    words: "assets liabilities equity position",
    href: "/statements/balance-sheet",
    rights: ["read.statements"],
  },
  {
    name: "Close board",
    in: "close",
    words: "checks closing period end",
    href: "/close",
    rights: ["read.close"],
    keys: "g c",
  },
  {
    name: "Runs",
    in: "close",
    words: "preview post reverse",
    href: "/close/runs",
    rights: ["read.close"],
  },
  {
    name: "Year end",
    in: "close",
    words: "retained earnings carry forward",
    href: "/close/year-end",
    rights: ["period.ledger"],
  },
  {
    name: "Sub-ledgers",
    in: "close",
    words: "reconciliation control accounts open items under way",
    href: "/close/sub-ledgers",
    rights: ["read.close", "read.ledger"],
  },
  {
    name: "Verify",
    in: "close",
    words: "hash chain balances check",
    href: "/close/verify",
    rights: ["read.history"],
  },
  { name: "Jobs", in: "close", words: "progress background long stop", href: "/jobs", rights: [] },
  {
    name: "Companies",
    in: "setup",
    words: "group",
    href: "/setup/companies",
    rights: ["read.setup", "setup.organisation"],
  },
  {
    name: "Years and periods",
    in: "setup",
    words: "open close calendar",
    href: "/setup/periods",
    rights: ["read.setup", "setup.organisation", "period.ledger", "read.close"],
  },
  {
    name: "Books",
    in: "setup",
    words: "accounting basis gaap ledgers",
    href: "/setup/books",
    rights: ["read.setup", "setup.organisation"],
  },
  {
    name: "Chart of accounts",
    in: "setup",
    words: "accounts headings",
    href: "/setup/accounts",
    rights: ["read.setup", "setup.organisation"],
  },
  {
    name: "Dimensions",
    in: "setup",
    words: "cost centre project values",
    href: "/setup/dimensions",
    rights: ["read.setup", "setup.organisation"],
  },
  {
    name: "Journal types",
    in: "setup",
    words: "naming reversing defaults",
    href: "/setup/types",
    rights: ["read.setup", "setup.rules", "setup.organisation"],
  },
  {
    name: "Approval",
    in: "setup",
    words: "rules four eyes limit",
    href: "/setup/approval",
    rights: ["read.setup", "setup.rules"],
  },
  {
    name: "Posting accounts",
    in: "setup",
    words: "rounding exchange gain loss purposes",
    href: "/setup/posting",
    rights: ["read.setup", "setup.rules", "setup.organisation"],
  },
  {
    name: "Outlines",
    in: "setup",
    words: "statement lines ranges layout",
    href: "/setup/outlines",
    rights: ["read.setup", "setup.rules"],
  },
  {
    name: "Rates",
    in: "setup",
    words: "exchange currency feed spot closing average",
    href: "/setup/rates",
    rights: ["read.ledger", "read.setup", "setup.rules"],
  },
  {
    name: "Tax codes",
    in: "setup",
    words: "vat rates",
    href: "/setup/taxes",
    rights: ["read.setup", "setup.rules", "read.payables"],
  },
  {
    name: "Bank accounts",
    in: "setup",
    words: "own iban cheque signature overdraft",
    href: "/setup/banks",
    rights: ["read.banks", "read.payables", "read.setup"],
  },
  {
    name: "Partners in trade",
    in: "setup",
    tab: "Intercompany",
    words: "intercompany pair due from due to",
    href: "/setup/pairs",
    rights: ["read.setup", "setup.rules", "setup.organisation"],
  },
  {
    name: "Rules of payables",
    in: "setup",
    tab: "Payables",
    words: "write off limit discount paying for another",
    href: "/setup/payables",
    rights: ["read.payables", "read.setup", "setup.rules"],
  },
  {
    name: "Opening balances",
    in: "setup",
    words: "import start take over",
    href: "/setup/opening",
    rights: ["period.ledger"],
  },
  {
    name: "People and rights",
    in: "setup",
    words: "users roles",
    href: "/setup/people",
    rights: ["read.setup", "setup.people"],
  },
  {
    name: "Backups",
    in: "setup",
    words: "copy of the books restore save",
    href: "/setup/backups",
    rights: ["setup.people"],
  },
  {
    name: "History",
    in: "setup",
    words: "audit who did what",
    href: "/setup/history",
    rights: ["read.history"],
  },
  {
    name: "My account",
    words:
      "password stand-in format of amounts and dates decimal comma sign in away holiday second factor authenticator",
    href: "/account",
    rights: [],
  },
];
