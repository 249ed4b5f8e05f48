import { XMLBuilder } from "fast-xml-parser";
import { decimalText, type CalendarDate, type Minor } from "../shared";

// Imported by its own path, not through the door of the area: screens shall not carry an XML
// writer.

export interface TransferParty {
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
}

/** One transfer of a file. Amount in minor units of its currency. */
export interface Transfer {
  /** The payment's number: it comes back on the statement. */
  endToEndId: string;
  amount: Minor;
  currency: string;
  creditor: TransferParty;
  iban: string;
  bic: string;
  /** ISO 20022 external purpose code of four letters. */
  purpose: string;
  remittance: string;
}

export interface TransferFile {
  messageId: string;
  /** Instant, UTC. */
  createdAt: string;
  date: CalendarDate;
  debtor: TransferParty;
  iban: string;
  bic: string;
  transfers: readonly Transfer[];
}

const ACCENTS: Readonly<Record<string, string>> = {
  ß: "ss",
  Æ: "AE",
  æ: "ae",
  Ø: "O",
  ø: "o",
  Å: "A",
  å: "a",
  Ð: "D",
  ð: "d",
  Þ: "Th",
  þ: "th",
  Ł: "L",
  ł: "l",
  "&": "+",
  "–": "-",
  "—": "-",
  "’": "'",
  "‘": "'",
  "“": "'",
  "”": "'",
};

/**
 * Text in the letters that every bank takes (EPC 217-08: basic Latin, figures and / - ? : ( ) . , '
 * +), cut to a length. What has no likeness becomes a full stop.
 */
export function bankText(text: string, length: number): string {
  const plain = [...text]
    .map((c) => ACCENTS[c] ?? c)
    .join("")
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .replace(/\s+/g, " ");
  // A slash at an end, or two of them, means something to banks.
  return plain
    .replace(/[^A-Za-z0-9/\-?:().,'+ ]/g, ".")
    .replace(/\/{2,}/g, "/")
    .replace(/^[/ ]+/, "")
    .slice(0, length)
    .replace(/[/ ]+$/, "");
}

/**
 * A file of credit transfers for the bank, ISO 20022 pain.001.001.09: one block for each currency,
 * transfers in euro under the service level of SEPA.
 * Units: amounts in minor units, written with the decimals of their currency; the control sum adds
 * up amounts whatever their currency, as the standard says.
 */
export function creditTransferFile(file: TransferFile): string {
  const currencies = [...new Set(file.transfers.map((t) => t.currency))].sort();
  const sum = (of: readonly Transfer[]): string => sumText(of);
  const party = (p: TransferParty) => ({
    Nm: bankText(p.name, 140),
    PstlAdr: {
      ...(p.street ? { StrtNm: bankText(p.street, 70) } : {}),
      ...(p.postcode ? { PstCd: bankText(p.postcode, 16) } : {}),
      ...(p.city ? { TwnNm: bankText(p.city, 35) } : {}),
      Ctry: p.country,
    },
  });
  const agent = (bic: string) => ({
    FinInstnId: bic ? { BICFI: bic } : { Othr: { Id: "NOTPROVIDED" } },
  });
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
          InitgPty: { Nm: bankText(file.debtor.name, 140) },
        },
        PmtInf: currencies.map((currency) => {
          const own = file.transfers.filter((t) => t.currency === currency);
          const sepa = currency === "EUR";
          return {
            PmtInfId: bankText(`${file.messageId}-${currency}`, 35),
            PmtMtd: "TRF",
            BtchBookg: "true",
            NbOfTxs: String(own.length),
            CtrlSum: sum(own),
            ...(sepa ? { PmtTpInf: { SvcLvl: { Cd: "SEPA" } } } : {}),
            ReqdExctnDt: { Dt: file.date },
            Dbtr: party(file.debtor),
            DbtrAcct: { Id: { IBAN: file.iban } },
            DbtrAgt: agent(file.bic),
            ChrgBr: sepa ? "SLEV" : "SHAR",
            CdtTrfTxInf: own.map((t) => ({
              PmtId: {
                InstrId: bankText(t.endToEndId, 35),
                EndToEndId: bankText(t.endToEndId, 35),
              },
              Amt: { InstdAmt: { "@Ccy": t.currency, "#text": decimalText(t.amount, t.currency) } },
              ...(t.bic ? { CdtrAgt: agent(t.bic) } : {}),
              Cdtr: party(t.creditor),
              CdtrAcct: { Id: { IBAN: t.iban } },
              ...(t.purpose ? { Purp: { Cd: t.purpose } } : {}),
              ...(t.remittance ? { RmtInf: { Ustrd: bankText(t.remittance, 140) } } : {}),
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
