import { XMLBuilder } from "fast-xml-parser";
import { decimalText } from "../../shared";
import { readIban } from "../bankAddress";
import type { BankStatement, StatementDetail, StatementLine } from "./statement";

const size = (amount: bigint, currency: string) => ({
  "#text": decimalText((amount < 0n ? -amount : amount) as never, currency),
  "@Ccy": currency,
});
const side = (amount: bigint): string => (amount < 0n ? "DBIT" : "CRDT");

/**
 * Statements of one bank as ISO 20022 camt.053.001.08, as the simulated bank hands them out. What
 * `readCamt` reads of it is what was given, but for places in the file.
 */
export function writeCamt053(message: string, made: string, of: readonly BankStatement[]): string {
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: "@",
    format: true,
    suppressEmptyNode: true,
  });
  return builder.build({
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:camt.053.001.08",
      BkToCstmrStmt: { GrpHdr: { MsgId: message, CreDtTm: made }, Stmt: of.map(statement) },
    },
  }) as string;
}

const statement = (s: BankStatement) => ({
  Id: s.number,
  LglSeqNb: /^\d+$/.test(s.number) ? s.number : undefined,
  Acct: { Id: accountId(s.account), Ccy: s.currency },
  Bal: [balance("OPBD", s.opening, s.currency), balance("CLBD", s.closing, s.currency)],
  Ntry: s.lines.map((l) => entry(l, s.currency)),
});

const accountId = (account: string) =>
  readIban(account) ? { IBAN: account } : { Othr: { Id: account } };

const balance = (code: string, { amount, date }: BankStatement["opening"], currency: string) => ({
  Tp: { CdOrPrtry: { Cd: code } },
  Amt: size(amount, currency),
  CdtDbtInd: side(amount),
  Dt: { Dt: date },
});

const entry = (l: StatementLine, currency: string) => ({
  Amt: size(l.amount, currency),
  CdtDbtInd: side(l.amount),
  RvslInd: l.takesBack ? "true" : undefined,
  Sts: { Cd: "BOOK" },
  BookgDt: { Dt: l.booked },
  ValDt: { Dt: l.valued },
  AcctSvcrRef: l.keys.bank || undefined,
  BkTxCd: bankCode(l.code),
  NtryDtls: {
    Btch: l.details.length > 0 ? { NbOfTxs: String(l.details.length) } : undefined,
    TxDtls: (l.details.length > 0 ? l.details : [{ ...l, keys: { ...l.keys, bank: "" } }]).map(
      (d) => detail(d, l.amount, currency),
    ),
  },
  AddtlNtryInf: l.details.length > 0 && l.text ? l.text : undefined,
});

function bankCode(code: string) {
  const [domain = "", family, sub] = code.split("/")[0]!.split("-");
  const own = code.split("/")[1];
  if (!family) return { Prtry: { Cd: code } };
  return {
    Domn: { Cd: domain, Fmly: { Cd: family, SubFmlyCd: sub ?? "OTHR" } },
    Prtry: own ? { Cd: own } : undefined,
  };
}

function detail(d: StatementDetail, whole: bigint, currency: string) {
  const isIn = (d.amount ?? whole) >= 0n;
  const { name, account, bic } = d.party;
  const party = name ? { Pty: { Nm: name } } : undefined;
  const own = account ? { Id: accountId(account) } : undefined;
  const agent = bic ? { FinInstnId: { BICFI: bic } } : undefined;
  return {
    Refs: {
      AcctSvcrRef: d.keys.bank || undefined,
      EndToEndId: d.keys.endToEnd || "NOTPROVIDED",
      MndtId: d.keys.mandate || undefined,
      ChqNb: d.keys.cheque || undefined,
    },
    Amt: d.amount === null ? undefined : size(d.amount, currency),
    CdtDbtInd: d.amount === null ? undefined : side(d.amount),
    RltdPties:
      party || own
        ? isIn
          ? { Dbtr: party, DbtrAcct: own }
          : { Cdtr: party, CdtrAcct: own }
        : undefined,
    RltdAgts: agent ? (isIn ? { DbtrAgt: agent } : { CdtrAgt: agent }) : undefined,
    RmtInf:
      d.text || d.keys.creditorReference
        ? {
            Ustrd: d.text || undefined,
            Strd: d.keys.creditorReference
              ? { CdtrRefInf: { Ref: d.keys.creditorReference } }
              : undefined,
          }
        : undefined,
    RtrInf: d.returnReason ? { Rsn: { Cd: d.returnReason } } : undefined,
  };
}
