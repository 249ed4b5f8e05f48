import { decimalText, type CalendarDate, type Minor } from "../shared";
import { isSepaTransfer, type BankAddress } from "./bankAddress";
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

/** One transfer of a file. Amount in minor units of its currency. */
export interface Transfer {
  /** The payment's number: it comes back on the statement. */
  endToEndId: string;
  amount: Minor;
  currency: string;
  creditor: MessageParty;
  /** Who is owed, where the account is held by somebody else, who then is the creditor. */
  owed?: string;
  to: BankAddress;
  /** ISO 20022 external purpose code of four letters. */
  purpose: string;
  /** What it pays, reference by reference. */
  references: readonly string[];
}

export interface TransferFile {
  messageId: string;
  /** Instant, UTC. */
  createdAt: string;
  date: CalendarDate;
  debtor: MessageParty;
  from: BankAddress;
  transfers: readonly Transfer[];
}

/**
 * A file of credit transfers for the bank, ISO 20022 pain.001.001.09: one block for each currency and
 * way. Euro between accounts of SEPA countries goes under the service level of SEPA (names of 70
 * characters), everything else by other ways.
 * A single reference that is a creditor reference (ISO 11649) goes as such, others as text.
 * Units: amounts in minor units, written with the decimals of their currency; the control sum adds
 * up amounts whatever their currency, as the standard says.
 */
export function creditTransferFile(file: TransferFile): string {
  const blocks = new Map<string, { currency: string; sepa: boolean; own: Transfer[] }>();
  for (const t of file.transfers) {
    const sepa = isSepaTransfer(t.currency, file.from, t.to);
    const key = `${t.currency}${t.currency === "EUR" && !sepa ? "-X" : ""}`;
    const block = blocks.get(key) ?? { currency: t.currency, sepa, own: [] };
    block.own.push(t);
    blocks.set(key, block);
  }
  const document = {
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09",
      CstmrCdtTrfInitn: {
        GrpHdr: {
          MsgId: bankText(file.messageId, 35),
          CreDtTm: file.createdAt.slice(0, 19),
          NbOfTxs: String(file.transfers.length),
          CtrlSum: controlSum(file.transfers),
          InitgPty: { Nm: nameOf(file.debtor.name, true) },
        },
        PmtInf: [...blocks].sort(byKey).map(([key, { sepa, own }]) => {
          return {
            PmtInfId: bankText(`${file.messageId}-${key}`, 35),
            PmtMtd: "TRF",
            BtchBookg: "true",
            NbOfTxs: String(own.length),
            CtrlSum: controlSum(own),
            ...(sepa ? { PmtTpInf: { SvcLvl: { Cd: "SEPA" } } } : {}),
            ReqdExctnDt: { Dt: file.date },
            Dbtr: party(file.debtor, sepa),
            DbtrAcct: account(file.from),
            DbtrAgt: agent(file.from),
            ChrgBr: sepa ? "SLEV" : "SHAR",
            CdtTrfTxInf: own.map((t) => ({
              PmtId: {
                InstrId: bankText(t.endToEndId, 35),
                EndToEndId: bankText(t.endToEndId, 35),
              },
              Amt: { InstdAmt: { "@Ccy": t.currency, "#text": decimalText(t.amount, t.currency) } },
              ...(t.to.bic || t.to.routing ? { CdtrAgt: agent(t.to) } : {}),
              Cdtr: party(t.creditor, sepa),
              CdtrAcct: account(t.to),
              ...(t.owed ? { UltmtCdtr: { Nm: nameOf(t.owed, sepa) } } : {}),
              ...(t.purpose ? { Purp: { Cd: t.purpose } } : {}),
              ...remittance(t.references),
            })),
          };
        }),
      },
    },
  };
  return writeMessage(document);
}

const byKey = ([a]: readonly [string, unknown], [b]: readonly [string, unknown]): number =>
  a < b ? -1 : 1;
