import { decimalText, type CalendarDate, type Minor } from "../shared";
import type { BankAddress } from "./bankAddress";
import { bankText } from "./bankText";
import {
  account,
  agent,
  controlSum,
  nameOf,
  party,
  remittance,
  writeMessage,
  type MessageParty,
} from "./messageParts";

// Imported by its own path, not through the door of the area: screens shall not carry an XML
// writer.

/** One direct debit of a file. Amount in cents. */
export interface DirectDebit {
  /** Our number of it, which comes back on the statement. */
  endToEndId: string;
  amount: Minor;
  scheme: "core" | "b2b";
  sequence: "FRST" | "RCUR" | "OOFF";
  mandate: { reference: string; signed: CalendarDate };
  debtor: MessageParty;
  from: BankAddress;
  /** What it is for, reference by reference. */
  references: readonly string[];
}

export interface DirectDebitFile {
  messageId: string;
  /** Instant, UTC. */
  createdAt: string;
  /** The day on which debtors are debited. */
  date: CalendarDate;
  creditor: MessageParty;
  /** The creditor identifier. */
  creditorId: string;
  to: BankAddress;
  debits: readonly DirectDebit[];
}

/**
 * A file of direct debits in euro for the bank, ISO 20022 pain.008.001.08 as SEPA uses it (EPC
 * 130-08, EPC 131-08): one block for each scheme and place in the sequence, booked as one.
 * Units: cents, written as decimals of euro.
 */
export function directDebitFile(file: DirectDebitFile): string {
  const blocks = new Map<string, DirectDebit[]>();
  for (const d of file.debits) {
    const key = `${d.scheme.toUpperCase()}-${d.sequence}`;
    const own = blocks.get(key);
    if (own) own.push(d);
    else blocks.set(key, [d]);
  }
  const sum = (of: readonly DirectDebit[]) =>
    controlSum(of.map(({ amount }) => ({ amount, currency: "EUR" })));
  return writeMessage({
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:pain.008.001.08",
      CstmrDrctDbtInitn: {
        GrpHdr: {
          MsgId: bankText(file.messageId, 35),
          CreDtTm: file.createdAt.slice(0, 19),
          NbOfTxs: String(file.debits.length),
          CtrlSum: sum(file.debits),
          InitgPty: { Nm: nameOf(file.creditor.name, true) },
        },
        PmtInf: [...blocks]
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([key, own]) => ({
            PmtInfId: bankText(`${file.messageId}-${key}`, 35),
            PmtMtd: "DD",
            BtchBookg: "true",
            NbOfTxs: String(own.length),
            CtrlSum: sum(own),
            PmtTpInf: {
              SvcLvl: { Cd: "SEPA" },
              LclInstrm: { Cd: own[0]!.scheme.toUpperCase() },
              SeqTp: own[0]!.sequence,
            },
            ReqdColltnDt: file.date,
            Cdtr: party(file.creditor, true),
            CdtrAcct: account(file.to),
            CdtrAgt: agent(file.to),
            ChrgBr: "SLEV",
            CdtrSchmeId: {
              Id: { PrvtId: { Othr: { Id: file.creditorId, SchmeNm: { Prtry: "SEPA" } } } },
            },
            DrctDbtTxInf: own.map((d) => ({
              PmtId: {
                InstrId: bankText(d.endToEndId, 35),
                EndToEndId: bankText(d.endToEndId, 35),
              },
              InstdAmt: { "@Ccy": "EUR", "#text": decimalText(d.amount, "EUR") },
              DrctDbtTx: {
                MndtRltdInf: { MndtId: d.mandate.reference, DtOfSgntr: d.mandate.signed },
              },
              DbtrAgt: agent(d.from),
              Dbtr: party(d.debtor, true),
              DbtrAcct: account(d.from),
              ...remittance(d.references),
            })),
          })),
      },
    },
  });
}
