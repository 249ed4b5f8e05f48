import { isCalendarDate, minor, type Minor } from "../../shared";
import { checkStatement } from "./checkStatement";
import { exactUnits } from "./exactUnits";
import { given, plainAccount } from "./plainAccount";
import { readInformation } from "./information";
import {
  MOST_FAULTS,
  MOST_LINES,
  type BankStatement,
  type ReadStatements,
  type StatementFault,
  type StatementLine,
} from "./statement";

/** A field of the message: its tag, its text, and the lines of the file on which it stands. */
interface Field {
  tag: string;
  text: string;
  from: number;
  to: number;
}

/**
 * Reads customer statements in SWIFT's format MT940, any number in a file: with or without the
 * envelope of blocks, with any ends of lines. Pages of one statement (intermediate balances 60M and
 * 62M) are put together. Every statement has to hold together (`checkStatement`), or the file is
 * refused with what is wrong and where. Time grows with the size of the file and no faster.
 */
export function readMt940(text: string): ReadStatements {
  const faults: StatementFault[] = [];
  const pages: Page[] = [];
  let page: Page | null = null;
  let lines = 0;
  for (const field of fieldsOf(text, faults)) {
    if (faults.length >= MOST_FAULTS) break;
    const fault = (what: string) => faults.push({ line: field.from, what });
    if (field.tag === "20") {
      if (page && !page.closing) fault("A statement begins before the one above it is closed");
      page = newPage(field);
      pages.push(page);
      continue;
    }
    if (!page) {
      fault(`Field :${field.tag}: stands before a statement begins (:20:)`);
      continue;
    }
    if (field.tag === "61" && ++lines > MOST_LINES) {
      fault(`The file has more than ${MOST_LINES} lines; split it`);
      break;
    }
    readField(page, field, fault);
  }
  if (faults.length === 0 && pages.length === 0)
    faults.push({ line: 1, what: "There is no statement in the file" });
  if (page && faults.length === 0 && !page.closing)
    faults.push({
      line: page.from,
      what: `The file ends before statement ${page.number} has its closing balance (:62F:)`,
    });
  if (faults.length > 0) return { faults: faults.slice(0, MOST_FAULTS) };
  const statements = putTogether(pages, faults);
  for (const s of statements) faults.push(...checkStatement(s));
  return faults.length > 0 ? { faults: faults.slice(0, MOST_FAULTS) } : { statements, notices: [] };
}

interface Page {
  message: string;
  account: string;
  number: string;
  sequence: string;
  currency: string;
  opening: BankStatement["opening"] | null;
  closing: BankStatement["closing"] | null;
  intermediate: { opening: boolean; closing: boolean };
  lines: StatementLine[];
  from: number;
}

const newPage = (field: Field): Page => ({
  message: field.text.trim().slice(0, 35),
  account: "",
  number: "",
  sequence: "",
  currency: "",
  opening: null,
  closing: null,
  intermediate: { opening: false, closing: false },
  lines: [],
  from: field.from,
});

/** Fields that banks add and that say nothing that a ledger needs. */
const PASSED = new Set(["21", "13", "13D", "34F", "64", "65", "90C", "90D", "NS"]);

function readField(page: Page, field: Field, fault: (what: string) => void): void {
  switch (field.tag) {
    case "25":
    case "25P":
      page.account = plainAccount(field.text.split("\n")[0]!);
      return;
    case "28":
    case "28C": {
      const [number, sequence] = field.text.trim().split("/");
      page.number = number ?? "";
      page.sequence = sequence ?? "";
      return;
    }
    case "60F":
    case "60M": {
      if (page.opening) return void fault("A second opening balance");
      const balance = readBalance(field.text);
      if (!balance) return void fault(`“${field.text.trim()}” is no balance`);
      page.currency = balance.currency;
      page.opening = balance;
      page.intermediate.opening = field.tag === "60M";
      return;
    }
    case "62F":
    case "62M": {
      const balance = readBalance(field.text);
      if (!balance) return void fault(`“${field.text.trim()}” is no balance`);
      if (!page.opening) return void fault("A closing balance without an opening balance");
      if (page.closing) return void fault("A second closing balance");
      if (balance.currency !== page.currency)
        return void fault(`It opens in ${page.currency} and closes in ${balance.currency}`);
      page.closing = balance;
      page.intermediate.closing = field.tag === "62M";
      return;
    }
    case "61": {
      if (!page.opening) return void fault("A line before the opening balance");
      if (page.closing) return void fault("A line behind the closing balance");
      const line = readLine(field, page.currency);
      if (typeof line === "string") return void fault(line);
      page.lines.push(line);
      return;
    }
    case "86": {
      // Behind the closing balance it says something of the statement as a whole.
      const last = page.lines.at(-1);
      if (page.closing || !last) return;
      page.lines[page.lines.length - 1] = { ...last, ...readInformation(field.text, last) };
      page.lines.at(-1)!.to = field.to;
      return;
    }
    default:
      if (!PASSED.has(field.tag)) fault(`Field :${field.tag}: is not known in a statement`);
  }
}

const day = (yymmdd: string): string | null => {
  const year = Number(yymmdd.slice(0, 2));
  const date = `${year >= 80 ? 19 : 20}${yymmdd.slice(0, 2)}-${yymmdd.slice(2, 4)}-${yymmdd.slice(4, 6)}`;
  return isCalendarDate(date) ? date : null;
};

/** C261103EUR1234,5 */
function readBalance(text: string): { amount: Minor; date: string; currency: string } | null {
  const parts = /^([CD])(\d{6})([A-Z]{3})(\d{1,14},\d{0,3})$/.exec(text.trim());
  if (!parts) return null;
  const date = day(parts[2]!);
  const amount = exactUnits(parts[4]!, parts[3]!);
  if (date === null || amount === null) return null;
  return {
    amount: parts[1] === "D" ? minor(-amount) : amount,
    date,
    currency: parts[3]!,
  };
}

/** Value day, booking day, side, amount, type, references (SWIFT Standards MT, field 61). */
const LINE =
  /^(\d{6})(\d{4})?(R?[CD])([A-Z])?(\d{1,14},\d{0,3})([A-Z])([A-Z0-9]{3})([^\n]{0,40})(?:\n([^\n]{0,80}))?/;

function readLine(field: Field, currency: string): StatementLine | string {
  const parts = LINE.exec(field.text);
  if (!parts) return `“${field.text.split("\n")[0]!.slice(0, 60)}” is no line of a statement`;
  const valued = day(parts[1]!);
  if (!valued) return `There is no day ${parts[1]}`;
  const booked = parts[2] ? nearest(parts[2], valued) : valued;
  if (!booked) return `There is no day ${parts[2]}`;
  const size = exactUnits(parts[5]!, currency);
  if (size === null) return `“${parts[5]}” is no amount in ${currency}`;
  const side = parts[3]!;
  // What takes a credit back is a debit.
  const isIn = side === "C" || side === "RD";
  const [own = "", bank = ""] = parts[8]!.split("//");
  const type = `${parts[6]}${parts[7]}`;
  return {
    booked,
    valued,
    amount: isIn ? size : minor(-size),
    takesBack: side.startsWith("R"),
    code: type,
    party: { name: "", account: "", bic: "" },
    keys: {
      endToEnd: type === "NCHK" ? "" : given(own),
      creditorReference: "",
      mandate: "",
      cheque: type === "NCHK" ? given(own) : "",
      bank: given(bank),
    },
    text: (parts[9] ?? "").trim(),
    returnReason: "",
    details: [],
    from: field.from,
    to: field.to,
  };
}

/** A day without its year, in the year that brings it nearest to another day. */
function nearest(mmdd: string, to: string): string | null {
  const year = Number(to.slice(0, 4));
  const days = [year - 1, year, year + 1]
    .map((y) => `${y}-${mmdd.slice(0, 2)}-${mmdd.slice(2)}`)
    .filter(isCalendarDate)
    .map((date) => ({ date, far: Math.abs(Date.parse(date) - Date.parse(to)) }));
  days.sort((a, b) => a.far - b.far);
  return days[0]?.date ?? null;
}

/** The most that a field may have: banks write six lines of 65 letters. */
const LONGEST_FIELD = 8_000;

/** The fields of a file: what stands between the tags, whatever ends its lines. */
function* fieldsOf(text: string, faults: StatementFault[]): Generator<Field> {
  let field: Field | null = null;
  let number = 0;
  for (const raw of linesOf(text)) {
    number++;
    const line = withoutEnvelope(raw);
    const tag = /^:(\d{2}[A-Z]?|NS):/.exec(line);
    if (tag) {
      if (field) yield field;
      field = { tag: tag[1]!, text: line.slice(tag[0].length), from: number, to: number };
    } else if (/^(-(\}.*)?|\x03)$/.test(line.trim())) {
      if (field) yield field;
      field = null;
    } else if (line.trim() === "") continue;
    else if (!field) {
      faults.push({ line: number, what: `“${line.slice(0, 40)}” stands outside of any statement` });
      return;
    } else if (field.text.length + line.length > LONGEST_FIELD) {
      faults.push({ line: number, what: `Field :${field.tag}: is too long for a statement` });
      return;
    } else {
      field.text += `\n${line}`;
      field.to = number;
    }
  }
  if (field) yield field;
}

/** Lines, whatever ends them. */
function* linesOf(text: string): Generator<string> {
  const end = /\r\n|\n|\r/g;
  let from = 0;
  for (let found = end.exec(text); found; found = end.exec(text)) {
    yield text.slice(from, found.index);
    from = end.lastIndex;
  }
  if (from < text.length) yield text.slice(from);
}

/** Without the blocks around a message: {1:…}{2:…}{4: before it. */
function withoutEnvelope(line: string): string {
  if (!line.startsWith("{")) return line.replace(/^\x01/, "");
  const body = line.indexOf("{4:");
  return body >= 0 ? line.slice(body + 3) : "";
}

/** Puts the pages of each statement together. */
function putTogether(pages: readonly Page[], faults: StatementFault[]): BankStatement[] {
  const statements: BankStatement[] = [];
  let open: (BankStatement & { lines: StatementLine[] }) | null = null;
  for (const p of pages) {
    const { opening, closing } = p as { opening: BankStatement["opening"] } & {
      closing: BankStatement["closing"];
    };
    if (p.intermediate.opening && !open) {
      faults.push({
        line: p.from,
        what: `Page ${p.sequence || "?"} of statement ${p.number} goes on with one that is not in the file`,
      });
      continue;
    }
    if (!p.intermediate.opening && open) {
      faults.push({ line: p.from, what: `Statement ${open.number} has no last page (:62F:)` });
      open = null;
    }
    if (open) {
      if (open.account !== p.account || open.currency !== p.currency)
        faults.push({ line: p.from, what: `Page ${p.sequence} is of another account` });
      if (open.closing.amount !== opening.amount)
        faults.push({
          line: p.from,
          what: `Page ${p.sequence || "?"} of statement ${p.number} does not open with what the page before closed with`,
        });
      open.lines.push(...p.lines);
      open.closing = plain(closing);
    } else
      open = {
        account: p.account,
        currency: p.currency,
        number: p.number,
        message: p.message,
        opening: plain(opening),
        closing: plain(closing),
        lines: p.lines,
        from: p.from,
      };
    if (!p.intermediate.closing) {
      if (open.account === "") faults.push({ line: p.from, what: "The account (:25:) is missing" });
      statements.push(open);
      open = null;
    }
  }
  if (open)
    faults.push({ line: open.from, what: `Statement ${open.number} has no last page (:62F:)` });
  return statements;
}

const plain = ({ amount, date }: BankStatement["opening"]): BankStatement["opening"] => ({
  amount,
  date,
});
