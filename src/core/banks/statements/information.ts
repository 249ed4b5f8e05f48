import { isCreditorReference } from "../bankText";
import { given, plainAccount } from "./plainAccount";
import type { StatementLine } from "./statement";

type Said = Pick<StatementLine, "code" | "party" | "keys" | "text" | "returnReason">;

/**
 * What field 86 of a customer statement says, in the three ways in which banks write it: with
 * subfields behind a mark (166?00…?20…?32…), with words between slashes (/EREF/…/REMI/…), or plain.
 * What it does not say stays as the line had it.
 */
export function readInformation(text: string, line: Said): Said {
  const structured = /^(\d{3})([^\w\s])(\d{2})/.exec(text);
  if (structured) return ofSubfields(text.replace(/\n/g, ""), structured[2]!, line);
  if (/(^|\n)\/[A-Z0-9]{2,8}\//.test(text)) return ofWords(text, line);
  return { ...line, text: joined([line.text, text.replace(/\n/g, " ")]) };
}

const joined = (parts: readonly string[]): string =>
  parts
    .map((p) => p.trim())
    .filter(Boolean)
    .join(" ")
    .replace(/\s+/g, " ");

/** Words that begin a part of the purpose, in the subfields from 20 on. */
const MARKS = /(EREF|KREF|MREF|CRED|DEBT|COAM|OAMT|SVWZ|ABWA|ABWE|IBAN|BIC|RREF)\+/;

function ofSubfields(text: string, mark: string, line: Said): Said {
  const fields = new Map<string, string>();
  for (const part of text.slice(3).split(mark)) {
    const key = part.slice(0, 2);
    if (/^\d\d$/.test(key)) fields.set(key, (fields.get(key) ?? "") + part.slice(2));
  }
  const take = (keys: readonly number[]) => keys.map((k) => fields.get(String(k)) ?? "");
  const range = (a: number, b: number) => Array.from({ length: b - a + 1 }, (_, i) => a + i);
  // A purpose is cut into pieces of 27 wherever it happens to be: they are put together bare.
  const purpose = take([...range(20, 29), ...range(60, 63)]).join("");
  const pieces = purpose.split(MARKS);
  const said = new Map<string, string>();
  for (let i = 1; i < pieces.length; i += 2)
    if (!said.has(pieces[i]!)) said.set(pieces[i]!, pieces[i + 1]!.trim());
  const returned = /\b(?:RETURN|RUECKGABE|ÜCKGABE)\S*.{0,40}?\b([A-Z]{2}\d{2})\b/i.exec(purpose);
  return {
    code: `${line.code}/${text.slice(0, 3)}`,
    party: {
      name: take([32, 33]).join("").trim(),
      account: plainAccount(fields.get("31") ?? said.get("IBAN") ?? ""),
      bic: (fields.get("30") ?? said.get("BIC") ?? "").trim(),
    },
    keys: {
      ...line.keys,
      endToEnd: given(said.get("EREF")) || line.keys.endToEnd,
      creditorReference: creditorReference(said.get("SVWZ") ?? purpose),
      mandate: given(said.get("MREF")),
    },
    text: joined([
      fields.get("00") ?? "",
      pieces.length > 1 ? joined([pieces[0]!, said.get("SVWZ") ?? ""]) : purpose,
    ]),
    returnReason: returned?.[1]?.toUpperCase() ?? reasonOfKey(fields.get("34")),
  };
}

/** A text key extension of a return (901 and more) is the place in the list of reasons. */
const RETURNS: Readonly<Record<string, string>> = {
  "901": "AC01",
  "902": "AC04",
  "903": "AC06",
  "904": "AG01",
  "906": "AM04",
  "909": "MD06",
  "914": "MS03",
};
const reasonOfKey = (key: string | undefined): string => RETURNS[(key ?? "").trim()] ?? "";

function ofWords(text: string, line: Said): Said {
  const flat = text.replace(/\n/g, "");
  const said = new Map<string, string>();
  const pieces = flat.split(
    /\/(EREF|REMI|BENM|ORDP|NAME|IBAN|BIC|ACCT|MARF|CSID|RTRN|TRTP|ISDT|PREF|CNTP|ID|USTD|STRD|CDTRREF|RREF)\//,
  );
  for (let i = 1; i < pieces.length; i += 2) {
    const word = pieces[i]!;
    const value = pieces[i + 1]!.replace(/^\/+|\/+$/g, "").trim();
    if (value && !said.has(word)) said.set(word, value);
  }
  // A counterparty in one piece: account, BIC, name, town.
  const [account = "", bic = "", name = ""] = (said.get("CNTP") ?? "").split("/");
  const remittance = said.get("REMI") ?? "";
  return {
    code: line.code,
    party: {
      name: said.get("NAME") ?? name,
      account: plainAccount(said.get("IBAN") ?? said.get("ACCT") ?? account),
      bic: said.get("BIC") ?? bic,
    },
    keys: {
      ...line.keys,
      endToEnd: given(said.get("EREF")) || line.keys.endToEnd,
      creditorReference: creditorReference(said.get("CDTRREF") ?? remittance),
      mandate: given(said.get("MARF")),
    },
    text: joined([
      pieces[0]!.replace(/^\/+/, ""),
      said.get("TRTP") ?? "",
      said.get("USTD") ?? remittance.replace(/^(USTD|STRD)\/+/, ""),
    ]),
    returnReason: /^[A-Z]{2}\d{2}/.exec(said.get("RTRN") ?? "")?.[0] ?? "",
  };
}

/** The first creditor reference in a text: what only looks like one has other check digits. */
const creditorReference = (text: string): string =>
  (text.toUpperCase().match(/\bRF\d{2}[A-Z0-9]{1,21}\b/g) ?? []).find(isCreditorReference) ?? "";
