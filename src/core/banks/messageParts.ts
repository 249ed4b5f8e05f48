import { XMLBuilder } from "fast-xml-parser";
import { decimalText, type Minor } from "../shared";
import type { BankAddress } from "./bankAddress";
import { bankText, isCreditorReference, remittanceText } from "./bankText";
import { routingOf } from "./routing";

// What all files for banks have in common (ISO 20022 payments initiation). Not through the door of
// the area: screens shall not carry an XML writer.

/** Whoever pays or is paid. */
export interface MessageParty {
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
  /** Legal entity identifier (ISO 17442), or nothing. */
  lei?: string;
}

/** What is empty once it is written in the letters of banks is left out with its element. */
const element = (name: string, text: string, length: number): Record<string, string> => {
  const written = bankText(text, length);
  return written === "" ? {} : { [name]: written };
};

/** A name as messages take it: 70 characters under the rules of SEPA, else 140. */
export const nameOf = (name: string, sepa: boolean): string =>
  bankText(name, sepa ? 70 : 140) || "NOTPROVIDED";

export function party(p: MessageParty, sepa: boolean) {
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
}

/** A single creditor reference (ISO 11649) goes as such, other references as text. */
export function remittance(references: readonly string[]) {
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
}

export const account = (a: BankAddress) => ({
  Id: a.iban ? { IBAN: a.iban } : { Othr: { Id: a.number } },
});

/** Banks that are reached by a routing code alone are told apart by their country as well. */
export function agent(a: BankAddress) {
  const system = a.routing ? routingOf(a.country)?.system : undefined;
  if (!a.bic && !system) return { FinInstnId: { Othr: { Id: "NOTPROVIDED" } } };
  return {
    FinInstnId: {
      ...(a.bic ? { BICFI: a.bic } : {}),
      ...(system ? { ClrSysMmbId: { ClrSysId: { Cd: system }, MmbId: a.routing } } : {}),
      ...(a.bic ? {} : { PstlAdr: { Ctry: a.country } }),
    },
  };
}

/** The sum of amounts of any currencies as a decimal with as many places as the finest of them. */
export function controlSum(of: readonly { amount: Minor; currency: string }[]): string {
  const texts = of.map((t) => decimalText(t.amount, t.currency));
  const places = Math.max(0, ...texts.map((t) => (t.split(".")[1] ?? "").length));
  const total = texts.reduce(
    (s, t) => s + BigInt(t.replace(".", "") + "0".repeat(places - (t.split(".")[1] ?? "").length)),
    0n,
  );
  const digits = String(total).padStart(places + 1, "0");
  return places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`;
}

/** A message as XML; keys with an @ are attributes. */
export const writeMessage = (document: object): string =>
  new XMLBuilder({
    attributeNamePrefix: "@",
    ignoreAttributes: false,
    format: true,
    suppressEmptyNode: false,
    processEntities: true,
  }).build(document) as string;
