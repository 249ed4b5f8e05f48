import { XMLBuilder } from "fast-xml-parser";
import { isSepaTransfer, type BankAddress } from "./bankAddress";
import { decimalText, type CalendarDate, type Minor } from "../shared";
import { routingOf } from "./routing";
import { bankText, isCreditorReference, remittanceText } from "./bankText";

// Imported by its own path, not through the door of the area: screens shall not carry an XML
// writer.

export interface TransferParty {
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
  /** Legal entity identifier (ISO 17442), or nothing. */
  lei?: string;
}

/** One transfer of a file. Amount in minor units of its currency. */
export interface Transfer {
  /** The payment's number: it comes back on the statement. */
  endToEndId: string;
  amount: Minor;
  currency: string;
  creditor: TransferParty;
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
  debtor: TransferParty;
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
  const sum = (of: readonly Transfer[]): string => sumText(of);
  // What is empty once it is written in the letters of banks is left out with its element.
  const element = (name: string, text: string, length: number): Record<string, string> => {
    const written = bankText(text, length);
    return written === "" ? {} : { [name]: written };
  };
  const nameOf = (name: string, sepa: boolean): string =>
    bankText(name, sepa ? 70 : 140) || "NOTPROVIDED";
  const party = (p: TransferParty, sepa: boolean) => {
    const address = {
      ...element("StrtNm", p.street, 70),
      ...element("PstCd", p.postcode, 16),
      ...element("TwnNm", p.city, 35),
      ...(/^[A-Z]{2}$/.test(p.country) ? { Ctry: p.country } : {}),
    };
    return {
      Nm: nameOf(p.name, sepa),
      ...(Object.keys(address).length > 0 ? { PstlAdr: address } : {}),
      ...(p.lei ? { Id: { OrgId: { LEI: p.lei } } } : {}),
    };
  };
  const remittance = (references: readonly string[]) => {
    const [only] = references;
    if (references.length === 1 && isCreditorReference(only!))
      return {
        RmtInf: {
          Strd: {
            CdtrRefInf: {
              Tp: { CdOrPrtry: { Cd: "SCOR" } },
              Ref: only!.replace(/\s/g, "").toUpperCase(),
            },
          },
        },
      };
    const text = remittanceText(references);
    return text === "" ? {} : { RmtInf: { Ustrd: text } };
  };
  const account = (a: BankAddress) => ({
    Id: a.iban ? { IBAN: a.iban } : { Othr: { Id: a.number } },
  });
  // Banks that are reached by a routing code alone are told apart by their country as well.
  const agent = (a: BankAddress) => {
    const system = a.routing ? routingOf(a.country)?.system : undefined;
    if (!a.bic && !system) return { FinInstnId: { Othr: { Id: "NOTPROVIDED" } } };
    return {
      FinInstnId: {
        ...(a.bic ? { BICFI: a.bic } : {}),
        ...(system ? { ClrSysMmbId: { ClrSysId: { Cd: system }, MmbId: a.routing } } : {}),
        ...(a.bic ? {} : { PstlAdr: { Ctry: a.country } }),
      },
    };
  };
  const document = {
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09",
      CstmrCdtTrfInitn: {
        GrpHdr: {
          MsgId: bankText(file.messageId, 35),
          CreDtTm: file.createdAt.slice(0, 19),
          NbOfTxs: String(file.transfers.length),
          CtrlSum: sum(file.transfers),
          InitgPty: { Nm: nameOf(file.debtor.name, true) },
        },
        PmtInf: [...blocks].sort(byKey).map(([key, { sepa, own }]) => {
          return {
            PmtInfId: bankText(`${file.messageId}-${key}`, 35),
            PmtMtd: "TRF",
            BtchBookg: "true",
            NbOfTxs: String(own.length),
            CtrlSum: sum(own),
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
  return new XMLBuilder({
    attributeNamePrefix: "@",
    ignoreAttributes: false,
    format: true,
    suppressEmptyNode: false,
    processEntities: true,
  }).build(document) as string;
}

const byKey = ([a]: readonly [string, unknown], [b]: readonly [string, unknown]): number =>
  a < b ? -1 : 1;

/** The sum of amounts of any currencies as a decimal with as many places as the finest of them. */
function sumText(of: readonly Transfer[]): string {
  const texts = of.map((t) => decimalText(t.amount, t.currency));
  const places = Math.max(0, ...texts.map((t) => (t.split(".")[1] ?? "").length));
  const total = texts.reduce(
    (s, t) => s + BigInt(t.replace(".", "") + "0".repeat(places - (t.split(".")[1] ?? "").length)),
    0n,
  );
  const digits = String(total).padStart(places + 1, "0");
  return places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`;
}
