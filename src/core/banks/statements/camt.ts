import { isCalendarDate, isCurrency, minor, type Minor } from "../../shared";
import { checkStatement, partFaults } from "./checkStatement";
import { exactUnits } from "./exactUnits";
import { given, plainAccount } from "./plainAccount";
import { at, all, elementsOf, textAt, type Element, type Watched } from "./xmlParts";
import {
  MOST_FAULTS,
  MOST_LINES,
  NO_KEYS,
  NO_PARTY,
  type BankNotice,
  type BankStatement,
  type ReadStatements,
  type StatementDetail,
  type StatementFault,
  type StatementKeys,
  type StatementLine,
  type StatementParty,
} from "./statement";

/** What a bank sends of an account in ISO 20022: each with the element that holds one of them. */
const KINDS = { "053": "Stmt", "052": "Rpt", "054": "Ntfctn" } as const;

/**
 * Reads account statements in ISO 20022 camt.053, and camt.052 and 054 for the parts of batches that
 * they name, versions 02 to 13, any number in a file. Amounts, currencies and days are taken
 * strictly; every statement has to hold together (`checkStatement`), or the file is refused with
 * what is wrong and where. Entries that are only pending or for
 * information are left out. Entities are not known, document types are refused; time grows with the
 * size of the file and no faster.
 */
export function readCamt(xml: string): ReadStatements {
  const faults: StatementFault[] = [];
  const statements: BankStatement[] = [];
  const notices: BankNotice[] = [];
  let kind: keyof typeof KINDS = "053";
  let lines = 0;
  let open: Opened | null = null;
  const message = { id: "" };
  const watched: Watched = {
    root: (name, namespace, line) => {
      const [, of, version] = /camt\.(05[234])\.001\.(\d\d)$/.exec(namespace) ?? [];
      if (name === "Document" && version && Number(version) >= 2 && Number(version) <= 13) {
        kind = of as keyof typeof KINDS;
        return;
      }
      const other = /[a-z]{4}\.\d{3}\.\d{3}\.\d\d$/.exec(namespace)?.[0];
      faults.push({
        line,
        what: other
          ? `The file is a ${other}; account statements come as camt.053.001.02 to 13`
          : "The file is no account statement (camt.053)",
      });
    },
    opens: (name, line) => {
      if (name === KINDS[kind]) open = { ...EMPTY, lines: [], balances: [], from: line };
    },
    whole: (element) => {
      if (element.name === "GrpHdr") message.id = textAt(element, "MsgId");
      if (!open) return;
      if (element.name === "Id") open.id = element.text.trim();
      if (element.name === "ElctrncSeqNb") open.sequence = element.text.trim();
      if (element.name === "LglSeqNb") open.legal = element.text.trim();
      if (element.name === "Acct") openAccount(open, element);
      if (element.name === "Bal") open.balances.push(element);
      if (element.name === "Ntry") {
        if (++lines > MOST_LINES)
          faults.push({
            line: element.from,
            what: `The file has more than ${MOST_LINES} lines; split it`,
          });
        const line = readEntry(element, open, faults);
        if (line) open.lines.push(line);
      }
    },
    closes: (name) => {
      if (name !== KINDS[kind] || !open) return;
      if (kind === "053") {
        const statement = toStatement(open, message.id, faults);
        if (statement) statements.push(statement);
      } else notices.push(toNotice(open, faults));
      open = null;
    },
    stop: () => faults.length >= MOST_FAULTS,
  };
  const broken = elementsOf(xml, watched);
  if (broken && faults.length === 0) faults.push(broken);
  if (faults.length === 0 && statements.length + notices.length === 0)
    faults.push({ line: 1, what: "There is no statement in the file" });
  if (faults.length === 0) {
    for (const s of statements) faults.push(...checkStatement(s));
    for (const n of notices) faults.push(...n.lines.flatMap((l) => partFaults(l, n.currency)));
  }
  return faults.length > 0 ? { faults: faults.slice(0, MOST_FAULTS) } : { statements, notices };
}

/** A statement of which not all has been read. */
interface Opened {
  id: string;
  sequence: string;
  legal: string;
  account: string;
  currency: string;
  balances: Element[];
  lines: StatementLine[];
  from: number;
}
const EMPTY = { id: "", sequence: "", legal: "", account: "", currency: "" };

function openAccount(open: Opened, element: Element): void {
  open.account = plainAccount(textAt(element, "Id", "IBAN") || textAt(element, "Id", "Othr", "Id"));
  open.currency = textAt(element, "Ccy");
}

function toNotice(open: Opened, faults: StatementFault[]): BankNotice {
  const { account, currency, lines, from } = open;
  if (account === "") faults.push({ line: from, what: "The account (Acct/Id) is missing" });
  return { account, currency, lines, from };
}

function toStatement(
  open: Opened,
  message: string,
  faults: StatementFault[],
): BankStatement | null {
  const fault = (what: string, line = open.from): null => {
    faults.push({ line, what });
    return null;
  };
  const number = open.legal || open.sequence || open.id;
  if (open.account === "") return fault(`Statement ${number}: the account (Acct/Id) is missing`);
  const find = (...codes: string[]) =>
    codes
      .flatMap((code) => open.balances.filter((b) => textAt(b, "Tp", "CdOrPrtry", "Cd") === code))
      .at(0);
  // A statement opens with what the one before closed with, where that is what the bank says.
  const [first, last] = [find("OPBD", "PRCD"), find("CLBD")];
  if (!first) return fault(`Statement ${number}: the opening balance (OPBD) is missing`);
  if (!last) return fault(`Statement ${number}: the closing balance (CLBD) is missing`);
  const currency = open.currency || (at(last, "Amt")?.attributes.Ccy ?? "");
  const balances = [first, last].map((b) => {
    const amount = signedAmount(b, currency, faults);
    const date = dayOf(b, "Dt");
    if (date === null) return fault("A balance without a day", b.from);
    return amount === null ? null : { amount, date };
  });
  const [opening, closing] = balances;
  if (!opening || !closing) return null;
  return {
    account: open.account,
    currency,
    number,
    message,
    opening,
    closing,
    lines: open.lines,
    from: open.from,
  };
}

/** What is booked counts; what is pending or for information does not (version 08 writes Cd). */
const stateOf = (entry: Element): string => textAt(entry, "Sts", "Cd") || textAt(entry, "Sts");

function readEntry(entry: Element, open: Opened, faults: StatementFault[]): StatementLine | null {
  const fault = (what: string): null => {
    faults.push({ line: entry.from, what });
    return null;
  };
  const state = stateOf(entry);
  if (state !== "" && state !== "BOOK") return null;
  const currency = open.currency || (at(entry, "Amt")?.attributes.Ccy ?? "");
  open.currency = currency;
  const amount = signedAmount(entry, currency, faults);
  if (amount === null) return null;
  const booked = dayOf(entry, "BookgDt");
  const valued = dayOf(entry, "ValDt") ?? booked;
  if (booked === null || valued === null) return fault("A line without its booking day (BookgDt)");
  const details = all(entry, "NtryDtls").flatMap((d) => all(d, "TxDtls"));
  const read = details.map((d) => readDetail(d, amount, currency));
  const only = read.length === 1 ? read[0]! : null;
  const info = textAt(entry, "AddtlNtryInf");
  const block = at(entry, "NtryDtls", "Btch");
  const batch = block !== undefined || read.length > 1;
  return {
    booked,
    valued,
    amount,
    takesBack: textAt(entry, "RvslInd") === "true",
    code: codeOf(entry) || (details[0] ? codeOf(details[0]) : ""),
    party: only?.party ?? NO_PARTY,
    keys: {
      ...(only?.keys ?? NO_KEYS),
      ...(block && read.length === 0 ? { endToEnd: given(textAt(block, "PmtInfId")) } : {}),
      bank: given(textAt(entry, "AcctSvcrRef")) || given(textAt(entry, "NtryRef")),
    },
    text: only?.text || info,
    returnReason: only?.returnReason ?? "",
    details: batch ? read : [],
    from: entry.from,
    to: entry.to,
  };
}

function codeOf(element: Element): string {
  const code = at(element, "BkTxCd");
  if (!code) return "";
  const domain = [
    textAt(code, "Domn", "Cd"),
    textAt(code, "Domn", "Fmly", "Cd"),
    textAt(code, "Domn", "Fmly", "SubFmlyCd"),
  ].filter(Boolean);
  const own = textAt(code, "Prtry", "Cd");
  return [domain.join("-"), own].filter(Boolean).join("/");
}

/** Against whom it is: who sent what came in, or who gets what went out. */
function partyOf(detail: Element, isIn: boolean): StatementParty {
  const parties = at(detail, "RltdPties");
  if (!parties) return NO_PARTY;
  const [who, account, agent] = isIn
    ? (["Dbtr", "DbtrAcct", "DbtrAgt"] as const)
    : (["Cdtr", "CdtrAcct", "CdtrAgt"] as const);
  const institution = at(detail, "RltdAgts", agent, "FinInstnId");
  return {
    // From version 08 on a party stands within Pty.
    name: textAt(parties, who, "Nm") || textAt(parties, who, "Pty", "Nm"),
    account: plainAccount(
      textAt(parties, account, "Id", "IBAN") || textAt(parties, account, "Id", "Othr", "Id"),
    ),
    bic: institution ? textAt(institution, "BICFI") || textAt(institution, "BIC") : "",
  };
}

function keysOf(detail: Element): StatementKeys {
  return {
    endToEnd: given(textAt(detail, "Refs", "EndToEndId")),
    creditorReference: given(textAt(detail, "RmtInf", "Strd", "CdtrRefInf", "Ref")),
    mandate: given(textAt(detail, "Refs", "MndtId")),
    cheque: given(textAt(detail, "Refs", "ChqNb")),
    bank: given(textAt(detail, "Refs", "AcctSvcrRef")),
  };
}

function readDetail(detail: Element, whole: Minor, currency: string): StatementDetail {
  const side = textAt(detail, "CdtDbtInd");
  const isIn = side === "" ? whole >= 0n : side === "CRDT";
  const own = at(detail, "Amt") ?? at(detail, "AmtDtls", "TxAmt", "Amt");
  const size = own && own.attributes.Ccy === currency ? exactUnits(own.text, currency) : null;
  const structured = all(detail, "RmtInf").flatMap((r) => all(r, "Strd"));
  return {
    amount: size === null ? null : isIn ? size : minor(-size),
    party: partyOf(detail, isIn),
    keys: keysOf(detail),
    text: [
      ...all(detail, "RmtInf").flatMap((r) => all(r, "Ustrd").map((u) => u.text.trim())),
      ...structured.flatMap((s) => all(s, "RfrdDocInf").map((d) => textAt(d, "Nb"))),
      textAt(detail, "AddtlTxInf"),
    ]
      .filter(Boolean)
      .join(" ")
      .slice(0, 2_000),
    returnReason: textAt(detail, "RtrInf", "Rsn", "Cd"),
  };
}

/** An amount with its sign, in the statement's currency; null, with what is wrong, where it is none. */
function signedAmount(element: Element, currency: string, faults: StatementFault[]): Minor | null {
  const amount = at(element, "Amt");
  const fault = (what: string): null => {
    faults.push({ line: (amount ?? element).from, what });
    return null;
  };
  if (!amount) return fault("An amount (Amt) is missing");
  const own = amount.attributes.Ccy ?? "";
  if (!isCurrency(own)) return fault(`Currency ${own || "(none)"} is not known`);
  if (own !== currency)
    return fault(`An amount in ${own} on a statement in ${currency || "no currency"}`);
  const size = exactUnits(amount.text.includes(",") ? "" : amount.text, currency);
  if (size === null) return fault(`“${amount.text.slice(0, 40)}” is no amount in ${currency}`);
  const side = textAt(element, "CdtDbtInd");
  if (side !== "CRDT" && side !== "DBIT")
    return fault(`“${side}” is neither CRDT nor DBIT (CdtDbtInd)`);
  return side === "CRDT" ? size : minor(-size);
}

/** A day, of a date or of a time. */
function dayOf(element: Element, name: string): string | null {
  const text = textAt(element, name, "Dt") || textAt(element, name, "DtTm").slice(0, 10);
  return isCalendarDate(text) ? text : null;
}
