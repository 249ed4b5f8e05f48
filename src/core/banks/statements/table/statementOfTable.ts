import {
  addDays,
  amountText,
  dateText,
  minor,
  readDateIn,
  readTableFigure,
  type CalendarDate,
  type Minor,
} from "../../../shared";
import { checkStatement } from "../checkStatement";
import { given, plainAccount } from "../plainAccount";
import {
  MOST_FAULTS,
  NO_KEYS,
  type BankStatement,
  type StatementFault,
  type StatementLine,
} from "../statement";
import { sideOf } from "./sideOf";
import type { TableField } from "./tableFields";
import { headingsAt, readingFaults, type TableReading } from "./tableReading";

/** What is known of the account whose movements a table lists. */
export interface TableFacts {
  /** As it stands on its statements: IBAN, or bank code and number. */
  account: string;
  currency: string;
  /** The statement before; null where the table is the first. */
  last: { date: CalendarDate; closing: Minor } | null;
  /** Numbers that its statements have already. */
  taken: ReadonlySet<string>;
  /** What it held before, typed by a person, where neither a balance nor a statement says so. */
  opening: Minor | null;
}

export type StatementOfTable =
  | {
      statement: BankStatement;
      /** Movements that the statements before have already. */
      known: number;
    }
  | { faults: readonly StatementFault[] };

interface Row extends StatementLine {
  /** What the bank says that the account holds after it; null where it does not say. */
  balance: Minor | null;
}

type Table = readonly (readonly string[])[];

/**
 * The statement that a bank's table of movements is, read as a person has said. Where it has
 * balances, each row has to lead to its own, and rows that the statements before have are left
 * aside: it goes on where they ended. Without balances it opens where they closed, and has to begin
 * behind them. Newest first or last are both taken; figures, days and marks are read strictly.
 */
export function statementOfTable(
  cells: Table,
  reading: TableReading,
  facts: TableFacts,
): StatementOfTable {
  const [unclear] = readingFaults(reading);
  if (unclear) return { faults: [{ line: 1, what: unclear }] };
  const read = rowsOfTable(cells, reading, facts.currency);
  if ("faults" in read) return read;
  const own = cellsOf(cells, reading, "own").find((c) => plainAccount(c.text) !== facts.account);
  if (own)
    return { faults: [{ line: own.line, what: `The row is of another account, ${own.text}` }] };
  if (read.rows.length === 0) return { faults: [{ line: 1, what: "There is no movement in it" }] };
  const rows = oldestFirst(read.rows);
  const faults = balanceFaults(rows, facts.currency);
  if (faults.length > 0) return { faults: faults.slice(0, MOST_FAULTS) };
  const begin = beginOf(rows, facts);
  if ("faults" in begin) return begin;
  const statement = toStatement(rows.slice(begin.known), begin.opening, facts);
  const wrong = checkStatement(statement);
  return wrong.length > 0 ? { faults: wrong } : { statement, known: begin.known };
}

/** The account of ours that a table names in its rows; "" where it names none. */
export const ownAccountOf = (cells: Table, reading: TableReading): string =>
  plainAccount(cellsOf(cells, reading, "own")[0]?.text ?? "");

function cellsOf(cells: Table, reading: TableReading, field: TableField) {
  const [at, column] = [headingsAt(cells, reading), reading.columns.indexOf(field)];
  if (at < 0 || column < 0) return [];
  return cells.slice(at + 1).flatMap((row, i) => {
    const text = row[column]?.trim() ?? "";
    return text === "" ? [] : [{ text, line: at + 2 + i }];
  });
}

/**
 * The movements of a table as they stand in it; rows without a day and an amount, and movements of
 * nothing, are left out.
 */
export function rowsOfTable(
  cells: Table,
  reading: TableReading,
  currency: string,
): { rows: Row[] } | { faults: readonly StatementFault[] } {
  const at = headingsAt(cells, reading);
  if (at < 0) return { faults: [{ line: 1, what: "The headings are not those of this reading" }] };
  const faults: StatementFault[] = [];
  const rows: Row[] = [];
  for (let i = at + 1; i < cells.length && faults.length < MOST_FAULTS; i++) {
    const row = readRow(cells[i]!, i + 1, reading, currency, (what) =>
      faults.push({ line: i + 1, what }),
    );
    if (row) rows.push(row);
  }
  return faults.length > 0 ? { faults } : { rows };
}

function readRow(
  cells: readonly string[],
  line: number,
  { columns, format, order, turned }: TableReading,
  currency: string,
  fault: (what: string) => void,
): Row | null {
  const all = (field: TableField) =>
    columns.flatMap((f, i) => (f === field ? cells[i]?.trim() || [] : []));
  const text = (field: TableField) => all(field)[0] ?? "";
  const figure = (field: TableField): Minor | null | undefined => {
    const cell = text(field);
    if (cell === "") return null;
    const read = readTableFigure(cell, currency, format);
    if (read.ok) return read.amount;
    fault(`“${cell.slice(0, 40)}” is no amount in ${currency}, as figures are written here`);
    return undefined;
  };
  const isMovement = (["booked", "amount", "in", "out"] as const).some((f) => text(f) !== "");
  if (!isMovement) return null;
  const booked = readDateIn(text("booked"), order);
  if (booked === null) return refused(fault, `“${text("booked").slice(0, 40)}” is no booking date`);
  const valued = text("valued") === "" ? booked : readDateIn(text("valued"), order);
  if (valued === null) return refused(fault, `“${text("valued").slice(0, 40)}” is no value date`);
  const said = text("currency").toUpperCase();
  if (said !== "" && said !== currency)
    return refused(fault, `A movement in ${said}; the account is kept in ${currency}`);
  const [amount, into, out, balance] = (["amount", "in", "out", "balance"] as const).map(figure);
  if ([amount, into, out, balance].includes(undefined)) return null;
  const whole = signed({ amount, into, out, mark: text("side"), turned }, fault);
  if (whole === null || whole === 0n) return null;
  return {
    booked,
    valued,
    amount: whole,
    takesBack: false,
    code: text("kind"),
    party: { name: text("party"), account: plainAccount(text("partyAccount")), bic: "" },
    keys: {
      ...NO_KEYS,
      endToEnd: given(text("endToEnd")),
      cheque: text("cheque"),
      bank: given(text("bankReference")),
    },
    text: all("text").join(" "),
    returnReason: "",
    details: [],
    from: line,
    to: line,
    balance: balance ?? null,
  };
}

const refused = (fault: (what: string) => void, what: string): null => {
  fault(what);
  return null;
};

/** What moved, positive for money in; nil for nothing; null, with what is wrong, where it is not clear. */
function signed(
  of: {
    amount?: Minor | null;
    into?: Minor | null;
    out?: Minor | null;
    mark: string;
    turned: boolean;
  },
  fault: (what: string) => void,
): Minor | null {
  const { amount, into, out, mark, turned } = of;
  if (amount === null || amount === undefined) {
    if (into && out) return refused(fault, "Money in and money out in one row");
    // Some banks write what went out with a minus in its own column.
    return into ? into : minor(out ? (out < 0n ? out : -out) : 0n);
  }
  if (mark === "") return turned ? minor(-amount) : amount;
  const side = sideOf(mark);
  if (side === null) return refused(fault, `“${mark.slice(0, 20)}” is no mark of in or out`);
  if (amount < 0n) return refused(fault, "A mark of in or out, and a minus beside it");
  return side === "in" ? amount : minor(-amount);
}

/** Tables stand oldest or newest first; of one day only the balances tell. */
function oldestFirst(rows: readonly Row[]): readonly Row[] {
  const [first, last] = [rows[0]!, rows.at(-1)!];
  const isUp =
    first.booked === last.booked
      ? leads(rows) || !leads(rows.toReversed())
      : first.booked < last.booked;
  return isUp ? rows : rows.toReversed();
}

const leads = (rows: readonly Row[]): boolean => balanceFaults(rows, "EUR").length === 0;

function balanceFaults(rows: readonly Row[], currency: string): StatementFault[] {
  const text = (a: bigint) => amountText(minor(a), currency);
  return rows.flatMap((row, i) => {
    const before = rows[i - 1];
    if (before && before.booked > row.booked)
      return [{ line: row.from, what: `It is of ${dateText(row.booked)}, out of order` }];
    if (!before || before.balance === null || row.balance === null) return [];
    const wanted = before.balance + row.amount;
    return wanted === row.balance
      ? []
      : [
          {
            line: row.from,
            what: `${text(before.balance)} and ${text(row.amount)} come to ${text(wanted)}; the balance beside it is ${text(row.balance)}`,
          },
        ];
  });
}

/** How many of the rows are known already, and what the account held before the others. */
function beginOf(
  rows: readonly Row[],
  { last, opening }: TableFacts,
):
  { known: number; opening: { amount: Minor; date: CalendarDate } } | { faults: StatementFault[] } {
  const refuse = (what: string) => ({ faults: [{ line: rows[0]!.from, what }] });
  const first = rows[0]!;
  const before = addDays(first.booked, -1);
  const goesBack = last !== null && first.booked <= last.date;
  if (rows.some((r) => r.balance === null)) {
    if (goesBack)
      return refuse(
        `It goes back to ${dateText(first.booked)}; there are statements up to ${dateText(last.date)}. Without balances it has to begin behind them`,
      );
    const amount = last ? last.closing : opening;
    if (amount === null)
      return refuse("It has no balances, and no statement before it: type the opening balance");
    return { known: 0, opening: { amount, date: last ? last.date : before } };
  }
  if (!goesBack)
    return {
      known: 0,
      opening: {
        amount: minor(first.balance! - first.amount),
        date: last && last.date < before ? before : (last?.date ?? before),
      },
    };
  // Where the statement before ended: behind it stands nothing of an earlier day.
  const places = rows.flatMap((r, i) => {
    const behind = rows[i + 1];
    const isEnd = r.balance === last.closing && r.booked <= last.date;
    return isEnd && (!behind || behind.booked >= last.date) ? [i + 1] : [];
  });
  const opens = minor(first.balance! - first.amount) === last.closing;
  if (opens && first.booked === last.date) places.unshift(0);
  const [known] = places;
  const day = dateText(last.date);
  if (known === undefined)
    return refuse(
      `It goes back to ${dateText(first.booked)}, and none of its balances is what the statement of ${day} closed with`,
    );
  if (places.length > 1)
    return refuse(
      `More than one of its balances is what the statement of ${day} closed with: take a table that begins behind that day`,
    );
  if (known === rows.length)
    return refuse("All of its movements are on statements that are there already");
  return { known, opening: { amount: last.closing, date: last.date } };
}

function toStatement(
  rows: readonly Row[],
  opening: { amount: Minor; date: CalendarDate },
  { account, currency, taken }: TableFacts,
): BankStatement {
  const closing = {
    amount: minor(rows.reduce((t: bigint, r) => t + r.amount, opening.amount)),
    date: rows.at(-1)!.booked,
  };
  let number = closing.date;
  for (let i = 2; taken.has(number); i++) number = `${closing.date}/${i}`;
  return {
    account,
    currency,
    number,
    message: "",
    opening,
    closing,
    lines: rows.map(({ balance: _balance, ...l }) => l),
    from: rows[0]!.from,
  };
}
