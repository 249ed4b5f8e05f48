import type { FileRow, FileTable } from "../files";
import { dateText, minor, type CalendarDate, type Minor } from "../shared";
import { sumOfItems, type PositionItem } from "./reconciliation";

/** A reconciliation as its paper says it. */
export interface ReconciliationPaper {
  companyName: string;
  code: string;
  name: string;
  currency: string;
  account: string;
  date: CalendarDate;
  bank: { amount: Minor; date: CalendarDate; statement: string };
  ledger: Minor;
  notOnStatement: readonly PositionItem[];
  underWay: readonly PositionItem[];
  /** The last journal of the chain, and its hash. */
  head: { seq: bigint; hash: string };
  /** What was attached, each with its SHA-256 in hexadecimal figures. */
  papers: readonly { name: string; digest: string }[];
  by: string;
}

/**
 * The paper of a reconciliation: from the balance of the ledger over what only the ledger knows to
 * the balance of the bank, then what is under way. Amounts in the account's currency.
 */
export function reconciliationTable(of: ReconciliationPaper): FileTable {
  const money = (amount: Minor) => ({ amount, currency: of.currency });
  const total = (label: string, amount: Minor, double = false): FileRow => ({
    cells: [label, "", "", "", money(amount)],
    strong: true,
    double,
  });
  const note = (text: string): FileRow => ({ cells: [text, "", "", "", null] });
  const inTwo = (hash: string): FileRow[] => [note(hash.slice(0, 32)), note(hash.slice(32))];
  const listed = (items: readonly PositionItem[], sign: 1n | -1n): FileRow[] =>
    items.map((i) => ({
      cells: [i.label, i.number, dateText(i.date), String(i.age), money(minor(sign * i.amount))],
      indent: 1,
    }));
  return {
    name: `reconciliation-${of.code}-${of.date}`,
    title: `Bank reconciliation ${of.code}`,
    subtitle: `${of.companyName} · ${of.name} · ${dateText(of.date)} · ${of.currency} · closed by ${of.by}`,
    headers: ["", "Number", "Date", "Days", "Amount"],
    weights: [58, 17, 16, 9],
    rows: [
      total(`Balance of the ledger, account ${of.account}`, of.ledger),
      ...(of.notOnStatement.length === 0
        ? []
        : [
            total(
              "Less lines of the ledger on no statement",
              minor(-sumOfItems(of.notOnStatement)),
            ),
            ...listed(of.notOnStatement, -1n),
          ]),
      total(
        `Balance of the bank, statement ${of.bank.statement} of ${dateText(of.bank.date)}`,
        of.bank.amount,
        true,
      ),
      ...(of.underWay.length === 0
        ? []
        : [
            total("For information: money under way", sumOfItems(of.underWay)),
            ...listed(of.underWay, 1n),
          ]),
      ...(of.papers.length === 0 ? [] : [note("Attached")]),
      ...of.papers.flatMap((p) => [note(p.name), ...inTwo(p.digest)]),
      note(`Last journal of the chain: ${of.head.seq}`),
      ...inTwo(of.head.hash),
    ],
  };
}
