import type { JournalDraft } from "../ledger";
import type { Conversion } from "../rates";
import type { CalendarDate, Minor } from "../shared";
import { PAID, RECEIVED, type Money, type MoneyAccounts } from "./money";
import { moneyJournal } from "./moneyJournal";

/** One of the two bank accounts of a transfer, with the company that it is of. */
export interface TransferEnd {
  code: string;
  company: string;
  companyName: string;
  underWay: string;
  /** The accounts of its company on which money moves, but for that of money under way. */
  accounts: Omit<MoneyAccounts, "underWay">;
  /** From the money's currency into its company's. */
  rate: Conversion;
}

/** Money that is moved between two accounts of our own, in their one currency. */
export interface OwnTransferOrder {
  from: TransferEnd;
  to: TransferEnd;
  currency: string;
  /** Positive, minor units of the currency. */
  amount: Minor;
  date: CalendarDate;
  text: string;
  /** Where they are of two companies: what the sending one has to get, what the other owes. */
  facing: { dueFrom: string; dueTo: string } | null;
}

/**
 * The journals of a transfer between accounts of our own: money under way from the one is money under
 * way to the other, until each bank has booked its side. Between two companies the sending one has to
 * get it from the other, which owes it: one journal each, in that order.
 * Both journals are of the same amount in the currency of the money.
 */
export function transferJournals(t: OwnTransferOrder): JournalDraft[] {
  const reference = `${t.from.code} to ${t.to.code}`;
  const money = (end: TransferEnd, other: TransferEnd): Money => ({
    partner: "",
    payee: end.company === other.company ? other.code : other.companyName,
    method: "transfer",
    currency: t.currency,
    rate: end.rate,
    amount: t.amount,
    discount: 0n as Minor,
    items: [],
  });
  const head = {
    type: "bank",
    description: (t.text || `Transfer ${reference}`).slice(0, 200),
    reference: reference.slice(0, 60),
  };
  const sending = (line: Parameters<typeof moneyJournal>[5]): JournalDraft => ({
    ...moneyJournal(
      money(t.from, t.to),
      t.date,
      [],
      { ...t.from.accounts, underWay: t.from.underWay },
      PAID,
      line,
    ),
    ...head,
  });
  if (!t.facing)
    return [
      sending([
        {
          line: {
            account: t.to.underWay,
            dimensions: {},
            description: `Transfer ${reference}`,
            dueDate: t.date,
            item: { kind: "receipt", reference },
          },
          amount: t.amount,
        },
      ]),
    ];
  const due = (account: string, counterparty: string) => [
    {
      line: { account, dimensions: {}, description: `Transfer ${reference}`, counterparty },
      amount: t.amount,
    },
  ];
  return [
    sending(due(t.facing.dueFrom, t.to.company)),
    {
      ...moneyJournal(
        money(t.to, t.from),
        t.date,
        [],
        { ...t.to.accounts, underWay: t.to.underWay },
        RECEIVED,
        due(t.facing.dueTo, t.from.company),
      ),
      ...head,
    },
  ];
}
